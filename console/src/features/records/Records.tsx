import { useQuery } from '@tanstack/react-query'
import { recordsQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { date } from '../../components/words'

/** The finished accounts. */
export function Records() {
  const { data: records, error } = useQuery(recordsQuery)
  return (
    <Page
      question="What was done, and what is the proof?"
      lede="One record a run, made when it is finished and never changed: before, after, every step, every backup, all that was said."
    >
      <Trouble error={error} />
      {records?.length === 0 && <p>No run is finished yet; its record is made when it is.</p>}
      {records && records.length > 0 && (
        <table className="plain">
          <thead>
            <tr>
              <th>run</th>
              <th>settled</th>
              <th>made</th>
              <th>as</th>
              <th>SHA-256</th>
            </tr>
          </thead>
          <tbody>
            {records.map((r) => (
              <tr key={r.run}>
                <td>{r.run}</td>
                <td>
                  <span className={r.settled === r.units ? 'settled' : 'caution'}>
                    {r.settled === r.units ? '●' : '▲'} {r.settled} of {r.units}
                  </span>
                </td>
                <td>{date(r.madeAt)}</td>
                <td>
                  <a href={`/api/records/${r.run}/page`}>page</a> ·{' '}
                  <a href={`/api/records/${r.run}/pdf`}>PDF</a> ·{' '}
                  <a href={`/api/records/${r.run}/units`}>CSV</a> ·{' '}
                  <a href={`/api/records/${r.run}`}>JSON</a> ·{' '}
                  <a href={`/api/records/${r.run}/evidence`}>archive</a>
                </td>
                <td className="mono">{r.sha256.slice(0, 24)}…</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Page>
  )
}
