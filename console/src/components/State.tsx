import { looks } from './words'

/** A state with its word, shape and colour. */
export function State({ of, children }: { of: string; children?: string }) {
  const { tone, shape } = looks(of)
  return (
    <span className={`state ${tone}`}>
      <span aria-hidden="true">{shape}</span> {children ?? of}
    </span>
  )
}
