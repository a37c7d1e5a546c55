import { fireEvent, screen } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import type { NetworkNode } from '../../api/client'
import { page, stub } from '../../test/house'
import { darkWith, placed, singlePoints } from './layers'
import { Reach } from './Reach'

const node = (device: string, layer: number | undefined, links: string[], cutOff: string[] = []): NetworkNode => ({
  device,
  family: 'osmer-r6',
  site: 'dunmere',
  layer,
  root: layer === 0,
  links,
  cutOff,
})
const nodes = [
  node('core', 0, ['quay', 'hill']),
  node('quay', 1, ['core', 'shed'], ['shed']),
  node('hill', 1, ['core']),
  node('shed', 2, ['quay']),
  node('lost', undefined, []),
]

describe('the reach', () => {
  it('places each device by its steps from the roots, and leaves out what has no way', () => {
    const places = placed(nodes)
    expect(places.map((p) => p.node.device)).toEqual(['core', 'hill', 'quay', 'shed'])
    expect(new Set(places.filter((p) => p.node.layer === 1).map((p) => p.y)).size).toBe(1)
    expect(new Set(places.map((p) => `${p.x} ${p.y}`)).size).toBe(4)
    expect([...darkWith(nodes, 'quay')]).toEqual(['quay', 'shed'])
    expect(singlePoints(nodes).map((n) => n.device)).toEqual(['quay'])
  })

  it('says who loses the network, in users words, when a device is pressed', async () => {
    stub({
      'GET /api/reach': { nodes, unreached: ['lost'], unknown: [] },
      'GET /api/reach/dark': { down: ['quay'], cutOff: ['shed'], serves: ['the net shed'], order: ['quay'] },
    })
    page(<Reach />, '/fleet-reach', '/fleet-reach')
    fireEvent.click(await screen.findByRole('button', { name: 'quay, cuts off 1 device' }))
    expect(await screen.findByText('1 other device is cut off while it is down.')).toBeTruthy()
    expect(screen.getByText('the net shed')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'shed, cuts off 0 devices, dark now' })).toBeTruthy()
    expect(screen.getByText(/even when all is up: lost/)).toBeTruthy()
  })

  it('says what is missing when nothing is a root', async () => {
    stub({ 'GET /api/reach': { nodes: [node('a', undefined, [])], unreached: ['a'], unknown: [] } })
    page(<Reach />, '/fleet-reach', '/fleet-reach')
    expect(await screen.findByText(/No device is a root yet/)).toBeTruthy()
  })
})
