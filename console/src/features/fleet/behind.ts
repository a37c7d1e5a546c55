import type { Device } from '../../api/client'

/** Where a device stands in the figure: so many releases behind, there, or out of the order. */
export const columns = [
  '4 or more',
  '3 behind',
  '2 behind',
  '1 behind',
  'there',
  'must stay',
  'not known',
] as const
export type Column = (typeof columns)[number]

export interface Cell {
  column: Column
  devices: Device[]
  exposed: number
}

export interface Row {
  family: string
  title: string
  cells: Cell[]
}

export function columnOf(device: Device): Column {
  switch (device.standing) {
    case 'there':
      return 'there'
    case 'must-stay':
      return 'must stay'
    case 'behind':
      // A hop to a release that is not general counts as one as well.
      return (
        (['1 behind', '1 behind', '2 behind', '3 behind'] as const)[device.behindBy] ?? '4 or more'
      )
    default:
      return 'not known'
  }
}

/** The fleet family by family; exposed devices first in each cell. */
export function rows(devices: Device[]): Row[] {
  const families = new Map<string, Device[]>()
  for (const device of devices)
    families.set(device.family, [...(families.get(device.family) ?? []), device])
  return [...families.entries()]
    .map(([family, members]) => ({
      family,
      title: members[0]?.title ?? family,
      cells: columns.map((column) => {
        const here = members.filter((d) => columnOf(d) === column)
        const exposed = here.filter((d) => d.exposed.length > 0)
        return {
          column,
          devices: [...exposed, ...here.filter((d) => d.exposed.length === 0)],
          exposed: exposed.length,
        }
      }),
    }))
    .sort((a, b) => a.title.localeCompare(b.title))
}

/** The selection that means the devices of a cell, as near as the language comes. */
export function selectionOf(row: Row, column: Column): string {
  const standing =
    column === 'there'
      ? 'there'
      : column === 'must stay'
        ? 'must-stay'
        : column === 'not known'
          ? 'silent,unread,no-target'
          : 'behind'
  return `family:${row.family} standing:${standing}`
}
