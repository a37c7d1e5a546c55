import type { Hop, PathAnswer, PathOfHops, Release } from '../../api/client'
import { megabytes, minutes } from '../../components/words'
import { type Tread, treads } from './stair'

const width = 1060
const left = 16
const laneHeight = 92
const tallest = 330
const roomForLanding = 230

/** The path as rising treads, one a release; on the riser what the move costs, above it what cannot be done in one move. */
export function Stair({
  answer,
  path,
  releases,
}: {
  answer: PathAnswer
  path: PathOfHops
  releases: Release[]
}) {
  const [main = [], ...others] = treads(path.hops, path.hops.at(-1)?.component ?? 'system')
  const steps = Math.max(1, main.length - 1)
  const rise = Math.min(104, tallest / steps)
  const dx = (width - left - 20) / (path.hops.length + 1)
  const down = (main[1]?.level ?? 1) < 0
  const floor = down ? 74 : 74 + rise * steps
  const x = (at: number) => left + at * dx
  const y = (tread: Tread) => floor - tread.level * rise
  const lanesFrom = 74 + rise * steps + 100
  const height = lanesFrom + others.length * laneHeight
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      style={{ width: '100%', margin: '14px 0 6px' }}
      role="img"
      aria-label={`From ${main.map((tread) => tread.release).join(' to ')}`}
    >
      {main.slice(1, -1).map((tread, i) => (
        <Barred
          key={tread.release}
          from={main[i]}
          over={main[i + 2]}
          hop={tread.hop}
          x={x}
          y={y}
          dx={dx}
        />
      ))}
      {main.map((tread, i) => (
        <Step
          key={tread.release}
          tread={tread}
          next={main[i + 1]}
          first={i === 0}
          published={published(releases, answer, tread)}
          x={x}
          y={y}
          dx={dx}
        />
      ))}
      {others.map((lane, i) => (
        <Lane key={lane[0]?.component} lane={lane} y={lanesFrom + i * laneHeight} x={x} />
      ))}
    </svg>
  )
}

function published(releases: Release[], answer: PathAnswer, tread: Tread): string {
  const release = releases.find(
    (r) =>
      r.family === answer.family && r.component === tread.component && r.version === tread.release,
  )
  return release ? `${release.channel}, ${release.date}` : 'not in the catalogue'
}

function Landing({ x, y }: { x: number; y: number }) {
  return (
    <g stroke="var(--lagoon)" fill="none" strokeWidth="1.5">
      <rect x={x} y={y - 22} width="72" height="22" />
      <path d={`M${x + 24} ${y - 22}v22M${x + 48} ${y - 22}v22`} />
    </g>
  )
}

type Axis = { x: (at: number) => number; y: (tread: Tread) => number; dx: number }

function Riser({ tread, next, x, y, dx }: { tread: Tread; next: Tread | undefined } & Axis) {
  if (!next?.hop) return null
  const begin = x(tread.from) + dx * (tread.to - tread.from) * 0.62
  const foot = x(next.from) - 7
  const arrives = y(next) + (next.level > tread.level ? 12 : -6)
  const head = next.level > tread.level ? 7 : -7
  return (
    <g>
      <path
        d={`M${begin} ${y(tread) + 4.5}H${foot}V${arrives}M${foot - 5} ${arrives + head}L${foot} ${arrives}L${foot + 5} ${arrives + head}`}
        fill="none"
        stroke="var(--lagoon)"
        strokeWidth="2"
      />
      <text x={foot - 10} y={y(tread) - 8} fontSize="12.5" textAnchor="end" fill="var(--ink)">
        {next.hop.restarts === 0
          ? 'no restart'
          : next.hop.restarts === 1
            ? 'restart'
            : `${next.hop.restarts} restarts`}
        , {minutes(next.hop.darkSeconds)}
      </text>
      <text x={foot - 10} y={y(tread) + 24} fontSize="12.5" textAnchor="end" fill="var(--quiet)">
        {megabytes(next.hop.images.reduce((sum, image) => sum + image.sizeBytes, 0))}
      </text>
    </g>
  )
}

/** Why a tread cannot be left out: the move that would skip it, dotted. */
function Barred({
  from,
  over,
  hop,
  x,
  y,
  dx,
}: { from: Tread | undefined; over: Tread | undefined; hop: Hop | undefined } & Axis) {
  const why = hop?.why[0]
  if (!from || !over || !why) return null
  const startX = x(from.from) + dx * (from.to - from.from) * 0.5
  const startY = y(from) - 4
  const endX = x(over.from) - 8
  const endY = y(over) + 4
  const peak = Math.min(startY, endY) - 8
  const text = `not in one move: ${why.sentence}`
  return (
    <g>
      <path
        d={`M${startX} ${startY}Q${startX + (endX - startX) * 0.34} ${peak} ${endX} ${endY}`}
        fill="none"
        stroke="var(--brick)"
        strokeWidth="1.4"
        strokeDasharray="2 5"
      />
      <text
        x={(startX + endX) / 2 - 40}
        y={peak - 10}
        fontSize="12.5"
        textAnchor="middle"
        fill="var(--brick)"
      >
        {text.length > 92 ? `${text.slice(0, 91)}…` : text}
      </text>
    </g>
  )
}

/** Another component that moves on the way: a thinner stair on the same axis. */
function Lane({ lane, y, x }: { lane: Tread[]; y: number; x: (at: number) => number }) {
  const height = (tread: Tread) => y + 34 - tread.level * 22
  return (
    <g>
      <text x={left} y={y + 22} fontSize="13" fontWeight="700" fill="var(--ink)">
        {lane[0]?.component}, runs now
      </text>
      {lane.map((tread, i) => (
        <g key={tread.release}>
          <path
            d={`M${x(tread.from)} ${height(tread)}H${x(tread.to)}${lane[i + 1] ? `V${height(lane[i + 1] as Tread)}` : ''}`}
            fill="none"
            stroke={i === 0 ? 'var(--quiet)' : 'var(--slate)'}
            strokeWidth="3"
          />
          <text
            x={x(tread.from) + (i === 0 ? 0 : 6)}
            y={height(tread) + 20}
            fontSize="14"
            className="mono"
            fill="var(--ink)"
          >
            {tread.release}
          </text>
          {tread.hop && (
            <text x={x(tread.from) + 70} y={height(tread) + 20} fontSize="12.5" fill="var(--quiet)">
              {tread.hop.restarts === 0 ? 'no restart' : 'restart'},{' '}
              {minutes(tread.hop.darkSeconds)}
            </text>
          )}
        </g>
      ))}
    </g>
  )
}

/** What one may do at a release. */
function standing(tread: Tread, first: boolean, next: Tread | undefined) {
  if (first) return 'runs now'
  if (!next) return 'wanted'
  return tread.hop?.mayRest ? 'may rest here' : 'no rest here'
}

function Step({
  tread,
  next,
  first,
  published,
  x,
  y,
  dx,
}: {
  tread: Tread
  next: Tread | undefined
  first: boolean
  published: string
  x: (at: number) => number
  y: (tread: Tread) => number
  dx: number
}) {
  const wide = dx * (tread.to - tread.from) > roomForLanding
  return (
    <g>
      <rect
        x={x(tread.from)}
        y={y(tread)}
        width={dx * (tread.to - tread.from) * 0.62}
        height="9"
        fill={first ? 'var(--quiet)' : 'var(--lagoon)'}
      />
      {!first && tread.hop?.mayRest && next && wide && (
        <Landing x={x(tread.from) + dx * 0.34} y={y(tread)} />
      )}
      <text
        x={x(tread.from)}
        y={y(tread) - (wide ? 12 : 27)}
        fontSize="13"
        fontWeight="700"
        fill="var(--ink)"
      >
        {standing(tread, first, next)}
      </text>
      <text
        x={x(tread.from)}
        y={y(tread) + 33}
        fontSize="20"
        fontWeight="700"
        className="mono"
        fill="var(--ink)"
      >
        {tread.release}
      </text>
      <text x={x(tread.from)} y={y(tread) + 54} fontSize="12.5" fill="var(--quiet)">
        {published}
      </text>
      {next && <Riser tread={tread} next={next} x={x} y={y} dx={dx} />}
    </g>
  )
}
