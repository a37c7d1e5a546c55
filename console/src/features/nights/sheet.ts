import type { Placed, PlanNight } from '../../api/client'

/** A unit's row on the sheet: its parts of one night, in order. */
export interface Row {
  unit: string
  siteTitle: string
  parts: Placed[]
}

const first = (row: Row) => row.parts[0]?.begins ?? ''

/** Rows by site, then by the time at which a unit begins. */
export function rowsOf(night: PlanNight): Row[] {
  const rows = new Map<string, Row>()
  for (const part of night.units) {
    const row = rows.get(part.unit) ?? { unit: part.unit, siteTitle: part.siteTitle, parts: [] }
    row.parts.push(part)
    rows.set(part.unit, row)
  }
  return [...rows.values()].sort(
    (a, b) =>
      a.siteTitle.localeCompare(b.siteTitle) ||
      first(a).localeCompare(first(b)) ||
      a.unit.localeCompare(b.unit),
  )
}

/** What stands on a line of the sheet: a unit, or a whole site whose units are folded away. */
export interface Line {
  title: string
  siteTitle: string
  /** The unit; empty for a site. */
  unit: string
  units: number
  parts: Placed[]
}

/** More units than these are folded away by site. */
export const foldedAbove = 40

/** The lines of a sheet: every unit, or, where there are many, every site with the units of those that were opened. */
export function linesOf(rows: Row[], opened: ReadonlySet<string>): Line[] {
  const line = (row: Row): Line => ({
    title: row.unit,
    siteTitle: row.siteTitle,
    unit: row.unit,
    units: 1,
    parts: row.parts,
  })
  if (rows.length <= foldedAbove) return rows.map(line)
  return [...new Set(rows.map((row) => row.siteTitle))].flatMap((siteTitle) => {
    const here = rows.filter((row) => row.siteTitle === siteTitle)
    const site = {
      title: siteTitle,
      siteTitle,
      unit: '',
      units: here.length,
      parts: here.flatMap((row) => row.parts),
    }
    return opened.has(siteTitle) ? [site, ...here.map(line)] : [site]
  })
}

/** From when to when the sheet runs (milliseconds): all windows of the night's units, but no more than three hours on either side of what is done. */
export function spanOf(night: PlanNight): [number, number] {
  const at = (pick: (part: Placed) => string) => night.units.map((part) => Date.parse(pick(part)))
  const margin = 3 * 3600_000
  const from = Math.max(Math.min(...at((p) => p.opens)), Math.min(...at((p) => p.begins)) - margin)
  const to = Math.min(Math.max(...at((p) => p.closes)), Math.max(...at((p) => p.ends)) + margin)
  const edge = (to - from) * 0.03
  return [from - edge, to + edge]
}

/** Full hours of a stretch, or every so many of them, so that no more than eight are written. */
export function hours([from, to]: [number, number]): number[] {
  const step =
    [0.25, 0.5, 1, 2, 3, 6].map((h) => h * 3600_000).find((s) => (to - from) / s <= 8) ??
    12 * 3600_000
  const first = Math.ceil(from / step) * step
  return Array.from(
    { length: Math.max(0, Math.floor((to - first) / step) + 1) },
    (_, i) => first + i * step,
  )
}
