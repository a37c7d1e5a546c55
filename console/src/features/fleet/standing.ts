import type { Device } from '../../api/client'

const order = ['there', 'behind', 'must-stay', 'silent', 'no-target', 'unread']

/** How many devices stand how, in a fixed order, without the empty ones. */
export function counts(devices: Device[]): [string, number][] {
  return order
    .map((standing): [string, number] => [
      standing,
      devices.filter((d) => d.standing === standing).length,
    ])
    .filter(([, number]) => number > 0)
}

/** What the fleet can be sorted by. */
export type Column = 'name' | 'title' | 'siteTitle' | 'runs' | 'behindBy' | 'standing' | 'readAt'

const collator = new Intl.Collator('en', { numeric: true })

/** The devices in the order of one column; of equals, by name. Numbers within texts count as numbers, so 2.10 stands behind 2.9. */
export function sorted(devices: Device[], by: Column, down: boolean): Device[] {
  const sign = down ? -1 : 1
  return [...devices].sort((a, b) => {
    const one = a[by]
    const other = b[by]
    const order =
      typeof one === 'number' && typeof other === 'number'
        ? one - other
        : collator.compare(`${one ?? ''}`, `${other ?? ''}`)
    return order * sign || collator.compare(a.name, b.name)
  })
}
