import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import { expect, test } from 'vitest'
import type { Plan, Rehearsal } from '../../api/client'
import { page, press, stub } from '../../test/house'
import { longerSteps } from './outcome'
import { Rehearsals } from './Rehearsals'

const part = {
  device: 'rt-dunmere-1',
  site: 'dunmere',
  siteTitle: 'Dunmere',
  zone: 'Europe/Lisbon',
  part: 1,
  from: '2.6.3',
  to: '2.8.2',
  plannedBegin: '2026-11-24T01:15:00Z',
  plannedEnd: '2026-11-24T01:22:00Z',
  closes: '2026-11-24T04:30:00Z',
  playedBegin: '2026-11-24T01:15:00Z',
  playedEnd: '2026-11-24T01:19:00Z',
  how: 'in-time',
}

const step = (name: string, seconds: number | null, expected: number | null) => ({
  hop: 1,
  step: name,
  state: 'done',
  ...(seconds == null ? {} : { seconds }),
  ...(expected == null ? {} : { expected }),
})

const rehearsal = (number: number, more: Partial<Rehearsal> = {}): Rehearsal => ({
  number,
  plan: 'tonight',
  state: 'finished',
  job: 7,
  pace: 30,
  asked: [],
  startedBy: 'mara',
  startedAt: '2026-11-23T20:00:00Z',
  finishedAt: '2026-11-23T20:01:00Z',
  planChanged: false,
  outcome: {
    run: `tonight~rehearsal-${number}`,
    broken: '',
    notPlayed: [{ device: 'sw-dunmere-1', why: 'no stand-in speaks as tarnel-t2 does' }],
    nights: [
      {
        words: 'The night of 2026-11-23',
        begins: part.plannedBegin,
        plannedEnd: part.plannedEnd,
        playedEnd: part.playedEnd,
        closes: part.closes,
        parts: [part, { ...part, device: 'rt-eskholm-1', playedEnd: undefined, how: 'stuck' }],
      },
    ],
    units: [
      {
        device: 'rt-dunmere-1',
        from: '2.6.3',
        to: '2.8.2',
        state: 'settled',
        waitsFor: '',
        steps: [step('stage', 900, 90), step('restart', 40, 6), step('come-back', 200, 240)],
      },
      {
        device: 'rt-eskholm-1',
        from: '2.6.3',
        to: '2.8.2',
        state: 'stuck',
        waitsFor: '',
        trouble: {
          step: 'come-back',
          expected: 'it answers',
          seen: 'it stands in its boot loader',
          remedy: 'Read its last lines.',
          lastLines: ['loader>'],
          ways: ['retry', 'set-aside'],
          back: '',
        },
        steps: [step('stage', 90, 90), step('come-back', null, null)],
      },
    ],
  },
  ...more,
})

const unit = (device: string) => ({
  device,
  site: 'dunmere',
  leftOut: false,
  hops: [],
  cutsOff: [],
  serves: '',
})
const plan = {
  name: 'tonight',
  state: 'ready',
  units: [unit('rt-dunmere-1'), unit('rt-eskholm-1')],
} as unknown as Plan
const faults = [
  { name: 'slow-link', sentence: 'copies take ten times as long' },
  { name: 'stops-in-boot-loader', sentence: 'it stops in its boot loader at the next start' },
]

test('says what the night would do: planned against played, the trouble, what took long, what was not played', async () => {
  stub({
    'GET /api/plans/tonight/rehearsals': [rehearsal(2, { planChanged: true }), rehearsal(1)],
    'GET /api/rehearsal-faults': faults,
  })
  page(<Rehearsals plan={plan} />, '/', '/')
  const came = await screen.findByRole('region', { name: 'Rehearsal 2' })
  expect(within(came).getByRole('heading', { name: /1 of 2 units settled/ })).toBeTruthy()
  expect(came.textContent).toContain('The plan was changed since')
  const rows = within(came)
    .getAllByRole('row')
    .map((r) => r.textContent)
  expect(rows[1]).toContain('01:15 to 01:22')
  expect(rows[1]).toContain('01:15 to 01:19')
  expect(rows[1]).toContain('in time')
  expect(rows[2]).toContain('01:15 to …')
  expect(rows[2]).toContain('stuck')
  expect(came.textContent).toContain('rt-eskholm-1 is stuck at come-back')
  expect(came.textContent).toContain(
    'rt-dunmere-1, hop 1, copy of the image: 15 min, usually 2 min',
  )
  expect(came.textContent).not.toContain('restart until it is back')
  expect(came.textContent).toContain('no stand-in speaks as tarnel-t2 does')
  await press('rehearsal 1')
  expect(await screen.findByRole('region', { name: 'Rehearsal 1' })).toBeTruthy()
})

test('asks for faults at a unit or a site, and begins', async () => {
  const calls = stub({
    'GET /api/plans/tonight/rehearsals': [],
    'GET /api/rehearsal-faults': faults,
    'POST /api/plans/tonight/rehearsals': rehearsal(1, { state: 'under-way', outcome: undefined }),
  })
  page(<Rehearsals plan={plan} />, '/', '/')
  expect(await screen.findByText(/not rehearsed yet/)).toBeTruthy()
  await screen.findByRole('option', { name: 'copies take ten times as long' })
  fireEvent.change(screen.getByLabelText('At'), { target: { value: 'site:dunmere' } })
  fireEvent.change(screen.getByLabelText('goes wrong'), { target: { value: 'slow-link' } })
  await press('Ask for it')
  expect(screen.getByRole('listitem').textContent).toContain(
    'site:dunmere: copies take ten times as long',
  )
  await press('Rehearse with that')
  await waitFor(() =>
    expect(calls.find((c) => c.method === 'POST')?.body).toEqual({
      faults: [{ where: 'site:dunmere', fault: 'slow-link' }],
    }),
  )
})

test('a restart is told together with its start, and short steps are not told', () => {
  const outcome = rehearsal(1).outcome as NonNullable<Rehearsal['outcome']>
  const slow = {
    ...outcome,
    units: outcome.units.map((u) => ({
      ...u,
      steps: [step('restart', 40, 6), step('come-back', 700, 240), step('stage', 15, 5)],
    })),
  }
  expect(longerSteps(slow).map((s) => s.words)).toEqual([
    'rt-dunmere-1, hop 1, restart until it is back',
    'rt-eskholm-1, hop 1, restart until it is back',
  ])
})
