import type { NetworkNode } from '../../api/client'

export interface Placed {
  node: NetworkNode
  x: number
  y: number
}

export const nodeWidth = 124
export const nodeHeight = 20
const columnGap = 8
const rowGap = 5
const layerGap = 26
const across = 8

/**
 * The network as layers, the roots on top and each step away one layer further down; a wide layer takes several rows. Within a layer devices stand near the ones
 * above that they are joined with (the mean of their places), so that lines run short; of equals by name.
 */
export function placed(nodes: NetworkNode[]): Placed[] {
  const layers = new Map<number, NetworkNode[]>()
  for (const node of nodes) {
    if (node.layer === null || node.layer === undefined) continue
    layers.set(node.layer, [...(layers.get(node.layer) ?? []), node])
  }
  const place = new Map<string, number>()
  const all: Placed[] = []
  let top = 0
  for (const layer of [...layers.keys()].sort((a, b) => a - b)) {
    const near = (node: NetworkNode) => {
      const above = node.links.flatMap((link) => place.get(link) ?? [])
      return above.length === 0 ? 0 : above.reduce((sum, x) => sum + x, 0) / above.length
    }
    const row = (layers.get(layer) ?? []).map((node) => ({ node, near: near(node) }))
    row.sort((a, b) => a.near - b.near || a.node.device.localeCompare(b.node.device))
    row.forEach(({ node }, i) => {
      all.push({
        node,
        x: (i % across) * (nodeWidth + columnGap),
        y: top + Math.floor(i / across) * (nodeHeight + rowGap),
      })
    })
    row.forEach(({ node }, i) => {
      place.set(node.device, (i % across) / Math.min(across, row.length))
    })
    top += Math.ceil(row.length / across) * (nodeHeight + rowGap) + layerGap
  }
  return all
}

/** The devices that cut others off, the worst first. */
export function singlePoints(nodes: NetworkNode[]): NetworkNode[] {
  return nodes
    .filter((n) => n.cutOff.length > 0)
    .sort((a, b) => b.cutOff.length - a.cutOff.length || a.device.localeCompare(b.device))
}
