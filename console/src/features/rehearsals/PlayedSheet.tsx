import type { PlayedNight, PlayedPart } from '../../api/client'
import { clock } from '../../components/words'
import { Hatched, Hours, placer, sheet } from '../nights/ground'
import { howWords } from './outcome'

const { left, width, rowHeight, top } = sheet
const colours: Record<string, string> = {
  settled: 'var(--moss)',
  caution: 'var(--amber)',
  stop: 'var(--brick)',
}

/** A night as it was planned (outline) and played (filled), a row a unit; the window is white, outside is hatched. */
export function PlayedSheet({ night }: { night: PlayedNight }) {
  const rows = [...new Set(night.parts.map((p) => p.device))].map((device) =>
    night.parts.filter((p) => p.device === device),
  )
  const zone = night.parts[0]?.zone
  const span = spanOf(night)
  const at = placer(span)
  const height = top + rows.length * rowHeight + 10
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="whole"
      role="img"
      aria-label={`${night.words}, planned and played`}
    >
      <Hatched id="closed" rows={rows.length} />
      {rows.map((parts, i) => (
        <Row key={parts[0]?.device} parts={parts} y={top + i * rowHeight} at={at} />
      ))}
      <Hours span={span} zone={zone} height={height} />
    </svg>
  )
}

function Row({ parts, y, at }: { parts: PlayedPart[]; y: number; at: (time: string) => number }) {
  const closes = parts.map((p) => p.closes).reduce((a, b) => (a > b ? a : b))
  return (
    <g>
      <text x={4} y={y + 13} fontSize="12.5" fill="var(--ink)" className="mono">
        {parts[0]?.device}
      </text>
      <rect
        x={left}
        y={y - 4}
        width={Math.max(0, at(closes) - left)}
        height={rowHeight}
        fill="var(--sheet)"
      />
      {parts.map((p) => {
        const how = howWords(p.how)
        return (
          <g key={p.part}>
            <title>{`${p.from} to ${p.to}: planned ${clock(p.plannedBegin, p.zone)} to ${clock(p.plannedEnd, p.zone)}, ${how.words}`}</title>
            {p.playedBegin && (
              <rect
                x={at(p.playedBegin)}
                y={y + 3}
                width={Math.max(3, p.playedEnd ? at(p.playedEnd) - at(p.playedBegin) : 10)}
                height={10}
                fill={colours[how.tone] ?? 'var(--quiet)'}
                fillOpacity={0.75}
              />
            )}
            <rect
              x={at(p.plannedBegin)}
              y={y}
              width={Math.max(3, at(p.plannedEnd) - at(p.plannedBegin))}
              height={16}
              fill="none"
              stroke="var(--slate)"
              strokeWidth="1.4"
            />
          </g>
        )
      })}
    </g>
  )
}

/** From a little before the first beginning to a little behind the last end or window, no more than an hour behind what is done. */
function spanOf(night: PlayedNight): [number, number] {
  const begins = night.parts
    .flatMap((p) => [p.plannedBegin, p.playedBegin])
    .filter((t) => t != null)
  const ends = night.parts.flatMap((p) => [p.plannedEnd, p.playedEnd]).filter((t) => t != null)
  const from = Math.min(...begins.map(Date.parse))
  const last = Math.max(...ends.map(Date.parse))
  const to = Math.max(last, Math.min(Date.parse(night.closes), last + 3600_000))
  const edge = (to - from) * 0.04
  return [from - edge, to + edge]
}
