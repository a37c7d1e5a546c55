import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import type { Release } from '../../api/client'
import { releasesQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { megabytes } from '../../components/words'

/** What the makers published, and whether it is on the shelf. */
export function Releases() {
  const { data: releases, error } = useQuery(releasesQuery)
  const families = [...new Set(releases?.map((r) => r.title))]
  return (
    <Page
      question="What is there to move to, and by which rules?"
      lede={
        <>
          Newest first. An image can be staged only when it is on the shelf, proven against the
          catalogue. <Link to="/releases-sources">What did the makers publish lately?</Link>
        </>
      }
    >
      <Trouble error={error} />
      {releases?.length === 0 && (
        <p>
          No catalogue is here yet. Import one:{' '}
          <span className="mono">calmstep releases import FILE</span>
        </p>
      )}
      {families.map((family) => (
        <section key={family}>
          <h2>{family}</h2>
          <ReleaseTable releases={releases?.filter((r) => r.title === family) ?? []} />
        </section>
      ))}
    </Page>
  )
}

function ReleaseTable({ releases }: { releases: Release[] }) {
  return (
    <table className="plain">
      <thead>
        <tr>
          <th>release</th>
          <th>channel</th>
          <th>date</th>
          <th>rules and notes</th>
          <th>images</th>
        </tr>
      </thead>
      <tbody>
        {releases.map((r) => (
          <tr key={r.component + r.version}>
            <td className="nowrap">
              <Version of={r} />
              {r.component !== 'system' && <div className="quiet">{r.component}</div>}
              {r.line && <div className="quiet">line {r.line}</div>}
            </td>
            <td className="nowrap">
              {r.channel === 'withdrawn' ? <span className="stop">■ withdrawn</span> : r.channel}
              {r.recommended && <span className="settled"> ● recommended</span>}
              {!r.mayRest && <div className="quiet">no rest here</div>}
            </td>
            <td className="nowrap">{r.date}</td>
            <td>
              {r.rules.map((rule) => (
                <div key={rule}>{rule}</div>
              ))}
              {[...r.notes, ...r.caveats].map((note) => (
                <div key={note} className="quiet">
                  {note}
                </div>
              ))}
            </td>
            <td>
              {r.images.map((image) => (
                <OneImage key={image.fileName} image={image} />
              ))}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** Its version; of a system it leads to the paths. */
function Version({ of: r }: { of: Release }) {
  if (r.component !== 'system') return <span className="mono strong">{r.version}</span>
  return (
    <Link
      to={`/paths?family=${r.family}&to=${encodeURIComponent(r.version)}`}
      className="mono"
      style={{ fontWeight: 600 }}
      title="How does a device get here?"
    >
      {r.version}
    </Link>
  )
}

function OneImage({ image }: { image: Release['images'][number] }) {
  return (
    <div className="nowrap">
      <span className="mono">{image.fileName}</span> {megabytes(image.sizeBytes)}{' '}
      {image.purpose !== 'upgrade' && <span className="caution">▲ {image.purpose} </span>}
      {image.deltaFrom && <span className="quiet">delta from {image.deltaFrom} </span>}
      {image.onShelf ? (
        <span className="settled">● on the shelf</span>
      ) : (
        <span className="quiet">○ not here</span>
      )}
    </div>
  )
}
