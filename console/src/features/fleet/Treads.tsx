const mostDrawn = 5

/** The way to the wanted release as small treads, one a hop, with the release and how many hops lead there. */
export function Treads({ way }: { way: string[] }) {
  if (way.length === 0) return <span className="quiet">–</span>
  const drawn = Math.min(way.length, mostDrawn)
  return (
    <span title={way.join(', then ')}>
      <svg
        width={12 * (drawn + 1)}
        height="16"
        aria-hidden="true"
        style={{ verticalAlign: '-2px', marginRight: 8 }}
      >
        {Array.from({ length: drawn + 1 }, (_, step) => step).map((step) => (
          <rect
            key={step}
            x={12 * step + 0.5}
            y={12 - (12 / drawn) * step}
            width="9"
            height={3.5 + (12 / drawn) * step}
            fill={step === 0 ? 'var(--lagoon)' : 'none'}
            stroke="var(--lagoon)"
          />
        ))}
      </svg>
      <span className="mono nowrap">{way.at(-1)}</span>
      {way.length > 1 && <span className="quiet"> in {way.length} hops</span>}
    </span>
  )
}
