import { screen, waitFor } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { page, stub } from '../../test/house'
import { Paths } from './Paths'
import { treads } from './stair'

const hop = (component: string, from: string, to: string, more = {}) => ({
  component,
  from,
  to,
  images: [{ fileName: `${to}.img`, sizeBytes: 9400320, sha256: '' }],
  lookAlikes: [],
  brings: [],
  restarts: 1,
  darkSeconds: 240,
  configuration: 'kept',
  mayRest: true,
  why: [],
  toKnow: [],
  ...more,
})
const rule = {
  rule: 'osmer/settings-28',
  sentence: '2.8 takes over settings only from 2.6.3 or later',
  source: 'note',
}
const found = {
  device: 'rt-1',
  family: 'osmer-r6',
  title: 'Osmer R6',
  revision: 'C',
  site: 'Dunmere',
  runs: '2.4.0',
  wanted: '2.8.2',
  policy: 'recommended',
  chosenBy: [
    { what: 'revision', value: 'C', source: 'shown' },
    { what: 'region', value: 'north', source: 'written' },
  ],
  readAt: null,
  outcome: 'found',
  best: {
    hops: [
      hop('system', '2.4.0', '2.6.3', { why: [rule] }),
      hop('system', '2.6.3', '2.8.2', { toKnow: ['short passwords are refused'] }),
    ],
    restarts: 2,
    darkSeconds: 480,
    bytes: 20000000,
  },
  alternatives: [],
  obstacles: [],
  highestReachable: null,
}
const devices = [{ name: 'rt-1', family: 'osmer-r6', exposed: [] }]

describe('the path of a device', () => {
  it('says the path in a sentence, draws it, and gives every reason and caveat', async () => {
    stub({ 'GET /api/devices': devices, 'GET /api/releases': [], 'GET /api/paths': found })
    page(<Paths />, '/paths', '/paths?device=rt-1')
    expect(await screen.findByText('How does rt-1 get to 2.8.2?')).toBeTruthy()
    expect(
      screen.getByText(
        'Two hops, 2 restarts, about 8 min of dark. It can rest on 2.6.3 for as long as you like.',
      ),
    ).toBeTruthy()
    expect(screen.getByRole('img', { name: 'From 2.4.0 to 2.6.3 to 2.8.2' })).toBeTruthy()
    expect(screen.getByText(/Hop 1 is there because 2.8 takes over settings/)).toBeTruthy()
    expect(screen.getByText(/short passwords are refused/)).toBeTruthy()
    expect(screen.getByText('by the device').parentElement?.textContent).toContain('revision C')
    expect(screen.getByText('as written').parentElement?.textContent).toContain('region north')
  })

  it('says what stands in the way and how far it goes', async () => {
    const refused = {
      ...found,
      outcome: 'refused',
      best: null,
      obstacles: ['2.8 may be taken with support entitlement only; seen: no support entitlement'],
      highestReachable: '2.6.3',
    }
    stub({ 'GET /api/devices': devices, 'GET /api/releases': [], 'GET /api/paths': refused })
    page(<Paths />, '/paths', '/paths?device=rt-1')
    expect((await screen.findByRole('alert')).textContent).toContain('One thing stands in the way')
    expect(screen.getByRole('link', { name: '2.6.3' }).getAttribute('href')).toBe(
      '/paths?device=rt-1&to=2.6.3',
    )
    expect(screen.queryByRole('img')).toBeNull()
  })

  it('asks again for another preference', async () => {
    const sent = stub({
      'GET /api/devices': devices,
      'GET /api/releases': [],
      'GET /api/paths': found,
    })
    page(<Paths />, '/paths', '/paths?device=rt-1&to=2.8.2')
    await screen.findByText('How does rt-1 get to 2.8.2?')
    const asked = () =>
      sent
        .filter((call) => call.path === '/api/paths')
        .map((call) => new URLSearchParams(call.query).get('prefer'))
    await waitFor(() =>
      expect(new Set(asked())).toEqual(new Set(['fewest-restarts', 'shortest-dark', 'proven'])),
    )
    await waitFor(() => expect(screen.getAllByText('the same path')).toHaveLength(2))
  })

  it('says that nothing is to be done, and that a device is not known', async () => {
    stub({
      'GET /api/devices': devices,
      'GET /api/releases': [],
      'GET /api/paths': { ...found, outcome: 'already-there', best: null },
    })
    page(<Paths />, '/paths', '/paths?device=rt-1')
    expect(
      await screen.findByText('Nothing to do: it runs the wanted release already.'),
    ).toBeTruthy()
    stub({ 'GET /api/devices': devices, 'GET /api/releases': [] })
    page(<Paths />, '/paths', '/paths?device=rt-9')
    expect(await screen.findByText('There is no device "rt-9" here.')).toBeTruthy()
  })
})

describe('the treads of a path', () => {
  it('give each component its own stair on one axis', () => {
    const lanes = treads(
      [
        hop('board', '1.12', '1.15'),
        hop('system', '2.4.0', '2.6.3'),
        hop('system', '2.6.3', '2.8.2'),
      ] as never,
      'system',
    )
    expect(lanes.map((lane) => lane.map((t) => [t.release, t.from, t.to, t.level]))).toEqual([
      [
        ['2.4.0', 0, 2, 0],
        ['2.6.3', 2, 3, 1],
        ['2.8.2', 3, 4, 2],
      ],
      [
        ['1.12', 0, 1, 0],
        ['1.15', 1, 4, 1],
      ],
    ])
  })

  it('descend on the way back', () => {
    const [lane] = treads([hop('system', '2.10.0', '2.9.1')] as never, 'system')
    expect(lane?.map((t) => t.level)).toEqual([0, -1])
  })

  it('compares the other ways, and says what happens inside a unit of several members', async () => {
    const longer = {
      ...found.best,
      hops: [...found.best.hops, hop('system', '2.7.1', '2.8.2')],
      restarts: 3,
      darkSeconds: 720,
    }
    const order = {
      darkSeconds: 8,
      takesSeconds: 600,
      moves: [
        { sentence: 'member 2 restarts from 6.1.0 into 6.1.2', darkSeconds: 0, takesSeconds: 300 },
        { sentence: 'member 1 hands over to member 2', darkSeconds: 8, takesSeconds: 8 },
      ],
      barred: ['5.6.0 and 6.1.0 do not work side by side in one unit'],
    }
    const answer = {
      ...found,
      alternatives: [longer],
      byOlderOnes: { days: 90, endsAt: '2.6.3' },
      order,
    }
    stub({ 'GET /api/devices': devices, 'GET /api/releases': [], 'GET /api/paths': answer })
    page(<Paths />, '/paths', '/paths?device=rt-1')
    expect(await screen.findByText('1 hop more, 1 restart more, 4 min longer dark')).toBeTruthy()
    expect(screen.getByText('plan it').getAttribute('href')).toContain('alternative=1')
    expect(screen.getByText('Plan this path').getAttribute('href')).toContain('devices=rt-1')
    expect(screen.getByText(/With releases older than 90 days only/)).toBeTruthy()
    expect(screen.getByText(/member 1 hands over to member 2/).textContent).toContain('8 s dark')
    expect(screen.getByText(/Not member by member: 5.6.0 and 6.1.0/)).toBeTruthy()
  })

  it('asks about hardware that nobody owns as the address says it', async () => {
    const made = stub({
      'GET /api/devices': devices,
      'GET /api/releases': [],
      'GET /api/paths': { ...found, site: '', device: 'R6-4' },
    })
    page(
      <Paths />,
      '/paths',
      '/paths?family=osmer-r6&model=R6-4&revision=B&features=a,b&runs=2.4.0&to=2.8.2',
    )
    expect(await screen.findByText('nobody owns it')).toBeTruthy()
    const asked = made.find((call) => call.path === '/api/paths')?.query ?? ''
    expect(new URLSearchParams(asked).get('revision')).toBe('B')
    expect(new URLSearchParams(asked).getAll('features')).toEqual(['a', 'b'])
  })
})
