import type { Unit } from '../../api/client'
import { State } from '../../components/State'
import { clock } from '../../components/words'

/** Every step of a unit: look, act, prove. */
export function StepTable({ unit }: { unit: Unit }) {
  return (
    <table className="plain" style={{ fontSize: '0.92rem' }}>
      <thead>
        <tr>
          <th>hop</th>
          <th>step</th>
          <th>state</th>
          <th>expected, and seen</th>
          <th>ended</th>
        </tr>
      </thead>
      <tbody>
        {unit.steps.map((step) => (
          <tr key={step.ordinal}>
            <td>{step.hop}</td>
            <td style={{ whiteSpace: 'nowrap' }}>{step.name}</td>
            <td style={{ whiteSpace: 'nowrap' }}>
              <State of={step.state} />
            </td>
            <td>
              {step.waiting || step.seen}
              {step.expected && !step.waiting && <div className="quiet">{step.expected}</div>}
            </td>
            <td className="mono" style={{ whiteSpace: 'nowrap' }}>
              {clock(step.finishedAt, unit.zone)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
