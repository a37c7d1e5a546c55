import type { NetworkNode } from '../../api/client'

export interface Placed {
  node: NetworkNode
  x: number
  y: number
}

export const nodeWidth = 118
export const nodeHeight = 20
const columnGap = 24
const rowGap = 5

/**
 * The network as columns: the roots on the left, each step away one column further. Within a column devices stand near the ones before them that they are
 * joined with (the mean of their places), so that lines run short; of equals by name.
 */
export function placed(nodes: NetworkNode[]): Placed[] {
  const layers = new Map<number, NetworkNode[]>()
  for (const node of nodes) {
    if (node.layer === null || node.layer === undefined) continue
    layers.set(node.layer, [...(layers.get(node.layer) ?? []), node])
  }
  const rank = new Map<string, number>()
  const all: Placed[] = []
  for (const layer of [...layers.keys()].sort((a, b) => a - b)) {
    const before = (node: NetworkNode) => {
      const ranks = node.links.flatMap((link) => {
        const r = rank.get(link)
        return r === undefined ? [] : [r]
      })
      return ranks.length === 0 ? 0 : ranks.reduce((sum, r) => sum + r, 0) / ranks.length
    }
    const column = (layers.get(layer) ?? []).map((node) => ({ node, near: before(node) }))
    column.sort((a, b) => a.near - b.near || a.node.device.localeCompare(b.node.device))
    column.forEach(({ node }, row) => {
      all.push({ node, x: layer * (nodeWidth + columnGap), y: row * (nodeHeight + rowGap) })
    })
    for (const { node } of column)
      rank.set(
        node.device,
        column.findIndex((c) => c.node === node),
      )
  }
  return all
}

/** What is dark while one device restarts: it, and what it cuts off. */
export function darkWith(nodes: NetworkNode[], device: string): ReadonlySet<string> {
  const node = nodes.find((n) => n.device === device)
  return new Set(node ? [device, ...node.cutOff] : [])
}

/** The devices that cut others off, the worst first. */
export function singlePoints(nodes: NetworkNode[]): NetworkNode[] {
  return nodes
    .filter((n) => n.cutOff.length > 0)
    .sort((a, b) => b.cutOff.length - a.cutOff.length || a.device.localeCompare(b.device))
}
