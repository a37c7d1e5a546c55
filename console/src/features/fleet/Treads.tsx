/** The way to the wanted release as small treads, one a release. */
export function Treads({ way }: { way: string[] }) {
  if (way.length === 0) return <span className="quiet">–</span>
  return (
    <span style={{ whiteSpace: 'nowrap' }}>
      <svg width={12 * (way.length + 1)} height="16" aria-hidden="true" style={{ verticalAlign: '-2px', marginRight: 8 }}>
        {[0, ...way.map((_, i) => i + 1)].map((step) => (
          <rect
            key={step}
            x={12 * step + 0.5}
            y={12 - 5 * step}
            width="9"
            height={3.5 + 5 * step}
            fill={step === 0 ? 'var(--lagoon)' : 'none'}
            stroke="var(--lagoon)"
          />
        ))}
      </svg>
      <span className="mono">{way.join(' → ')}</span>
    </span>
  )
}
