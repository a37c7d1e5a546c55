import { clock } from '../../components/words'
import { hours } from './sheet'

/** Measures of a sheet, in its own units. */
export const sheet = { left: 184, width: 900, right: 12, rowHeight: 24, top: 30 }

/** Where a moment stands on the sheet; what lies outside of its span stands at its edge. */
export function placer(span: [number, number]): (time: string | number) => number {
  return (time) => {
    const moment = typeof time === 'number' ? time : Date.parse(time)
    return (
      sheet.left +
      (Math.min(Math.max(moment, span[0]), span[1]) - span[0]) *
        ((sheet.width - sheet.left - sheet.right) / (span[1] - span[0]))
    )
  }
}

/** The ground under the rows: hatched, since nothing is open where no window is drawn on it. */
export function Hatched({ id, rows }: { id: string; rows: number }) {
  return (
    <>
      <defs>
        <pattern
          id={id}
          width="6"
          height="6"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <line x1="0" y1="0" x2="0" y2="6" stroke="var(--rule)" strokeWidth="1.6" />
        </pattern>
      </defs>
      <rect
        x={sheet.left}
        y={sheet.top - 6}
        width={sheet.width - sheet.left - sheet.right}
        height={rows * sheet.rowHeight + 8}
        fill={`url(#${id})`}
        stroke="var(--rule)"
      />
    </>
  )
}

/** The hours of a site's clock, above the rows and through them. */
export function Hours({
  span,
  zone,
  height,
}: {
  span: [number, number]
  zone?: string
  height: number
}) {
  const x = placer(span)
  return hours(span).map((time) => (
    <g key={time} pointerEvents="none">
      <line
        x1={x(time)}
        x2={x(time)}
        y1={sheet.top - 6}
        y2={height - 8}
        stroke="var(--rule)"
        strokeDasharray="1 3"
      />
      <text
        x={x(time)}
        y={14}
        textAnchor="middle"
        fontSize="12"
        fill="var(--quiet)"
        className="mono"
      >
        {clock(new Date(time).toISOString(), zone).slice(0, 5)}
      </text>
    </g>
  ))
}
