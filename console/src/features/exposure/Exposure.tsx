import { TextInput } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { useQuery } from '@tanstack/react-query'
import { Link, useSearchParams } from 'react-router'
import type { Advisory } from '../../api/client'
import { advisoriesQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { count, minutes } from '../../components/words'

/** Who has which published fault, and the smallest move out of it. */
export function Exposure() {
  const [asked, ask] = useSearchParams()
  const where = asked.get('where') ?? ''
  const [settled] = useDebouncedValue(where, 250)
  const { data: advisories, error } = useQuery(advisoriesQuery(settled))
  const exposed = new Set(advisories?.flatMap((a) => a.devices.map((d) => d.device)))
  return (
    <Page
      question="Who is exposed, and what is the smallest way out?"
      lede={
        advisories &&
        `${count(exposed.size, 'device has', 'devices have')} a fault that was published. The way out is the one with the fewest restarts, not the newest release.`
      }
    >
      <Trouble error={error} />
      <TextInput
        aria-label="Select devices"
        placeholder="family:osmer-r6 site:dunmere runs:<2.8 not tag:spare"
        value={where}
        onChange={(e) => ask(e.currentTarget.value ? { where: e.currentTarget.value } : {})}
        maw={560}
        mb={14}
        styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)' } }}
      />
      {advisories?.length === 0 && (
        <p>No catalogue of {settled ? 'these devices' : 'this fleet'} has an advisory.</p>
      )}
      {advisories?.map((advisory) => (
        <OneAdvisory key={advisory.id} advisory={advisory} />
      ))}
    </Page>
  )
}

function OneAdvisory({ advisory }: { advisory: Advisory }) {
  const tone = advisory.severity === 'critical' || advisory.severity === 'high' ? 'stop' : 'caution'
  return (
    <section style={{ marginBottom: 26 }}>
      <h2 style={{ marginBottom: 2 }}>
        <span className="mono">{advisory.id}</span> {advisory.name}
      </h2>
      <p className="quiet lead">
        <span className={tone}>
          {tone === 'stop' ? '■' : '▲'} {advisory.severity}
        </span>
        , {advisory.title}, {advisory.published}. {advisory.sentence}.
      </p>
      {advisory.devices.length === 0 ? (
        <p className="settled">● Nobody has it any more.</p>
      ) : (
        <table className="plain">
          <thead>
            <tr>
              <th>device</th>
              <th>site</th>
              <th>runs</th>
              <th>smallest way out</th>
              <th>costs</th>
            </tr>
          </thead>
          <tbody>
            {advisory.devices.map((d) => (
              <tr key={d.device}>
                <td className="mono nowrap">
                  <Link
                    to={`/paths?device=${d.device}&to=${encodeURIComponent(`clears:${advisory.id}`)}`}
                  >
                    {d.device}
                  </Link>
                </td>
                <td>{d.siteTitle}</td>
                <td className="mono nowrap">{d.runs}</td>
                <td>
                  {d.cure ? (
                    <span className="mono">{d.way.join(' → ')}</span>
                  ) : (
                    <span className="caution">▲ none: {d.obstacles.join('; ')}</span>
                  )}
                </td>
                <td className="nowrap">
                  {d.cure &&
                    `${count(d.restarts, 'restart', 'restarts')}, ${minutes(d.darkSeconds)}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
