import { Autocomplete } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { useQuery } from '@tanstack/react-query'
import { Link, useSearchParams } from 'react-router'
import type { PathAnswer } from '../../api/client'
import { devicesQuery, pathQuery, releasesQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { ago, minutes } from '../../components/words'
import { Stair } from './Stair'
import { inWords } from './stair'

const preferences = [
  ['fewest-restarts', 'Fewest restarts'],
  ['shortest-dark', 'Shortest dark'],
  ['proven', 'Best proven releases'],
] as const
const policies = ['recommended', 'newest-general', 'one-behind', 'aged-90']

/** How one device gets to a release, step by step, with the reason for each. */
export function Paths() {
  const [asked, ask] = useSearchParams()
  const device = asked.get('device') ?? ''
  const to = asked.get('to') ?? 'recommended'
  const prefer = asked.get('prefer') ?? 'fewest-restarts'
  const [settledDevice] = useDebouncedValue(device, 300)
  const [settledTo] = useDebouncedValue(to, 300)
  const { data: devices } = useQuery(devicesQuery())
  const { data: releases } = useQuery(releasesQuery)
  const known = devices?.some((d) => d.name === settledDevice)
  const { data: answer, error } = useQuery(pathQuery(known ? settledDevice : '', settledTo, prefer))
  const put = (key: string, value: string) =>
    ask((before) => {
      const after = new URLSearchParams(before)
      after.set(key, value)
      return after
    })
  const family = devices?.find((d) => d.name === settledDevice)?.family
  const advisories = devices?.find((d) => d.name === settledDevice)?.exposed.map((e) => `clears:${e.id}`) ?? []
  const targets = [
    ...policies,
    ...advisories,
    ...(releases ?? []).filter((r) => r.family === family && r.component === 'system').map((r) => r.version),
  ]
  return (
    <Page
      question={answer ? `How does ${answer.device} get to ${answer.wanted}?` : 'How does a device get to a release?'}
      lede={answer && lede(answer)}
    >
      <div style={{ display: 'flex', gap: 10, marginBottom: 16, flexWrap: 'wrap' }}>
        <Autocomplete
          label="Device"
          data={devices?.map((d) => d.name) ?? []}
          value={device}
          onChange={(value) => put('device', value)}
          limit={12}
          style={{ flex: '0 1 300px' }}
        />
        <Autocomplete
          label="To a release, or by a policy"
          data={[...new Set(targets)]}
          value={to}
          onChange={(value) => put('to', value)}
          limit={20}
          style={{ flex: '0 1 300px' }}
        />
      </div>
      <Trouble error={error} />
      {!settledDevice && <p>Name a device above, or press a way on the page Fleet.</p>}
      {settledDevice && devices && !known && <p>There is no device "{settledDevice}" here.</p>}
      {answer && <Facts answer={answer} />}
      {answer?.outcome === 'refused' && <Refused answer={answer} />}
      {answer?.best && <Stair answer={answer} path={answer.best} releases={releases ?? []} />}
      {answer?.best && <ToKnow answer={answer} />}
      {answer?.best && (
        <div className="choices" role="tablist" aria-label="What the path is to be good at">
          {preferences.map(([value, title]) => (
            <Choice
              key={value}
              title={title}
              chosen={value === prefer}
              choose={() => put('prefer', value)}
              query={{ device: settledDevice, to: settledTo, prefer: value }}
              shown={answer}
            />
          ))}
        </div>
      )}
    </Page>
  )
}

function lede(answer: PathAnswer): string {
  if (answer.outcome === 'already-there') return 'Nothing to do: it runs the wanted release already.'
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
        <dd>{answer.site}</dd>
      </div>
      <div>
        <dt>runs</dt>
        <dd className="mono">{answer.runs}</dd>
      </div>
      <div>
        <dt>wanted</dt>
        <dd>
          <span className="mono">{answer.wanted}</span> {answer.policy !== answer.wanted && answer.policy}
        </dd>
      </div>
      <div>
        <dt>read</dt>
        <dd>{answer.readAt ? ago(answer.readAt) : 'never; as the inventory says'}</dd>
      </div>
    </dl>
  )
}

function Refused({ answer }: { answer: PathAnswer }) {
  const one = answer.obstacles.length === 1
  return (
    <div className="card stop" role="alert">
      <h3>■ {one ? 'One thing stands' : `${answer.obstacles.length} things stand`} in the way</h3>
      {answer.obstacles.map((obstacle) => (
        <p key={obstacle} style={{ margin: '4px 0' }}>
          {obstacle}.
        </p>
      ))}
      <p style={{ margin: '8px 0 0' }}>
        {answer.highestReachable ? (
          <>
            It can reach{' '}
            <Link to={`/paths?device=${answer.device}&to=${encodeURIComponent(answer.highestReachable)}`} className="mono">
              {answer.highestReachable}
            </Link>{' '}
            today.
          </>
        ) : (
          'Nothing newer can be reached today.'
        )}
      </p>
    </div>
  )
}

/** Every reason and every caveat in full, in the order of the hops. */
function ToKnow({ answer }: { answer: PathAnswer }) {
  const hops = (answer.best?.hops ?? []).map((hop, i) => ({ hop, number: i + 1, key: `${hop.component} ${hop.to}` }))
  return (
    <ul className="toknow">
      {hops.flatMap(({ hop, number, key }) => [
        ...hop.why.map((why) => (
          <li key={`${key} ${why.rule}`}>
            Hop {number} is there because {why.sentence} <span className="quiet mono">{why.rule}</span>{' '}
            <span className="quiet">{why.source}</span>
          </li>
        )),
        ...hop.brings.map((brought) => (
          <li key={`${key} ${brought}`}>
            With hop {number} comes {brought}, in the same file.
          </li>
        )),
        ...hop.toKnow.map((know) => (
          <li key={`${key} ${know}`} className="caution">
            ▲ {hop.to}: {know}.
          </li>
        )),
      ])}
    </ul>
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
  query: { device: string; to: string; prefer: string }
  shown: PathAnswer
}) {
  const { data } = useQuery(pathQuery(query.device, query.to, query.prefer))
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
