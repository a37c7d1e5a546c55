import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import type { Placed, Plan, PlanNight, PlanNights } from '../../api/client'
import { page, press, stub } from '../../test/house'
import { Nights } from './Nights'
import { foldedAbove, hours, linesOf, rowsOf, spanOf } from './sheet'

const part = (
  unit: string,
  siteTitle: string,
  from: string,
  to: string,
  more: Partial<Placed> = {},
): Placed => ({
  unit,
  family: 'osmer-r6',
  site: siteTitle.toLowerCase(),
  siteTitle,
  zone: 'Europe/Lisbon',
  part: 1,
  parts: 1,
  from: '2.4.0',
  way: ['2.6.3'],
  pilot: false,
  stagedBy: '2026-11-23T18:00:00Z',
  opens: '2026-11-24T01:15:00Z',
  closes: '2026-11-24T04:30:00Z',
  begins: `2026-11-24T${from}:00Z`,
  ends: `2026-11-24T${to}:00Z`,
  likelyBy: `2026-11-24T${from}:00Z`,
  chance: 1,
  outside: '',
  why: 'it is the first window that holds it',
  heldBack: false,
  gates: 1,
  serves: '',
  darkSeconds: 240,
  reached: [],
  ...more,
})

const night = (date: string, units: Placed[], chance = 0.99): PlanNight => ({
  night: date,
  begins: '2026-11-24T01:15:00Z',
  median: '2026-11-24T01:40:00Z',
  p90: '2026-11-24T01:45:00Z',
  chance,
  decides: 'the come-back of rt-dunmere-1 (2.4.0 > 2.6.3), in 80 of 100 such nights',
  cutsOff: [],
  serves: ['Dunmere ticket hall'],
  units,
})

const nights: PlanNights = {
  plan: 'winter',
  begins: 'next-window',
  from: '2026-11-23T18:00:00Z',
  ends: '2026-11-25T02:00:00Z',
  nightsAtLeast: 1,
  endsAtLeast: '2026-11-25T02:00:00Z',
  laterBy: 0,
  pinned: {},
  excluded: [],
  asks: 'each',
  whenOdd: 'ask',
  siteOrder: [],
  nights: [
    night('2026-11-23', [
      part('rt-dunmere-1', 'Dunmere', '01:15', '01:25', { pilot: true }),
      part('fw-aldwick', 'Aldwick', '01:20', '01:30'),
    ]),
    night('2026-11-24', [part('sw-dunmere-1', 'Dunmere', '01:15', '01:25')], 0.6),
  ],
  nowhere: [
    {
      unit: 'vg-eskholm',
      site: 'eskholm',
      sentence: 'Part 1 of vg-eskholm needs 27 min; the longest window at eskholm is 25 min.',
    },
  ],
}

const plan = {
  name: 'winter',
  state: 'draft',
  units: [
    { device: 'rt-dunmere-1', site: 'dunmere' },
    { device: 'sw-dunmere-1', site: 'dunmere' },
    { device: 'fw-aldwick', site: 'aldwick' },
  ],
} as unknown as Plan

test('rows go by site and then by their beginning, and the sheet holds every window', () => {
  const one = night('2026-11-23', [
    part('b', 'Dunmere', '02:00', '02:10', { part: 2 }),
    part('b', 'Dunmere', '01:15', '01:25'),
    part('a', 'Dunmere', '01:30', '01:40'),
    part('c', 'Aldwick', '03:00', '03:10'),
  ])
  expect(
    rowsOf({ ...one, units: [...one.units].sort((p, q) => p.begins.localeCompare(q.begins)) }).map(
      (r) => r.unit,
    ),
  ).toEqual(['c', 'b', 'a'])
  const [from, to] = spanOf(one)
  expect(from).toBeLessThan(Date.parse('2026-11-24T01:15:00Z'))
  expect(to).toBeGreaterThan(Date.parse('2026-11-24T04:30:00Z'))
  expect(hours([from, to]).map((h) => new Date(h).toISOString().slice(11, 16))).toEqual([
    '01:30',
    '02:00',
    '02:30',
    '03:00',
    '03:30',
    '04:00',
    '04:30',
  ])
})

test('tells each night, which one is doubtful, why a unit stands where it stands, and what fits nowhere', async () => {
  stub({ 'GET /api/plans/winter/nights': nights })
  page(<Nights plan={plan} />, '/', '/')
  expect(await screen.findByText(/3 units in 2 nights; no order takes fewer than 1/)).toBeDefined()
  expect(screen.getByText(/longest window at eskholm is 25 min/)).toBeDefined()
  const tabs = screen.getAllByRole('tab')
  expect(tabs.map((t) => t.getAttribute('aria-selected'))).toEqual(['true', 'false'])
  expect(within(tabs[1] as HTMLElement).getByText(/▲ 60 % in time/)).toBeDefined()
  await press('rt-dunmere-1 at Dunmere')
  expect(
    screen.getByText(/does\s+not begin earlier because it is the first window that holds it/),
  ).toBeDefined()
  fireEvent.click(tabs[1] as HTMLElement)
  expect(screen.queryByRole('button', { name: 'rt-dunmere-1 at Dunmere' })).toBeNull()
  expect(screen.getByRole('button', { name: 'sw-dunmere-1 at Dunmere' })).toBeDefined()
})

test('asks what a wish would cost before it makes it so', async () => {
  const made = stub({
    'GET /api/plans/winter/nights': nights,
    'POST /api/plans/winter/nights': { nights, costs: ['it takes 3 nights instead of 2'] },
  })
  page(<Nights plan={plan} />, '/', '/')
  await screen.findByText(/3 units in 2 nights/)
  await press('rt-dunmere-1 at Dunmere')
  await press('Leave it out?')
  expect(await screen.findByText('it takes 3 nights instead of 2')).toBeDefined()
  expect(screen.getByText('If so:')).toBeDefined()
  await press('Make it so')
  await waitFor(() =>
    expect(
      made.filter((call) => call.method === 'POST').map((call) => [call.query, call.body]),
    ).toEqual([
      ['keep=false', { exclude: ['rt-dunmere-1'] }],
      ['keep=true', { exclude: ['rt-dunmere-1'] }],
    ]),
  )
  expect(await screen.findByText('So it is now:')).toBeDefined()
})

test('puts sites in an order, one behind the other, after saying what that costs', async () => {
  const made = stub({
    'GET /api/plans/winter/nights': { ...nights, siteOrder: ['dunmere'] },
    'POST /api/plans/winter/nights': { nights, costs: [] },
  })
  page(<Nights plan={plan} />, '/', '/')
  await screen.findByText(/3 units in 2 nights/)
  fireEvent.change(screen.getByLabelText('Site'), { target: { value: 'aldwick' } })
  await press('Behind dunmere, before all others?')
  expect(await screen.findByText('Nothing else changes by it.')).toBeDefined()
  await press('In any order (dunmere first so far)?')
  await waitFor(() =>
    expect(
      made.filter((call) => call.method === 'POST').map((call) => [call.query, call.body]),
    ).toEqual([
      ['keep=false', { siteOrder: ['dunmere', 'aldwick'] }],
      ['keep=false', { siteOrder: [] }],
    ]),
  )
})

test('says where a person is asked, and what another answer would cost', async () => {
  const made = stub({
    'GET /api/plans/winter/nights': { ...nights, whenOdd: 'go-on' },
    'POST /api/plans/winter/nights': { nights, costs: ['nobody is asked at any gate'] },
  })
  page(<Nights plan={plan} />, '/', '/')
  const odd = await screen.findByLabelText('Odd behind a restart, with another before it')
  expect(within(odd).getByRole('option', { selected: true }).textContent).toBe(
    'goes on; judged at the end',
  )
  fireEvent.change(screen.getByLabelText('A person is asked at the gate of'), {
    target: { value: 'nobody' },
  })
  expect(await screen.findByText('nobody is asked at any gate')).toBeDefined()
  fireEvent.change(odd, { target: { value: 'ask' } })
  await waitFor(() =>
    expect(made.filter((call) => call.method === 'POST').map((call) => call.body)).toEqual([
      { asks: 'nobody' },
      { whenOdd: 'ask' },
    ]),
  )
})

test('folds many units away by site, and opens one site at a press', async () => {
  const many = Array.from({ length: foldedAbove + 10 }, (_, i) =>
    part(`rt-${i}`, i < 45 ? 'Dunmere' : 'Aldwick', '01:15', '01:25'),
  )
  const rows = rowsOf(night('2026-11-23', many))
  expect(linesOf(rows.slice(0, foldedAbove), new Set()).every((l) => l.unit)).toBe(true)
  expect(linesOf(rows, new Set()).map((l) => [l.title, l.units])).toEqual([
    ['Aldwick', 5],
    ['Dunmere', 45],
  ])
  stub({ 'GET /api/plans/winter/nights': { ...nights, nights: [night('2026-11-23', many)] } })
  page(<Nights plan={plan} />, '/', '/')
  await screen.findByText(/50 units in 1 night/)
  expect(screen.queryByRole('button', { name: 'rt-46 at Aldwick' })).toBeNull()
  await press('5 units at Aldwick')
  expect(screen.getByRole('button', { name: 'rt-46 at Aldwick' })).toBeDefined()
  expect(screen.queryByRole('button', { name: 'rt-1 at Dunmere' })).toBeNull()
})
