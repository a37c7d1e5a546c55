import { fireEvent, screen, waitFor } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { page, press, pressInVain, stub } from '../../test/house'
import { Tonight } from './Tonight'

const started = new Date(Date.now() - 30000).toISOString()
const step = (ordinal: number, name: string, state: string, more = {}) => ({
  ordinal,
  hop: 1,
  name,
  state,
  attempts: 1,
  expected: '',
  seen: '',
  waiting: '',
  startedAt: started,
  finishedAt: state === 'done' ? started : null,
  changes: [],
  configuration: null,
  ...more,
})
const unit = (device: string, more = {}) => ({
  id: 1,
  device,
  site: 'dunmere',
  siteTitle: 'Dunmere',
  zone: 'Europe/Lisbon',
  serves: 'Dunmere ticket hall',
  from: '2.4.0',
  to: '2.8.2',
  state: 'staged',
  restarts: 2,
  darkSeconds: 480,
  expectedSeconds: 600,
  gate: null,
  setAsideWhy: null,
  copy: null,
  trouble: null,
  steps: [
    step(1, 'check', 'done', { seen: 'runs 2.4.0' }),
    step(2, 'come-back', 'looking', { waiting: 'late: no answer for 5 min' }),
  ],
  ...more,
})
const run = (...units: object[]) => ({
  id: 1,
  name: 'tonight',
  plan: 'tonight',
  state: 'under-way',
  startedBy: 'ines',
  startedAt: started,
  finishedAt: null,
  pace: 1,
  units,
})
/** The list with one run in it, and the run itself. */
const runs = (one: ReturnType<typeof run>) => ({
  'GET /api/runs': [{ ...one, units: one.units.length }],
  [`GET /api/runs/${one.name}`]: one,
})
const gate = {
  question: 'rt-dunmere-1 restarts 2 times.',
  askedAt: started,
  open: false,
  by: null,
  at: null,
}
const trouble = {
  step: 'come-back',
  expected: 'back within 4 min',
  seen: 'it stands in its boot loader',
  remedy: 'Read its last lines.',
  lastLines: ['loader>'],
  ways: ['rescue', 'retry', 'set-aside'],
  back: '',
}

describe('tonight', () => {
  it('lets a person hold a unit, let it go on, take it back in, and end the run', async () => {
    const sent = stub({
      ...runs(
        run(
          unit('rt-dunmere-1', { gate }),
          unit('rt-eskholm-1', { held: true, gate }),
          unit('rt-ostrand-1', {
            state: 'set-aside',
            setAsideWhy: 'no power there',
            gate,
            trouble,
          }),
        ),
      ),
      'POST /api/runs/tonight/units/rt-dunmere-1/hold': {},
      'POST /api/runs/tonight/units/rt-eskholm-1/resumption': {},
      'POST /api/runs/tonight/units/rt-ostrand-1/take-in': {},
      'POST /api/runs/tonight/abandonment': {},
    })
    page(<Tonight />, '/tonight', '/tonight')
    expect(await screen.findByText(/rt-ostrand-1 is set aside: no power there/)).toBeTruthy()
    expect(screen.queryByText(/rt-ostrand-1 is stuck|Gate before rt-ostrand-1/)).toBeNull()
    expect(screen.getAllByText('held').length).toBeGreaterThan(0)
    await press('Hold it')
    await press('Let it go on')
    await press('Take it back in')
    fireEvent.change(screen.getByLabelText('Why the run is abandoned'), {
      target: { value: 'the ferry is late' },
    })
    await press('Abandon it; each unit stays as it stands')
    await waitFor(() => expect(sent.filter((call) => call.method === 'POST').length).toBe(4))
    expect(sent.find((call) => call.path.endsWith('/abandonment'))?.body).toEqual({
      why: 'the ferry is late',
    })
  })

  it('says what waits, and lets a person say go', async () => {
    const sent = stub({
      ...runs(run(unit('rt-dunmere-1', { gate }))),
      'POST /api/runs/tonight/units/rt-dunmere-1/go': {},
    })
    page(<Tonight />, '/tonight', '/tonight')
    expect(await screen.findByText('rt-dunmere-1 restarts 2 times.')).toBeTruthy()
    expect(screen.getAllByText('at the gate').length).toBeGreaterThan(0)
    expect(screen.getByText('late: no answer for 5 min')).toBeTruthy()
    await press('Go')
    await waitFor(() =>
      expect(sent.some((call) => call.method === 'POST' && call.path.endsWith('/go'))).toBe(true),
    )
  })

  it('shows how far a copy is, how fast it goes and what is left', async () => {
    const copy = {
      device: 'rt-dunmere-1',
      address: '192.0.2.1',
      fileName: 'osmer-r6c-2.8.2.img',
      over: 'http',
      sentBytes: 4_700_000,
      sizeBytes: 11_200_000,
      bytesPerSecond: 116_000,
      secondsLeft: 56,
      beganAt: started,
    }
    stub({ ...runs(run(unit('rt-dunmere-1', { copy, steps: [step(3, 'stage', 'acting')] }))) })
    page(<Tonight />, '/tonight', '/tonight')
    expect(
      await screen.findByText(
        /osmer-r6c-2.8.2.img: 41 % of 11.2 MB over http, 116 kB\/s, 56 s left/,
      ),
    ).toBeTruthy()
  })

  it('counts the images that are proven on their devices, and says by what way the others come', async () => {
    const hop = (device: string, state: string, more = {}) => ({
      device,
      site: 'heron',
      hop: 1,
      release: 'r48',
      files: ['l4-r48.rad'],
      sizeBytes: 90_000,
      state,
      words: '',
      from: '',
      copy: null,
      ...more,
    })
    stub({
      ...runs(run(unit('rl-heron'))),
      'GET /api/runs/tonight/staging': [
        hop('rl-heron', 'coming', {
          from: 'rl-brae-top',
          words: 'rl-brae-top is sending: l4-r48.rad to all, 41 of 88 blocks',
        }),
        hop('rl-curlew', 'proven'),
      ],
    })
    page(<Tonight />, '/tonight', '/tonight')
    expect(await screen.findByText('Images: 1 of 2 proven on their devices')).toBeTruthy()
    expect(screen.getByText('by way of rl-brae-top')).toBeTruthy()
    expect(screen.getByText(/41 of 88 blocks/)).toBeTruthy()
  })

  it('asks whether what is odd can be borne, and takes no word without a reason', async () => {
    const doubt = {
      stands: 'It runs 2.6.3; hop 1 of 2 is proven',
      odd: ['check tills was ok, is no answer'],
      by: null,
      at: null,
      why: null,
    }
    const sent = stub({
      ...runs(run(unit('rt-dunmere-1', { state: 'soaking', doubt }))),
      'POST /api/runs/tonight/units/rt-dunmere-1/refusal': {},
    })
    page(<Tonight />, '/tonight', '/tonight')
    expect(await screen.findByText('check tills was ok, is no answer')).toBeTruthy()
    expect(screen.getByText('It runs 2.6.3; hop 1 of 2 is proven, and this is odd:')).toBeTruthy()
    expect(screen.getAllByText('to be judged').length).toBeGreaterThan(0)
    await pressInVain('Refuse it; it can still go back')
    fireEvent.change(screen.getByLabelText('Why it is not borne'), {
      target: { value: 'the tills are needed' },
    })
    await press('Refuse it; it can still go back')
    await waitFor(() =>
      expect(sent.filter((call) => call.method === 'POST').map((call) => call.body)).toEqual([
        { why: 'the tills are needed' },
      ]),
    )
  })

  it('lets one word go for all gates, once they were read', async () => {
    const sent = stub({
      ...runs(run(unit('rt-dunmere-1', { gate }), unit('rt-eskholm-1', { gate }))),
      'POST /api/runs/tonight/go': {},
    })
    page(<Tonight />, '/tonight', '/tonight')
    await pressInVain('Go for all 2')
    fireEvent.click(await screen.findByLabelText('I have read what the 2 gates below say'))
    await press('Go for all 2')
    await waitFor(() =>
      expect(sent.filter((call) => call.method === 'POST').map((call) => call.path)).toEqual([
        '/api/runs/tonight/go',
      ]),
    )
  })

  it('shows trouble with its three parts and the last lines', async () => {
    stub({ ...runs(run(unit('rt-eskholm-1', { state: 'stuck', trouble }))) })
    page(<Tonight />, '/tonight', '/tonight')
    expect(
      await screen.findByText(
        /Expected: back within 4 min. Seen: it stands in its boot loader. Read its last lines./,
      ),
    ).toBeTruthy()
    expect(screen.getByText('loader>')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Try the step again' })).toBeTruthy()
  })

  it('starts from memory what stands in its boot loader, with the image that a person names', async () => {
    const sent = stub({
      ...runs(run(unit('rt-eskholm-1', { state: 'stuck', trouble }))),
      'POST /api/runs/tonight/units/rt-eskholm-1/rescue': {},
    })
    page(<Tonight />, '/tonight', '/tonight')
    fireEvent.change(await screen.findByLabelText('Image that is loaded into its memory'), {
      target: { value: 'old.img' },
    })
    await press('Start it from memory')
    await waitFor(() =>
      expect(sent.find((call) => call.path.endsWith('/rescue'))?.body).toEqual({
        image: 'old.img',
      }),
    )
  })

  it('writes something for the contacts of its sites, apart from the reasons', async () => {
    const sent = stub({
      ...runs(run(unit('rt-eskholm-1', { state: 'stuck', trouble }))),
      'POST /api/runs/tonight/units/rt-eskholm-1/word-for-contacts': {},
    })
    page(<Tonight />, '/tonight', '/tonight')
    fireEvent.change(await screen.findByLabelText('What the contacts of its sites read'), {
      target: { value: 'The part comes on Monday.' },
    })
    await press('Put it into their next mail')
    await waitFor(() =>
      expect(sent.find((call) => call.path.endsWith('/word-for-contacts'))?.body).toEqual({
        text: 'The part comes on Monday.',
      }),
    )
  })

  it('names a member that was swapped, and goes on without those that are out', async () => {
    const sent = stub({
      ...runs(
        run(
          unit('sw-dunmere-1', {
            state: 'stuck',
            trouble: { ...trouble, ways: ['retry', 'without', 'replace-member', 'set-aside'] },
          }),
        ),
      ),
      'POST /api/runs/tonight/units/sw-dunmere-1/without': {},
      'POST /api/runs/tonight/units/sw-dunmere-1/member-replacement': {},
    })
    page(<Tonight />, '/tonight', '/tonight')
    fireEvent.change(await screen.findByLabelText('Why it goes on without them'), {
      target: { value: 'the spare comes on Monday' },
    })
    await press('Change the others without them')
    fireEvent.change(screen.getByLabelText('Member'), { target: { value: '3' } })
    fireEvent.change(screen.getByLabelText('Serial number of the box that stands there now'), {
      target: { value: 'TA-90001' },
    })
    fireEvent.change(screen.getByLabelText('Why the member was replaced'), {
      target: { value: 'its fan stood still' },
    })
    await press('Look at it, and bring it along')
    await waitFor(() =>
      expect(sent.filter((call) => call.body).map((call) => call.body)).toEqual([
        { why: 'the spare comes on Monday' },
        { member: '3', serial: 'TA-90001', why: 'its fan stood still' },
      ]),
    )
  })

  it('lets a unit go back with a reason, where that is a way', async () => {
    const sent = stub({
      ...runs(
        run(
          unit('rt-eskholm-1', {
            state: 'stuck',
            trouble: {
              ...trouble,
              step: 'prove',
              ways: ['retry', 'return', 'set-aside'],
              back: 'to 2.6.3, and no farther: its catalogue opens no way from 2.6.3 to 2.4.0',
            },
          }),
        ),
      ),
      'POST /api/runs/tonight/units/rt-eskholm-1/return': {},
    })
    page(<Tonight />, '/tonight', '/tonight')
    fireEvent.change(await screen.findByLabelText('Why it goes back'), {
      target: { value: 'no telephone' },
    })
    await press('Back to what it ran before, with its configuration')
    await waitFor(() =>
      expect(sent.find((call) => call.path.endsWith('/return'))?.body).toEqual({
        why: 'no telephone',
      }),
    )
    expect(screen.getByText(/It goes back to 2.6.3, and no farther/)).toBeTruthy()
    expect(screen.queryByText('Start it from memory')).toBeNull()
    expect(screen.queryByText('Leave the step out')).toBeNull()
    expect(screen.queryByText('Restart it once more'), 'only what is offered').toBeNull()
  })

  it('has another box take the place of one that burnt, by its serial number', async () => {
    const sent = stub({
      ...runs(
        run(
          unit('rt-eskholm-1', {
            state: 'stuck',
            trouble: { ...trouble, ways: ['retry', 'replace', 'set-aside'] },
          }),
        ),
      ),
      'POST /api/runs/tonight/units/rt-eskholm-1/replacement': {},
    })
    page(<Tonight />, '/tonight', '/tonight')
    fireEvent.change(await screen.findByLabelText('Why another box stands there'), {
      target: { value: 'it burnt' },
    })
    const meet = screen.getByRole<HTMLButtonElement>('button', {
      name: 'Meet it, and go on with it',
      hidden: true,
    })
    expect(meet.disabled).toBe(true)
    fireEvent.change(screen.getByLabelText('Serial number of the box that stands there now'), {
      target: { value: ' OS-9 ' },
    })
    fireEvent.click(meet)
    await waitFor(() =>
      expect(sent.find((call) => call.path.endsWith('/replacement'))?.body).toEqual({
        serial: 'OS-9',
        why: 'it burnt',
      }),
    )
  })

  it('sets nothing aside without a reason', async () => {
    const sent = stub({
      ...runs(run(unit('rt-eskholm-1', { state: 'stuck', trouble }))),
      'POST /api/runs/tonight/units/rt-eskholm-1/set-aside': {},
    })
    page(<Tonight />, '/tonight', '/tonight')
    const button = await screen.findByRole('button', {
      name: 'Set it aside as it stands',
      hidden: true,
    })
    expect((button as HTMLButtonElement).disabled).toBe(true)
    fireEvent.change(screen.getByLabelText('Why it is set aside'), {
      target: { value: 'send somebody' },
    })
    await press('Set it aside as it stands')
    await waitFor(() =>
      expect(sent.find((call) => call.path.endsWith('/set-aside'))?.body).toEqual({
        why: 'send somebody',
      }),
    )
  })

  it('says where a run is started from when nothing is on', async () => {
    stub({ 'GET /api/runs': [] })
    page(<Tonight />, '/tonight', '/tonight')
    expect(await screen.findByText(/Nothing is on/)).toBeTruthy()
  })

  it('says whose window has closed, and lets a person say when it begins', async () => {
    const held = unit('rt-dunmere-1', {
      state: 'held',
      turn: {
        part: 1,
        parts: 2,
        begins: started,
        closes: started,
        needsSeconds: 1200,
        inWork: false,
        waitsFor: 'its window closes at 2026-11-24 04:30 UTC, and it needs 20 min',
      },
    })
    const waits = unit('rt-eskholm-1', {
      state: 'staged',
      turn: {
        part: 1,
        parts: 1,
        begins: started,
        closes: started,
        needsSeconds: 600,
        inWork: false,
        waitsFor: 'rt-dunmere-1 is in work',
      },
    })
    const made = stub({
      ...runs(run(held, waits)),
      'POST /api/runs/tonight/units/rt-dunmere-1/turn': run(held, waits),
    })
    page(<Tonight />, '/tonight', '/tonight')
    expect(await screen.findByText('rt-dunmere-1 is held')).toBeDefined()
    expect(
      screen.getByText(/Nothing was interrupted: its window closes at 2026-11-24 04:30 UTC/),
    ).toBeDefined()
    expect(screen.getByText('waits: rt-dunmere-1 is in work')).toBeDefined()
    expect(screen.queryByRole('heading', { name: /rt-eskholm-1/ })).toBeNull()
    await press('In the next window of its site')
    fireEvent.change(await screen.findByLabelText('Why it begins now'), {
      target: { value: 'the line is down anyway' },
    })
    await press('Begin now')
    await waitFor(() =>
      expect(made.filter((call) => call.method === 'POST').map((call) => call.body)).toEqual([
        { begins: 'next-window', why: '' },
        { begins: 'now', why: 'the line is down anyway' },
      ]),
    )
  })
})
