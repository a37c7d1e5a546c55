import { useQuery } from '@tanstack/react-query'
import type { Run } from '../../api/client'
import { stagingQuery } from '../../api/queries'
import { Trouble } from '../../components/Page'
import { State } from '../../components/State'
import { megabytes } from '../../components/words'
import { Copying } from './StepTable'

/** How far the images are on their way, device by device: asked for again while some are not there. */
export function Images({ run }: { run: Run }) {
  const { data: hops, error } = useQuery(stagingQuery(run.name, run.finishedAt == null))
  const proven = hops?.filter((hop) => hop.state === 'proven').length
  return (
    <details>
      <summary>
        Images: {hops ? `${proven} of ${hops.length} proven on their devices` : 'looking …'}
      </summary>
      <Trouble error={error} />
      {hops && hops.length > 0 && (
        <table className="plain">
          <thead>
            <tr>
              <th>device</th>
              <th>hop</th>
              <th>image</th>
              <th>size</th>
              <th>state</th>
              <th>seen</th>
            </tr>
          </thead>
          <tbody>
            {hops.map((hop) => (
              <tr key={`${hop.device} ${hop.hop}`}>
                <td className="mono nowrap">{hop.device}</td>
                <td>{hop.hop}</td>
                <td className="mono">
                  {hop.files.join(', ')}
                  {hop.from && <div className="quiet">by way of {hop.from}</div>}
                </td>
                <td className="nowrap">{megabytes(hop.sizeBytes)}</td>
                <td className="nowrap">
                  <State of={hop.state} />
                </td>
                <td>{hop.copy ? <Copying copy={hop.copy} /> : hop.words}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </details>
  )
}
