import { useQuery } from '@tanstack/react-query'
import { Link, useSearchParams } from 'react-router'
import type { NetworkNode } from '../../api/client'
import { darkQuery, nightsQuery, reachQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { count } from '../../components/words'
import { nodeHeight, nodeWidth, placed, singlePoints } from './layers'
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
      question={
        plan
          ? `Who is dark when, in ${plan}?`
          : down
            ? `Who loses the network while ${down} restarts?`
            : 'Who loses the network when something restarts?'
      }
      lede={
        network &&
        (dark
          ? `${count(dark.cutOff.length, 'other device is', 'other devices are')} cut off while ${down.includes(',') ? 'these are' : 'it is'} down.`
          : `${count(points.length, 'device cuts', 'devices cut')} others off by ${points.length === 1 ? 'itself' : 'themselves'}. Press one to see what goes dark with it.`)
      }
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
      {dark && (
        <div className="serves">
          <b>Without network</b>
          {dark.serves.length === 0 ? (
            <p className="quiet">Nobody wrote down who stands behind them.</p>
          ) : (
            <ul>
              {dark.serves.map((words) => (
                <li key={words}>{words}</li>
              ))}
            </ul>
          )}
        </div>
      )}
      {rooted && (
        <Drawing
          nodes={nodes}
          down={new Set(dark?.down ?? [])}
          cutOff={new Set(dark?.cutOff ?? [])}
          choose={(device) => ask(device === down ? {} : { down: device })}
        />
      )}
      {rooted && (
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
                  <td className="mono" style={{ whiteSpace: 'nowrap' }}>
                    <Link to={`/fleet-reach?down=${n.device}`}>{n.device}</Link>
                  </td>
                  <td style={{ whiteSpace: 'nowrap' }}>{n.site}</td>
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
      )}
      {network && network.unreached.length > 0 && rooted && (
        <p className="caution">
          ▲ No way to a root, even when all is up: {network.unreached.join(', ')}.
        </p>
      )}
      {network && network.standIns.length > 0 && (
        <p>
          Stand in for each other, so they are never in work together:{' '}
          <span className="mono">
            {network.standIns.map((group) => group.join(' and ')).join('; ')}
          </span>
          .
        </p>
      )}
      {network?.contradictions.map((sentence) => (
        <p key={sentence} className="caution">
          ▲ {sentence}. Both are counted as ways.
        </p>
      ))}
      {network?.unknown.map((name) => (
        <p key={name} className="caution">
          ▲ Joined with something that is no device here: {name}.
        </p>
      ))}
    </Page>
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
        <defs>
          <pattern
            id="dark"
            width="6"
            height="6"
            patternTransform="rotate(45)"
            patternUnits="userSpaceOnUse"
          >
            <line
              x1="0"
              y1="0"
              x2="0"
              y2="6"
              stroke="var(--brick)"
              strokeWidth="2"
              opacity="0.45"
            />
          </pattern>
        </defs>
        {places.flatMap(({ node, x, y }) =>
          node.links.flatMap((link) => {
            const other = at.get(link)
            if (!other || link < node.device) return []
            const cut = dark.has(node.device) || dark.has(link)
            const [from, to] = y <= other.y ? [{ x, y }, other] : [other, { x, y }]
            const middle = nodeWidth / 2
            const d =
              node.layer === other.node.layer
                ? `M${from.x + middle} ${from.y + nodeHeight}C${from.x + middle} ${from.y + nodeHeight + 14} ${to.x + middle} ${to.y + nodeHeight + 14} ${to.x + middle} ${to.y + nodeHeight}`
                : `M${from.x + middle} ${from.y + nodeHeight}L${to.x + middle} ${to.y}`
            return [
              <path
                key={`${node.device} ${link}`}
                d={d}
                fill="none"
                stroke={cut ? 'var(--brick)' : 'var(--quiet)'}
                strokeWidth="1"
                strokeDasharray={cut ? '3 3' : undefined}
                opacity={down.size > 0 && !cut ? 0.35 : 0.7}
              />,
            ]
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
      style={{ cursor: 'pointer' }}
    >
      <title>{says}</title>
      <rect
        x={x + 0.5}
        y={y + 0.5}
        width={nodeWidth - 1}
        height={nodeHeight - 1}
        fill={
          state === 'dark'
            ? 'url(#dark)'
            : state === 'down'
              ? 'var(--brick)'
              : node.root
                ? 'var(--lagoon)'
                : 'var(--paper)'
        }
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
