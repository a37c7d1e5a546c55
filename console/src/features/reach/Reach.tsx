import { useQuery } from '@tanstack/react-query'
import { Link, useSearchParams } from 'react-router'
import type { Network, NetworkNode } from '../../api/client'
import { darkQuery, nightsQuery, reachQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { count } from '../../components/words'
import { nodeHeight, nodeWidth, type Placed, placed, singlePoints } from './layers'
import { momentsOf, Step } from './Step'

/** The network from us to the far edge, and what is dark while something restarts. What is looked at stands in the address. */
export function Reach() {
  const [asked, ask] = useSearchParams()
  const { data: network, error } = useQuery(reachQuery)
  const plan = asked.get('plan') ?? ''
  const { data: nights } = useQuery({ ...nightsQuery(plan), enabled: plan !== '' })
  const night = nights?.nights.find((n) => n.night === asked.get('night')) ?? nights?.nights[0]
  const moments = night ? momentsOf(night) : []
  const at = Math.min(Number(asked.get('at') ?? 0), Math.max(0, moments.length - 1))
  const down = plan ? (moments[at]?.down.join(',') ?? '') : (asked.get('down') ?? '')
  const { data: dark } = useQuery({
    ...darkQuery(down),
    placeholderData: plan ? (before) => before : undefined,
  })
  const nodes = network?.nodes ?? []
  const points = singlePoints(nodes)
  const rooted = nodes.some((n) => n.root)
  return (
    <Page
      question={questionOf(plan, down)}
      lede={network && ledeOf(down, points.length, dark?.cutOff.length)}
    >
      <Trouble error={error} />
      {network && !rooted && (
        <p>
          No device is a root yet, so nobody can say who is cut off. Mark in the inventory where
          services sit (<span className="mono">root: true</span>) and what is joined (
          <span className="mono">links</span>).
        </p>
      )}
      {night && (
        <Step
          plan={plan}
          night={night}
          nights={nights?.nights ?? []}
          moments={moments}
          at={at}
          go={(to) => ask({ plan, ...to })}
        />
      )}
      {dark && <Serves words={dark.serves} />}
      {rooted && (
        <Drawing
          nodes={nodes}
          down={new Set(dark?.down ?? [])}
          cutOff={new Set(dark?.cutOff ?? [])}
          choose={(device) => ask(device === down ? {} : { down: device })}
        />
      )}
      {rooted && <SinglePoints points={points} />}
      {network && <Doubts network={network} />}
    </Page>
  )
}

function questionOf(plan: string, down: string) {
  if (plan) return `Who is dark when, in ${plan}?`
  return down
    ? `Who loses the network while ${down} restarts?`
    : 'Who loses the network when something restarts?'
}

function ledeOf(down: string, points: number, cutOff: number | undefined) {
  return cutOff === undefined
    ? `${count(points, 'device cuts', 'devices cut')} others off by ${points === 1 ? 'itself' : 'themselves'}. Press one to see what goes dark with it.`
    : `${count(cutOff, 'other device is', 'other devices are')} cut off while ${down.includes(',') ? 'these are' : 'it is'} down.`
}

/** Who stands behind what is dark. */
function Serves({ words }: { words: string[] }) {
  return (
    <div className="serves">
      <b>Without network</b>
      {words.length === 0 ? (
        <p className="quiet">Nobody wrote down who stands behind them.</p>
      ) : (
        <ul>
          {words.map((one) => (
            <li key={one}>{one}</li>
          ))}
        </ul>
      )}
    </div>
  )
}

function SinglePoints({ points }: { points: NetworkNode[] }) {
  return (
    <>
      <h2>Single points</h2>
      <table className="plain" style={{ maxWidth: 860 }}>
        <thead>
          <tr>
            <th>device</th>
            <th>site</th>
            <th>cuts off</th>
          </tr>
        </thead>
        <tbody>
          {points.map((n) => (
            <tr key={n.device}>
              <td className="mono nowrap">
                <Link to={`/fleet-reach?down=${n.device}`}>{n.device}</Link>
              </td>
              <td className="nowrap">{n.site}</td>
              <td>
                <b>{n.cutOff.length}</b>{' '}
                <span className="quiet">{n.cutOff.slice(0, 6).join(', ')}</span>
                {n.cutOff.length > 6 && <span className="quiet"> …</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

/** What is odd about the network as it was written down and read. */
function Doubts({ network }: { network: Network }) {
  const rooted = network.nodes.some((n) => n.root)
  return (
    <>
      {network.unreached.length > 0 && rooted && (
        <p className="caution">
          ▲ No way to a root, even when all is up: {network.unreached.join(', ')}.
        </p>
      )}
      {network.standIns.length > 0 && (
        <p>
          Stand in for each other, so they are never in work together:{' '}
          <span className="mono">
            {network.standIns.map((group) => group.join(' and ')).join('; ')}
          </span>
          .
        </p>
      )}
      {network.contradictions.map((sentence) => (
        <p key={sentence} className="caution">
          ▲ {sentence}. Both are counted as ways.
        </p>
      ))}
      {network.unknown.map((name) => (
        <p key={name} className="caution">
          ▲ Joined with something that is no device here: {name}.
        </p>
      ))}
    </>
  )
}

function Drawing({
  nodes,
  down,
  cutOff,
  choose,
}: {
  nodes: NetworkNode[]
  down: Set<string>
  cutOff: Set<string>
  choose: (device: string) => void
}) {
  const places = placed(nodes)
  const at = new Map(places.map((p) => [p.node.device, p]))
  const dark = new Set([...down, ...cutOff])
  const width = Math.max(...places.map((p) => p.x)) + nodeWidth
  const height = Math.max(...places.map((p) => p.y)) + nodeHeight
  return (
    <div style={{ overflowX: 'auto', margin: '12px 0' }}>
      <svg width={width + 2} height={height + 2}>
        <title>The network, from the roots on top to the far edge</title>
        <DarkHatch />
        {places.flatMap((place) =>
          place.node.links
            .filter((link) => link >= place.node.device)
            .flatMap((link) => {
              const other = at.get(link)
              return other
                ? [
                    <Wire
                      key={`${place.node.device} ${link}`}
                      from={place}
                      to={other}
                      cut={dark.has(place.node.device) || dark.has(link)}
                      faint={down.size > 0}
                    />,
                  ]
                : []
            }),
        )}
        {places.map(({ node, x, y }) => (
          <NodeBox
            key={node.device}
            node={node}
            x={x}
            y={y}
            state={down.has(node.device) ? 'down' : dark.has(node.device) ? 'dark' : 'up'}
            choose={() => choose(node.device)}
          />
        ))}
      </svg>
    </div>
  )
}

function DarkHatch() {
  return (
    <defs>
      <pattern
        id="dark"
        width="6"
        height="6"
        patternTransform="rotate(45)"
        patternUnits="userSpaceOnUse"
      >
        <line x1="0" y1="0" x2="0" y2="6" stroke="var(--brick)" strokeWidth="2" opacity="0.45" />
      </pattern>
    </defs>
  )
}

/** Devices of one layer are joined by an arc beneath them, others by a line from the upper to the lower one. */
function Wire({
  from,
  to,
  cut,
  faint,
}: {
  from: Placed
  to: Placed
  cut: boolean
  faint: boolean
}) {
  const [upper, lower] = from.y <= to.y ? [from, to] : [to, from]
  const middle = nodeWidth / 2
  const d =
    from.node.layer === to.node.layer
      ? `M${upper.x + middle} ${upper.y + nodeHeight}C${upper.x + middle} ${upper.y + nodeHeight + 14} ${lower.x + middle} ${lower.y + nodeHeight + 14} ${lower.x + middle} ${lower.y + nodeHeight}`
      : `M${upper.x + middle} ${upper.y + nodeHeight}L${lower.x + middle} ${lower.y}`
  return (
    <path
      d={d}
      fill="none"
      stroke={cut ? 'var(--brick)' : 'var(--quiet)'}
      strokeWidth="1"
      strokeDasharray={cut ? '3 3' : undefined}
      opacity={faint && !cut ? 0.35 : 0.7}
    />
  )
}

function fillOf(node: NetworkNode, state: 'up' | 'dark' | 'down') {
  if (state === 'dark') return 'url(#dark)'
  if (state === 'down') return 'var(--brick)'
  return node.root ? 'var(--lagoon)' : 'var(--paper)'
}

function NodeBox({
  node,
  x,
  y,
  state,
  choose,
}: {
  node: NetworkNode
  x: number
  y: number
  state: 'up' | 'dark' | 'down'
  choose: () => void
}) {
  const says = `${node.device}${node.root ? ', a root' : ''}, cuts off ${count(node.cutOff.length, 'device', 'devices')}${state === 'dark' ? ', dark now' : ''}`
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button cannot stand inside a drawing
    <g
      role="button"
      tabIndex={0}
      aria-label={says}
      aria-pressed={state === 'down'}
      onClick={choose}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' && e.key !== ' ') return
        e.preventDefault()
        choose()
      }}
      className="pointer"
    >
      <title>{says}</title>
      <rect
        x={x + 0.5}
        y={y + 0.5}
        width={nodeWidth - 1}
        height={nodeHeight - 1}
        fill={fillOf(node, state)}
        stroke={
          state === 'up' ? (node.cutOff.length > 0 ? 'var(--ink)' : 'var(--rule)') : 'var(--brick)'
        }
        strokeWidth={node.cutOff.length > 0 ? 1.6 : 1}
      />
      <text
        x={x + 5}
        y={y + 14}
        fontSize="10.4"
        fontFamily="var(--mantine-font-family-monospace)"
        fill={state === 'down' || (node.root && state === 'up') ? 'var(--paper)' : 'var(--ink)'}
      >
        {node.device}
      </text>
    </g>
  )
}
