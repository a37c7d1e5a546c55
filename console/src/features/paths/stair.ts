import type { Hop } from '../../api/client'

/** A tread: a release that one component runs from one point of the path to another (in hops from the start). */
export interface Tread {
  component: string
  release: string
  from: number
  to: number
  /** Steps above where the component stood at the start; below it when going back. */
  level: number
  /** The hop that leads to it; none leads to where it stands now. */
  hop?: Hop
}

/** The treads of every component that moves, the wanted one first. */
export function treads(hops: Hop[], main: string): Tread[][] {
  const components = [main, ...new Set(hops.map((hop) => hop.component).filter((c) => c !== main))]
  return components.map((component) => {
    const own = hops
      .map((hop, i) => ({ hop, at: i + 1 }))
      .filter(({ hop }) => hop.component === component)
    const first = own[0]
    if (!first) return []
    const direction = goesDown(own.map(({ hop }) => hop)) ? -1 : 1
    const start: Tread = { component, release: first.hop.from, from: 0, to: first.at, level: 0 }
    return [
      start,
      ...own.map(({ hop, at }, i) => ({
        component,
        release: hop.to,
        from: at,
        to: own[i + 1]?.at ?? hops.length + 1,
        level: direction * (i + 1),
        hop,
      })),
    ]
  })
}

const collator = new Intl.Collator('en', { numeric: true })

function goesDown(hops: Hop[]): boolean {
  return collator.compare(hops.at(-1)?.to ?? '', hops[0]?.from ?? '') < 0
}

/** A path in one sentence. */
export function inWords(hops: Hop[], restarts: number, dark: string): string {
  const rests = hops.slice(0, -1).filter((hop) => hop.mayRest)
  const number =
    ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six'][hops.length] ?? `${hops.length}`
  const resting =
    rests.length > 0
      ? ` It can rest on ${rests.map((hop) => hop.to).join(' and on ')} for as long as you like.`
      : ''
  return `${number} ${hops.length === 1 ? 'hop' : 'hops'}, ${restarts} ${restarts === 1 ? 'restart' : 'restarts'}, about ${dark} of dark.${resting}`
}
