import type { Device } from '../../api/client'

const order = ['there', 'behind', 'must-stay', 'silent', 'unread']

/** How many devices stand how, in a fixed order, without the empty ones. */
export function counts(devices: Device[]): [string, number][] {
  return order
    .map((standing): [string, number] => [standing, devices.filter((d) => d.standing === standing).length])
    .filter(([, number]) => number > 0)
}

/** Devices in which every word of the filter occurs somewhere a person would look for it. */
export function matching(devices: Device[], filter: string): Device[] {
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean)
  return devices.filter((d) => {
    const text = [d.name, d.family, d.title, d.model, d.siteTitle, d.role, d.address, d.runs, d.standing, ...d.way, ...d.toKnow]
      .join(' ')
      .toLowerCase()
    return words.every((word) => text.includes(word))
  })
}
