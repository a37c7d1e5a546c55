import type { PlanNight } from '../../api/client'
import { clock } from '../../components/words'
import { hours, rowsOf, spanOf } from './sheet'

const left = 184
const width = 900
const right = 12
const rowHeight = 24
const top = 30

/** Rows are units, the horizontal axis is a site's clock: the window is white, outside is hatched; the likely time is an outline, its margin a line, the gate a bar. */
export function PlannedSheet({ night, marked, onPick }: { night: PlanNight; marked?: string; onPick: (unit: string) => void }) {
  const rows = rowsOf(night)
  const span = spanOf(night)
  const x = (time: string | number) =>
    left +
    (Math.min(Math.max(typeof time === 'number' ? time : Date.parse(time), span[0]), span[1]) - span[0]) *
      ((width - left - right) / (span[1] - span[0]))
  const zone = night.units[0]?.zone
  const height = top + rows.length * rowHeight + 10
  return (
    <svg viewBox={`0 0 ${width} ${height}`} style={{ width: '100%' }}>
      <title>{`The sheet of the night of ${night.night}`}</title>
      <defs>
        <pattern id="shut" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" y1="0" x2="0" y2="6" stroke="var(--rule)" strokeWidth="1.6" />
        </pattern>
      </defs>
      <rect
        x={left}
        y={top - 6}
        width={width - left - right}
        height={rows.length * rowHeight + 8}
        fill="url(#shut)"
        stroke="var(--rule)"
      />
      {rows.map((row, i) => {
        const y = top + i * rowHeight
        const site = i === 0 || rows[i - 1]?.siteTitle !== row.siteTitle
        return (
          // biome-ignore lint/a11y/useSemanticElements: a row of a drawing cannot be a button element
          <g
            key={row.unit}
            role="button"
            tabIndex={0}
            aria-label={`${row.unit} at ${row.siteTitle}`}
            aria-pressed={marked === row.unit}
            style={{ cursor: 'pointer' }}
            onClick={() => onPick(row.unit)}
            onKeyDown={(e) => (e.key === 'Enter' || e.key === ' ') && onPick(row.unit)}
          >
            <rect
              x={0}
              y={y - 3}
              width={left - 6}
              height={rowHeight - 2}
              fill={marked === row.unit ? 'var(--sheet)' : 'transparent'}
            />
            <text x={4} y={y + 13} fontSize="12.5" fill="var(--ink)" className="mono">
              {row.unit}
            </text>
            {site && i > 0 && <line x1={0} x2={width - right} y1={y - 4} y2={y - 4} stroke="var(--rule)" />}
            {row.parts.slice(0, 1).map((part) => (
              <rect
                key={part.opens}
                x={x(part.opens)}
                y={y - 4}
                width={Math.max(0, x(part.closes) - x(part.opens))}
                height={rowHeight}
                fill="var(--sheet)"
              />
            ))}
            {row.parts.map((part) => (
              <g key={part.part}>
                <title>{`${clock(part.begins, part.zone)} to ${clock(part.ends, part.zone)} ${part.zone}: ${part.from} to ${part.way.at(-1)}; ${part.why}`}</title>
                <line
                  x1={x(part.likelyBy)}
                  x2={x(part.ends)}
                  y1={y + 8}
                  y2={y + 8}
                  stroke="var(--slate)"
                  strokeWidth="1.4"
                  strokeDasharray="3 2"
                />
                <rect
                  x={x(part.begins)}
                  y={y + 1}
                  width={Math.max(3, x(part.likelyBy) - x(part.begins))}
                  height={14}
                  fill={part.pilot ? 'var(--slate)' : 'none'}
                  fillOpacity={0.3}
                  stroke="var(--slate)"
                  strokeWidth="1.4"
                />
                <line x1={x(part.begins)} x2={x(part.begins)} y1={y - 2} y2={y + 18} stroke="var(--amber)" strokeWidth="2.4" />
              </g>
            ))}
          </g>
        )
      })}
      {hours(span).map((time) => (
        <g key={time} pointerEvents="none">
          <line x1={x(time)} x2={x(time)} y1={top - 6} y2={height - 8} stroke="var(--rule)" strokeDasharray="1 3" />
          <text x={x(time)} y={14} textAnchor="middle" fontSize="12" fill="var(--quiet)" className="mono">
            {clock(new Date(time).toISOString(), zone).slice(0, 5)}
          </text>
        </g>
      ))}
    </svg>
  )
}
