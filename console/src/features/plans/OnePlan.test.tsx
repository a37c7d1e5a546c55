import { screen, waitFor } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { page, press, type Recorded, stub } from '../../test/house'
import { OnePlan } from './OnePlan'

const hop = {
  from: '2.6.3',
  to: '2.8.2',
  images: [{ fileName: 'osmer-r6c-2.8.2.img', sizeBytes: 11206656, sha256: '' }],
  lookAlikes: [],
  brings: [],
  restarts: 1,
  darkSeconds: 240,
  why: [],
  toKnow: [],
}
const unit = {
  device: 'rt-eskholm-1',
  serves: 'Eskholm waiting room',
  cutsOff: ['sw-eskholm-1', 'fw-eskholm'],
  leftOut: false,
  saveFirst: false,
  hops: [{ hop, steps: [] }],
}
const caution = {
  key: 'rt-eskholm-1/unsaved-changes',
  severity: 'caution',
  device: 'rt-eskholm-1',
  fact: 'rt-eskholm-1 runs changes that were not saved; a restart would lose them.',
  remedy: 'Save them first, or leave the device out.',
  choices: ['save-first', 'leave-out'],
  answer: null,
}
const draft = {
  name: 'tonight',
  target: 'recommended',
  state: 'draft',
  writtenBy: 'ines',
  writtenAt: new Date().toISOString(),
  approvedBy: null,
  units: [unit],
  findings: [caution],
  changes: [] as string[],
}

describe('one plan', () => {
  it('shows who is affected, and keeps approval away while a caution is open', async () => {
    stub({ 'GET /api/plans/tonight': draft })
    page(<OnePlan />, '/plans/:plan', '/plans/tonight')
    expect(await screen.findByText(/would lose them/)).toBeTruthy()
    expect(screen.getByText('Eskholm waiting room')).toBeTruthy()
    expect(screen.getByRole('link', { name: 'and 2 devices behind it' }).getAttribute('href')).toBe(
      '/fleet-reach?down=rt-eskholm-1',
    )
    expect(screen.getByText(/Not ready: 1 finding is open/)).toBeTruthy()
    expect(screen.queryByRole('button', { name: 'Approve' })).toBeNull()
  })

  it('sends the choice that a person makes and offers approval after it', async () => {
    const answered = {
      ...draft,
      state: 'ready',
      findings: [
        {
          ...caution,
          answer: { choice: 'save-first', reason: '', by: 'ines', at: new Date().toISOString() },
        },
      ],
    }
    const sent: Recorded[] = stub({
      'GET /api/plans/tonight': draft,
      'POST /api/plans/tonight/acknowledgements': answered,
    })
    page(<OnePlan />, '/plans/:plan', '/plans/tonight')
    await press('Save them first')
    expect(await screen.findByRole('button', { name: 'Approve' })).toBeTruthy()
    expect(sent.find((call) => call.method === 'POST')?.body).toEqual({
      finding: caution.key,
      choice: 'save-first',
      reason: '',
    })
    expect(screen.getByText(/Save them first, said ines/)).toBeTruthy()
  })

  it('shows a refusal in the words of the service', async () => {
    stub({
      'GET /api/plans/tonight': { ...draft, state: 'ready', findings: [] },
      'POST /api/plans/tonight/approval': { status: 403, detail: 'Your role does not allow this.' },
    })
    page(<OnePlan />, '/plans/:plan', '/plans/tonight')
    await press('Approve')
    await waitFor(() =>
      expect(screen.getByRole('alert').textContent).toContain('Your role does not allow this.'),
    )
  })

  it('says what would come out otherwise, and works the plan out again', async () => {
    const stale = {
      ...draft,
      state: 'stale',
      changes: ['rt-eskholm-1 goes 2.6.3 > 2.8.2 now, was to go 2.4.0 > 2.6.3 > 2.8.2'],
    }
    const sent: Recorded[] = stub({
      'GET /api/plans/tonight': stale,
      'POST /api/plans/tonight/again': draft,
    })
    page(<OnePlan />, '/plans/:plan', '/plans/tonight')
    expect(await screen.findByText(/was to go 2.4.0/)).toBeTruthy()
    await press('Work it out again')
    await waitFor(() =>
      expect(sent.some((call) => call.path === '/api/plans/tonight/again')).toBe(true),
    )
  })
})
