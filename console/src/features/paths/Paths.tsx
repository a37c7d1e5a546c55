import { Autocomplete, NativeSelect, TextInput } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { useQuery } from '@tanstack/react-query'
import { Link, useSearchParams } from 'react-router'
import type { Device, PathAnswer, Release } from '../../api/client'
import { devicesQuery, pathQuery, releasesQuery, type Whose } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { ago, count, minutes } from '../../components/words'
import { preferences } from './preferences'
import { Stair } from './Stair'
import { inWords } from './stair'
import { Refused, ToKnow } from './ToKnow'

const policies = ['recommended', 'newest-general', 'one-behind', 'aged-90']

/** How one device gets to a release, step by step, with the reason for each. */
const question = (answer: PathAnswer | undefined) =>
  answer
    ? `How does ${answer.device} get to ${answer.wanted}?`
    : 'How does a device get to a release?'

export function Paths() {
  const [asked, ask] = useSearchParams()
  const device = asked.get('device') ?? ''
  const to = asked.get('to') ?? 'recommended'
  const prefer = asked.get('prefer') ?? 'fewest-restarts'
  const imagined = asked.get('family') ?? ''
  const [settledDevice] = useDebouncedValue(device, 300)
  const [settledTo] = useDebouncedValue(to, 300)
  const { data: devices } = useQuery(devicesQuery())
  const { data: releases } = useQuery(releasesQuery)
  const known = devices?.some((d) => d.name === settledDevice)
  const [hardware] = useDebouncedValue(asked.toString(), 300)
  const whose: Whose = imagined
    ? imaginedIn(new URLSearchParams(hardware))
    : { device: known ? settledDevice : '' }
  const { data: answer, error } = useQuery(pathQuery(whose, settledTo, prefer))
  const put = (key: string, value: string) =>
    ask((before) => {
      const after = new URLSearchParams(before)
      after.set(key, value)
      if (key === 'family') after.delete('device')
      return after
    })
  return (
    <Page question={question(answer)} lede={answer && lede(answer)}>
      <Asking asked={asked} put={put} devices={devices ?? []} releases={releases ?? []} />
      <Trouble error={error} />
      {!imagined && (
        <Unnamed device={settledDevice} known={known} releases={releases} devices={devices} />
      )}
      {answer && (
        <Found
          answer={answer}
          releases={releases ?? []}
          planned={imagined ? undefined : (way) => planned(answer, prefer, way)}
        />
      )}
      {answer?.best && (
        <div className="choices" role="tablist" aria-label="What the path is to be good at">
          {preferences.map(([value, title]) => (
            <Choice
              key={value}
              title={title}
              chosen={value === prefer}
              choose={() => put('prefer', value)}
              query={{ whose, to: settledTo, prefer: value }}
              shown={answer}
            />
          ))}
        </div>
      )}
    </Page>
  )
}

/**
 * What was found.
 *
 * @param planned where a way is planned: 0 for the best; none where its device is only imagined
 */
function Found({
  answer,
  releases,
  planned,
}: {
  answer: PathAnswer
  releases: Release[]
  planned: ((way: number) => string) | undefined
}) {
  return (
    <>
      <Facts answer={answer} />
      {answer.outcome === 'refused' && <Refused answer={answer} />}
      {answer.best && <Stair answer={answer} path={answer.best} releases={releases} />}
      {answer.best && <ToKnow answer={answer} />}
      {answer.order && <Inside order={answer.order} />}
      {answer.best && planned && (
        <p>
          <Link to={planned(0)}>Plan this path</Link>
        </p>
      )}
      {answer.best && <Others answer={answer} planned={planned} />}
    </>
  )
}

/** Hardware that nobody owns, as the address says it. */
function imaginedIn(asked: URLSearchParams): Whose {
  const said = (key: string) => asked.get(key) ?? ''
  const features = said('features')
    .split(',')
    .filter((feature) => feature !== '')
  return {
    family: said('family'),
    model: said('model'),
    revision: said('revision'),
    features,
    runs: said('runs'),
  }
}

function Imagined({
  asked,
  put,
  releases,
}: {
  asked: URLSearchParams
  put: (key: string, value: string) => void
  releases: Release[]
}) {
  const family = asked.get('family') ?? ''
  const families = [...new Map(releases.map((r) => [r.family, r.title])).entries()].map(
    ([value, label]) => ({ value, label }),
  )
  const text = (key: string, label: string, placeholder: string) => (
    <TextInput
      label={label}
      placeholder={placeholder}
      value={asked.get(key) ?? ''}
      onChange={(e) => put(key, e.currentTarget.value)}
      style={{ flex: '0 1 130px' }}
    />
  )
  return (
    <>
      <NativeSelect
        label="Family"
        data={families}
        value={family}
        onChange={(e) => put('family', e.currentTarget.value)}
      />
      {text('model', 'Model', 'any')}
      {text('revision', 'Revision', 'any')}
      {text('features', 'Features', 'none')}
      <Autocomplete
        label="It runs"
        placeholder="2.4.0 or system:2.4.0,board:1.12"
        data={releases
          .filter((r) => r.family === family && r.component === 'system')
          .map((r) => r.version)}
        value={asked.get('runs') ?? ''}
        onChange={(value) => put('runs', value)}
        limit={20}
        style={{ flex: '0 1 240px' }}
      />
    </>
  )
}

/** The order inside a unit of several members, with the seconds in which it serves nobody. */
function Inside({ order }: { order: NonNullable<PathAnswer['order']> }) {
  return (
    <section aria-label="Inside the unit">
      <h2>Inside the unit</h2>
      <p className="quiet">
        {minutes(order.darkSeconds)} without service, in {minutes(order.takesSeconds)} of work.
        Every member has the image before the first restarts.
      </p>
      <ol>
        {order.moves.map((move) => (
          <li key={move.sentence}>
            {move.sentence}
            {move.darkSeconds > 0 && <b className="caution"> ▲ {minutes(move.darkSeconds)} dark</b>}
          </li>
        ))}
      </ol>
      {order.barred.map((why) => (
        <p key={why} className="caution">
          ▲ Not member by member: {why}.
        </p>
      ))}
    </section>
  )
}

/** The other ways to the same release, and how far older releases alone would lead. */
function Others({
  answer,
  planned,
}: {
  answer: PathAnswer
  planned?: (alternative: number) => string
}) {
  const older = answer.byOlderOnes
  if (answer.alternatives.length === 0 && !older) return null
  return (
    <section aria-label="Other ways">
      <h2>Other ways</h2>
      {answer.alternatives.length > 0 && (
        <table className="plain prose">
          <thead>
            <tr>
              <th>way</th>
              <th>restarts</th>
              <th>dark</th>
              <th>compared with the stair above</th>
              {planned && <th />}
            </tr>
          </thead>
          <tbody>
            {answer.alternatives.map((path, i) => {
              const way = path.hops.map((hop) => hop.to).join(' → ')
              return (
                <tr key={way}>
                  <td className="mono">{way}</td>
                  <td>{path.restarts}</td>
                  <td>{minutes(path.darkSeconds)}</td>
                  <td>{compared(path, answer)}</td>
                  {planned && (
                    <td>
                      <Link to={planned(i + 1)}>plan it</Link>
                    </td>
                  )}
                </tr>
              )
            })}
          </tbody>
        </table>
      )}
      {older && (
        <p>
          With releases older than {older.days} days only,{' '}
          {older.endsAt ? (
            <>
              the path ends at <span className="mono">{older.endsAt}</span>.
            </>
          ) : (
            'there is no way.'
          )}
        </p>
      )}
    </section>
  )
}

/** Where a plan of a path is drafted; 0 is the path that is shown as the best. */
function planned(answer: PathAnswer, prefer: string, alternative: number): string {
  const way = new URLSearchParams({ devices: answer.device, to: answer.wanted, prefer })
  if (alternative > 0) way.set('alternative', String(alternative))
  return `/plans?${way}`
}

function compared(path: PathAnswer['alternatives'][number], answer: PathAnswer): string {
  const best = answer.best
  if (!best) return ''
  const says = [
    path.hops.length !== best.hops.length &&
      `${count(Math.abs(path.hops.length - best.hops.length), 'hop', 'hops')} ${path.hops.length > best.hops.length ? 'more' : 'fewer'}`,
    path.restarts !== best.restarts &&
      `${count(Math.abs(path.restarts - best.restarts), 'restart', 'restarts')} ${path.restarts > best.restarts ? 'more' : 'fewer'}`,
    path.darkSeconds !== best.darkSeconds &&
      `${minutes(Math.abs(path.darkSeconds - best.darkSeconds))} ${path.darkSeconds > best.darkSeconds ? 'longer' : 'shorter'} dark`,
  ].filter((word) => word !== false)
  return says.length > 0
    ? says.join(', ')
    : 'costs the same; it goes by less proven or larger releases'
}

function lede(answer: PathAnswer): string {
  if (answer.outcome === 'already-there')
    return 'Nothing to do: it runs the wanted release already.'
  if (!answer.best) return 'There is no path.'
  return inWords(answer.best.hops, answer.best.restarts, minutes(answer.best.darkSeconds))
}

function Facts({ answer }: { answer: PathAnswer }) {
  return (
    <dl className="facts">
      <div>
        <dt>
          {answer.title}
          {answer.revision && `, revision ${answer.revision}`}
        </dt>
        <dd>{answer.site || answer.device}</dd>
      </div>
      <div>
        <dt>runs</dt>
        <dd className="mono">{answer.runs}</dd>
      </div>
      <div>
        <dt>wanted</dt>
        <dd>
          <span className="mono">{answer.wanted}</span>{' '}
          {answer.policy !== answer.wanted && answer.policy}
        </dd>
      </div>
      <div>
        <dt>read</dt>
        <dd>
          {answer.readAt
            ? ago(answer.readAt)
            : answer.site
              ? 'never; as the inventory says'
              : 'nobody owns it'}
        </dd>
      </div>
      {answer.chosenBy.length > 0 && (
        <div>
          <dt>images for</dt>
          <dd>
            {answer.chosenBy.map((fact) => (
              <span key={fact.what} className="nowrap">
                {fact.what} <span className="mono">{fact.value}</span>{' '}
                <span className="quiet">
                  {fact.source === 'shown' ? 'by the device' : 'as written'}
                </span>{' '}
              </span>
            ))}
          </dd>
        </div>
      )}
    </dl>
  )
}

function Choice({
  title,
  chosen,
  choose,
  query,
  shown,
}: {
  title: string
  chosen: boolean
  choose: () => void
  query: { whose: Whose; to: string; prefer: string }
  shown: PathAnswer
}) {
  const { data } = useQuery(pathQuery(query.whose, query.to, query.prefer))
  const way = data?.best?.hops.map((hop) => hop.to).join(' → ')
  const same = !chosen && way === shown.best?.hops.map((hop) => hop.to).join(' → ')
  return (
    <button type="button" className="choice" role="tab" aria-selected={chosen} onClick={choose}>
      <b>{title}</b>
      <span className="quiet">
        {data?.best
          ? same
            ? 'the same path'
            : `${data.best.hops.length} hops, ${data.best.restarts} restarts, ${minutes(data.best.darkSeconds)} dark`
          : ''}
      </span>
      {!same && <span className="mono">{way}</span>}
    </button>
  )
}

/** Which device, or which hardware that nobody owns, and where to. */
function Asking({
  asked,
  put,
  devices,
  releases,
}: {
  asked: URLSearchParams
  put: (key: string, value: string) => void
  devices: Device[]
  releases: Release[]
}) {
  const device = asked.get('device') ?? ''
  const imagined = asked.get('family') ?? ''
  const [settledDevice] = useDebouncedValue(device, 300)
  const family = imagined || devices.find((d) => d.name === settledDevice)?.family
  const advisories =
    devices.find((d) => d.name === settledDevice)?.exposed.map((e) => `clears:${e.id}`) ?? []
  const targets = [
    ...policies,
    ...advisories,
    ...releases
      .filter((r) => r.family === family && r.component === 'system')
      .map((r) => r.version),
  ]
  return (
    <div style={{ display: 'flex', gap: 10, marginBottom: 16, flexWrap: 'wrap' }}>
      {imagined ? (
        <Imagined asked={asked} put={put} releases={releases} />
      ) : (
        <Autocomplete
          label="Device"
          data={devices.map((d) => d.name)}
          value={device}
          onChange={(value) => put('device', value)}
          limit={12}
          style={{ flex: '0 1 300px' }}
        />
      )}
      <Autocomplete
        label="To a release, or by a policy"
        data={[...new Set(targets)]}
        value={asked.get('to') ?? 'recommended'}
        onChange={(value) => put('to', value)}
        limit={20}
        style={{ flex: '0 1 300px' }}
      />
    </div>
  )
}

/** What to do where no device of the fleet is named. */
function Unnamed({
  device,
  known,
  releases,
  devices,
}: {
  device: string
  known: boolean | undefined
  releases: Release[] | undefined
  devices: Device[] | undefined
}) {
  return (
    <>
      {!device && (
        <p>
          Name a device above, or press a way on the page Fleet.{' '}
          {releases?.[0] && (
            <Link to={`/paths?family=${releases[0].family}&to=recommended`}>
              Or ask about hardware that nobody owns.
            </Link>
          )}
        </p>
      )}
      {device && devices && known === false && <p>There is no device "{device}" here.</p>}
    </>
  )
}
