import { useState } from 'react'
import type { Placed, PlanNight } from '../../api/client'
import { clock } from '../../components/words'
import { Hatched, Hours, placer, sheet } from './ground'
import { foldedAbove, type Line, linesOf, rowsOf, spanOf } from './sheet'

const { left, width, right, rowHeight, top } = sheet

/** Rows are units, the horizontal axis is a site's clock: the window is white, outside is hatched; the likely time is an outline, its margin a line, the gate a bar. */
export function PlannedSheet({
  night,
  marked,
  onPick,
}: {
  night: PlanNight
  marked?: string
  onPick: (unit: string) => void
}) {
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set())
  const units = rowsOf(night)
  const rows = linesOf(units, opened)
  const folds = units.length > foldedAbove
  const turn = (site: string) =>
    setOpened(
      opened.has(site)
        ? new Set([...opened].filter((s) => s !== site))
        : new Set([...opened, site]),
    )
  const span = spanOf(night)
  const x = placer(span)
  const zone = night.units[0]?.zone
  const height = top + rows.length * rowHeight + 10
  return (
    <svg viewBox={`0 0 ${width} ${height}`} className="whole">
      <title>{`The sheet of the night of ${night.night}`}</title>
      <Hatched id="shut" rows={rows.length} />
      {rows.map((row, i) => (
        <Row
          key={row.siteTitle + row.unit}
          row={row}
          y={top + i * rowHeight}
          x={x}
          ruled={i > 0 && rows[i - 1]?.siteTitle !== row.siteTitle}
          folds={folds}
          marked={row.unit !== '' && marked === row.unit}
          opened={opened.has(row.siteTitle)}
          press={() => (row.unit ? onPick(row.unit) : turn(row.siteTitle))}
        />
      ))}
      <Hours span={span} zone={zone} height={height} />
    </svg>
  )
}

interface Axis {
  x: (moment: string) => number
  y: number
}

/** A unit, or a whole site whose units are folded away. */
function Row({
  row,
  x,
  y,
  ruled,
  folds,
  marked,
  opened,
  press,
}: Axis & {
  row: Line
  ruled: boolean
  folds: boolean
  marked: boolean
  opened: boolean
  press: () => void
}) {
  return (
    // biome-ignore lint/a11y/useSemanticElements: a row of a drawing cannot be a button element
    <g
      role="button"
      tabIndex={0}
      aria-label={
        row.unit ? `${row.unit} at ${row.siteTitle}` : `${row.units} units at ${row.siteTitle}`
      }
      aria-pressed={row.unit ? marked : undefined}
      aria-expanded={row.unit ? undefined : opened}
      className="pointer"
      onClick={press}
      onKeyDown={(e) => (e.key === 'Enter' || e.key === ' ') && press()}
    >
      <RowTitle row={row} y={y} folds={folds} marked={marked} opened={opened} />
      {ruled && <line x1={0} x2={width - right} y1={y - 4} y2={y - 4} stroke="var(--rule)" />}
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
        <Part key={part.unit + part.part} part={part} x={x} y={y} faint={!row.unit} />
      ))}
    </g>
  )
}

function Part({ part, x, y, faint }: Axis & { part: Placed; faint: boolean }) {
  return (
    <g opacity={faint ? 0.6 : 1}>
      <title>{`${part.unit}, ${clock(part.begins, part.zone)} to ${clock(part.ends, part.zone)} ${part.zone}: ${part.from} to ${part.way.at(-1)}; ${part.why}`}</title>
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
      {part.gates > 0 && (
        <line
          x1={x(part.begins)}
          x2={x(part.begins)}
          y1={y - 2}
          y2={y + 18}
          stroke="var(--amber)"
          strokeWidth="2.4"
        />
      )}
    </g>
  )
}

function RowTitle({
  row,
  y,
  folds,
  marked,
  opened,
}: {
  row: Line
  y: number
  folds: boolean
  marked: boolean
  opened: boolean
}) {
  return (
    <>
      <rect
        x={0}
        y={y - 3}
        width={left - 6}
        height={rowHeight - 2}
        fill={marked ? 'var(--sheet)' : 'transparent'}
      />
      <text
        x={folds && row.unit ? 20 : 4}
        y={y + 13}
        fontSize="12.5"
        fill="var(--ink)"
        className={row.unit ? 'mono' : ''}
      >
        {row.unit || `${opened ? '▾' : '▸'} ${row.siteTitle}`}
        {!row.unit && <tspan fill="var(--quiet)">{`  ${row.units} units`}</tspan>}
      </text>
    </>
  )
}
