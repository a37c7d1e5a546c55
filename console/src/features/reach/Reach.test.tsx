import { fireEvent, screen } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import type { NetworkNode, PlanNight } from '../../api/client'
import { page, stub } from '../../test/house'
import { placed, singlePoints } from './layers'
import { Reach } from './Reach'
import { momentsOf } from './Step'

const node = (
  device: string,
  layer: number | undefined,
  links: string[],
  cutOff: string[] = [],
): NetworkNode => ({
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
    expect(singlePoints(nodes).map((n) => n.device)).toEqual(['quay'])
  })

  it('says who loses the network, in users words, when a device is pressed', async () => {
    stub({
      'GET /api/reach': {
        nodes,
        unreached: ['lost'],
        standIns: [],
        contradictions: [],
        unknown: [],
      },
      'GET /api/reach/dark': {
        down: ['quay'],
        cutOff: ['shed'],
        serves: ['the net shed'],
        order: ['quay'],
      },
    })
    page(<Reach />, '/fleet-reach', '/fleet-reach')
    fireEvent.click(await screen.findByRole('button', { name: 'quay, cuts off 1 device' }))
    expect(await screen.findByText('1 other device is cut off while it is down.')).toBeTruthy()
    expect(screen.getByText('the net shed')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'shed, cuts off 0 devices, dark now' })).toBeTruthy()
    expect(screen.getByText(/even when all is up: lost/)).toBeTruthy()
  })

  it('says what is missing when nothing is a root', async () => {
    stub({
      'GET /api/reach': {
        nodes: [node('a', undefined, [])],
        unreached: ['a'],
        standIns: [],
        contradictions: [],
        unknown: [],
      },
    })
    page(<Reach />, '/fleet-reach', '/fleet-reach')
    expect(await screen.findByText(/No device is a root yet/)).toBeTruthy()
  })

  it('steps through the order of a plan: what is in work, and what is dark with it', async () => {
    const unit = (name: string, begins: string, ends: string) => ({
      unit: name,
      begins,
      ends,
      zone: 'Europe/Lisbon',
    })
    const night = {
      night: '2026-11-24',
      units: [
        unit('shed', '2026-11-25T01:15:00Z', '2026-11-25T01:25:00Z'),
        unit('quay', '2026-11-25T01:30:00Z', '2026-11-25T01:40:00Z'),
      ],
    }
    expect(momentsOf(night as unknown as PlanNight)).toEqual([
      { time: '2026-11-25T01:15:00Z', until: '2026-11-25T01:25:00Z', down: ['shed'] },
      { time: '2026-11-25T01:30:00Z', until: '2026-11-25T01:40:00Z', down: ['quay'] },
    ])
    const made = stub({
      'GET /api/reach': {
        nodes,
        unreached: [],
        standIns: [['hill', 'quay']],
        contradictions: ['quay sees hill'],
        unknown: [],
      },
      'GET /api/plans/winter/nights': { plan: 'winter', nights: [night] },
      'GET /api/reach/dark': {
        down: ['quay'],
        cutOff: ['shed'],
        serves: ['the net shed'],
        order: ['quay'],
      },
    })
    page(<Reach />, '/fleet-reach', '/fleet-reach?plan=winter')
    expect(await screen.findByText(/Step 1 of 2, from 01:15 to 01:25/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Then' }))
    expect(await screen.findByText(/Step 2 of 2, from 01:30/)).toBeTruthy()
    expect(
      await screen.findByRole('button', { name: 'shed, cuts off 0 devices, dark now' }),
    ).toBeTruthy()
    expect(
      made.filter((call) => call.path === '/api/reach/dark').map((call) => call.query),
    ).toEqual(['down=shed', 'down=quay'])
    expect(screen.getByText('hill and quay')).toBeTruthy()
    expect(screen.getByText(/quay sees hill/)).toBeTruthy()
  })
})
