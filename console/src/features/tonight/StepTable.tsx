import type { Unit } from '../../api/client'
import { State } from '../../components/State'
import { clock, megabytes, minutes, rate } from '../../components/words'

/** A copy on its way, with what is left of it on the device's clock. */
export function Copying({ copy }: { copy: NonNullable<Unit['copy']> }) {
  const share = Math.floor((100 * copy.sentBytes) / Math.max(1, copy.sizeBytes))
  return (
    <>
      {copy.fileName}: {share} % of {megabytes(copy.sizeBytes)} over {copy.over},{' '}
      {rate(copy.bytesPerSecond)}
      {copy.secondsLeft != null && `, ${minutes(copy.secondsLeft)} left`}
    </>
  )
}

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
            <td className="nowrap">{step.name}</td>
            <td className="nowrap">
              <State of={step.state} />
            </td>
            <td>
              {unit.copy && step.name === 'stage' && step.state === 'acting' ? (
                <Copying copy={unit.copy} />
              ) : (
                step.waiting || step.seen
              )}
              {step.expected && !step.waiting && <div className="quiet">{step.expected}</div>}
            </td>
            <td className="mono nowrap">{clock(step.finishedAt, unit.zone)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
