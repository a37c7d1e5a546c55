import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { historyQuery } from '../../api/queries'
import { Trouble } from '../../components/Page'
import { date, minutes } from '../../components/words'

/** What was done to a device, over all its runs. */
export function History({ device }: { device: string }) {
  const { data: entries, error } = useQuery(historyQuery(device))
  if (entries?.length === 0) return null
  return (
    <>
      <h2>What was done to it</h2>
      <Trouble error={error} />
      <table className="plain">
        <thead>
          <tr>
            <th>when</th>
            <th>run</th>
            <th>what</th>
            <th>took</th>
            <th>seen, or said</th>
          </tr>
        </thead>
        <tbody>
          {entries?.map((entry) => (
            <tr key={`${entry.at} ${entry.what}`}>
              <td className="nowrap">{date(entry.at)}</td>
              <td>
                <Link to={`/tonight/${entry.run}`}>{entry.run}</Link>
              </td>
              <td className="nowrap">{entry.what}</td>
              <td className="nowrap">{entry.seconds == null ? '' : minutes(entry.seconds)}</td>
              <td>
                {entry.words}
                {entry.who && <span className="quiet"> ({entry.who})</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}
