import type { Run, Unit } from '../../api/client'
import { clock } from '../../components/words'
import { goesOn, type Stretch, shownState, span, stretches } from './sheet'

// Room for the longest names of a fleet, set in mono.
const left = 182
const width = 760
const right = 96
const rowHeight = 34
const top = 34

const fills: Record<Stretch['kind'], [string, number]> = {
  prepare: ['var(--slate)', 0.35],
  change: ['var(--slate)', 1],
  prove: ['var(--moss)', 0.6],
  soak: ['var(--moss)', 0.25],
  stuck: ['var(--brick)', 1],
}

/** Rows are units, the horizontal axis is the site's clock: expected time as an outline, actual as a fill, the gate as a bar. */
export function NightSheet({ run, now }: { run: Run; now: number }) {
  const [from, to] = span(run, now)
  const x = (time: number) => left + ((time - from) / (to - from)) * (width - left - right)
  const height = top + run.units.length * rowHeight + 26
  const zone = run.units[0]?.zone
  const ticks = Array.from({ length: 5 }, (_, i) => from + ((to - from) * i) / 4)
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      style={{ width: '100%', marginBottom: 10 }}
      role="img"
      aria-label={`The night sheet of ${run.name}`}
    >
      <rect
        x={left}
        y={top - 8}
        width={width - left - right}
        height={run.units.length * rowHeight + 10}
        fill="var(--sheet)"
        stroke="var(--rule)"
      />
      {ticks.map((time) => (
        <g key={time}>
          <line
            x1={x(time)}
            x2={x(time)}
            y1={top - 8}
            y2={top + run.units.length * rowHeight + 2}
            stroke="var(--rule)"
          />
          <text
            x={x(time)}
            y={16}
            textAnchor="middle"
            fontSize="12"
            fill="var(--quiet)"
            className="mono"
          >
            {clock(new Date(time).toISOString(), zone)}
          </text>
        </g>
      ))}
      {run.units.map((unit, i) => (
        <Row key={unit.device} unit={unit} run={run} y={top + i * rowHeight} x={x} now={now} />
      ))}
      {goesOn(run) && (
        <line
          x1={x(now)}
          x2={x(now)}
          y1={top - 14}
          y2={height - 18}
          stroke="var(--ink)"
          strokeWidth="1.5"
        />
      )}
    </svg>
  )
}

function Row({
  unit,
  run,
  y,
  x,
  now,
}: {
  unit: Unit
  run: Run
  y: number
  x: (time: number) => number
  now: number
}) {
  const start = Date.parse(run.startedAt)
  const expectedEnd = start + (unit.expectedSeconds * 1000) / run.pace
  const asked = unit.gate ? Date.parse(unit.gate.askedAt) : undefined
  return (
    <g>
      <text x={0} y={y + 16} fontSize="13" fill="var(--ink)" className="mono">
        {unit.device}
      </text>
      <rect
        x={x(start)}
        y={y + 3}
        width={x(expectedEnd) - x(start)}
        height={18}
        fill="none"
        stroke="var(--quiet)"
        strokeDasharray="3 2"
      />
      {stretches(unit.steps, now).map((s) => (
        <rect
          key={`${s.kind} ${s.from}`}
          x={x(s.from)}
          y={y + 4}
          width={Math.max(1.5, x(s.to) - x(s.from))}
          height={16}
          fill={fills[s.kind][0]}
          fillOpacity={fills[s.kind][1]}
        />
      ))}
      {asked && <rect x={x(asked) - 2} y={y} width={4} height={24} fill="var(--amber)" />}
      <text x={width - right + 8} y={y + 16} fontSize="13" fill="var(--ink)">
        {shownState(unit)}
      </text>
    </g>
  )
}
