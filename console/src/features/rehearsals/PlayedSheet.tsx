import type { PlayedNight, PlayedPart } from '../../api/client'
import { clock } from '../../components/words'
import { hours } from '../nights/sheet'
import { howWords } from './outcome'

const left = 184
const width = 900
const right = 12
const rowHeight = 24
const top = 30
const colours: Record<string, string> = { settled: 'var(--moss)', caution: 'var(--amber)', stop: 'var(--brick)' }

/** A night as it was planned (outline) and played (filled), a row a unit; the window is white, outside is hatched. */
export function PlayedSheet({ night }: { night: PlayedNight }) {
  const rows = [...new Set(night.parts.map((p) => p.device))].map((device) => night.parts.filter((p) => p.device === device))
  const zone = night.parts[0]?.zone
  const span = spanOf(night)
  const at = (time: string) =>
    left + (Math.min(Math.max(Date.parse(time), span[0]), span[1]) - span[0]) * ((width - left - right) / (span[1] - span[0]))
  const height = top + rows.length * rowHeight + 10
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      style={{ width: '100%' }}
      role="img"
      aria-label={`${night.words}, planned and played`}
    >
      <defs>
        <pattern id="closed" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" y1="0" x2="0" y2="6" stroke="var(--rule)" strokeWidth="1.6" />
        </pattern>
      </defs>
      <rect
        x={left}
        y={top - 6}
        width={width - left - right}
        height={rows.length * rowHeight + 8}
        fill="url(#closed)"
        stroke="var(--rule)"
      />
      {rows.map((parts, i) => (
        <Row key={parts[0]?.device} parts={parts} y={top + i * rowHeight} at={at} />
      ))}
      {hours(span).map((time) => (
        <g key={time} pointerEvents="none">
          <line x1={at(iso(time))} x2={at(iso(time))} y1={top - 6} y2={height - 8} stroke="var(--rule)" strokeDasharray="1 3" />
          <text x={at(iso(time))} y={14} textAnchor="middle" fontSize="12" fill="var(--quiet)" className="mono">
            {clock(iso(time), zone).slice(0, 5)}
          </text>
        </g>
      ))}
    </svg>
  )
}

function iso(time: number) {
  return new Date(time).toISOString()
}

function Row({ parts, y, at }: { parts: PlayedPart[]; y: number; at: (time: string) => number }) {
  const closes = parts.map((p) => p.closes).reduce((a, b) => (a > b ? a : b))
  return (
    <g>
      <text x={4} y={y + 13} fontSize="12.5" fill="var(--ink)" className="mono">
        {parts[0]?.device}
      </text>
      <rect x={left} y={y - 4} width={Math.max(0, at(closes) - left)} height={rowHeight} fill="var(--sheet)" />
      {parts.map((p) => {
        const how = howWords(p.how)
        const end = p.playedEnd ?? p.closes
        return (
          <g key={p.part}>
            <title>{`${p.from} to ${p.to}: planned ${clock(p.plannedBegin, p.zone)} to ${clock(p.plannedEnd, p.zone)}, ${how.words}`}</title>
            {p.playedBegin && (
              <rect
                x={at(p.playedBegin)}
                y={y + 3}
                width={Math.max(3, p.playedEnd ? at(end) - at(p.playedBegin) : 10)}
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

/** From a little before the first beginning to a little behind the last end or window, no more than three hours behind what is done. */
function spanOf(night: PlayedNight): [number, number] {
  const begins = night.parts.flatMap((p) => [p.plannedBegin, p.playedBegin]).filter((t) => t != null)
  const ends = night.parts.flatMap((p) => [p.plannedEnd, p.playedEnd]).filter((t) => t != null)
  const from = Math.min(...begins.map(Date.parse))
  const last = Math.max(...ends.map(Date.parse))
  const to = Math.max(last, Math.min(Date.parse(night.closes), last + 3 * 3600_000))
  const edge = (to - from) * 0.04
  return [from - edge, to + edge]
}
