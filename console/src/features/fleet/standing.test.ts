import { describe, expect, it } from 'vitest'
import type { Device } from '../../api/client'
import { columnOf, rows, selectionOf } from './behind'
import { counts, sorted } from './standing'

const device = (name: string, standing: string, siteTitle: string, runs: string) =>
  ({
    name,
    standing,
    siteTitle,
    runs,
    family: 'osmer-r6',
    model: 'R6-4',
    role: '',
    address: '',
    way: [],
    toKnow: [],
  }) as unknown as Device
const fleet = [
  device('rt-dunmere-1', 'behind', 'Dunmere', '2.4.0'),
  device('rt-eskholm-1', 'there', 'Eskholm', '2.8.2'),
  device('rt-carrow-1', 'behind', 'Carrow Sound', '2.6.3'),
]

describe('the fleet at a glance', () => {
  it('counts in a fixed order and leaves empty standings out', () => {
    expect(counts(fleet)).toEqual([
      ['there', 1],
      ['behind', 2],
    ])
  })

  it('sorts numbers within releases as numbers, and equals by name', () => {
    const three = [
      device('b', 'there', 'X', '2.10.0'),
      device('c', 'there', 'X', '2.9.1'),
      device('a', 'there', 'X', '2.9.1'),
    ]
    expect(sorted(three, 'runs', false).map((d) => d.name)).toEqual(['a', 'c', 'b'])
    expect(sorted(three, 'runs', true).map((d) => d.name)).toEqual(['b', 'a', 'c'])
    expect(three.map((d) => d.name)).toEqual(['b', 'c', 'a'])
  })

  it('puts each device into one column of the figure, the exposed ones first', () => {
    const at = (name: string, standing: string, behindBy: number, exposed: string[] = []) =>
      ({
        ...device(name, standing, 'X', '1'),
        title: 'Osmer R6',
        behindBy,
        exposed,
      }) as unknown as Device
    expect(columnOf(at('a', 'behind', 0))).toBe('1 behind')
    expect(columnOf(at('a', 'behind', 3))).toBe('3 behind')
    expect(columnOf(at('a', 'behind', 9))).toBe('4 or more')
    expect(columnOf(at('a', 'silent', 2))).toBe('not known')
    const row = rows([at('a', 'behind', 2), at('b', 'behind', 2, ['NF-1']), at('c', 'there', 0)])[0]
    expect(
      row?.cells
        .filter((c) => c.devices.length > 0)
        .map((c) => [c.column, c.devices.map((d) => d.name).join(), c.exposed]),
    ).toEqual([
      ['2 behind', 'b,a', 1],
      ['there', 'c', 0],
    ])
    expect(row && selectionOf(row, 'must stay')).toBe('family:osmer-r6 standing:must-stay')
  })
})
