import { fireEvent, screen, waitFor } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { page, press, stub } from '../../test/house'
import { Sources } from './Sources'

const source = {
  name: 'makers',
  url: 'https://192.0.2.5',
  user: 'northmere',
  ownCertificate: true,
  proxy: '',
  askedAt: null,
}
const offer = (fileName: string, standing: string) => ({
  source: 'makers',
  kind: 'image',
  family: 'osmer-r6',
  fileName,
  sizeBytes: 9_000_000,
  standing,
  seenAt: '2026-11-23T01:00:00Z',
})

const open = (more: Record<string, unknown> = {}) => {
  const made = stub({
    'GET /api/sources': [source],
    'GET /api/offers': [
      offer('a.img', 'here'),
      offer('b.img', 'not-here'),
      offer('c.img', 'no-catalogue'),
    ],
    'GET /api/plans': [{ name: 'tonight', state: 'draft' }],
    ...more,
  })
  page(<Sources />, '/releases-sources', '/releases-sources')
  return made
}

describe('the sources', () => {
  it('counts what is offered and not here, and shows only what is asked for', async () => {
    open()
    expect(await screen.findByText(/1 file is on offer and not here/)).toBeTruthy()
    fireEvent.change(screen.getByLabelText('Show only'), { target: { value: 'no catalogue' } })
    expect(screen.queryByText('a.img')).toBeNull()
    expect(screen.getByText('c.img')).toBeTruthy()
  })

  it('fetches what a plan lacks and says why something did not come', async () => {
    const job = {
      id: 9,
      kind: 'fetch',
      state: 'finished',
      total: 2,
      done: 2,
      failed: 1,
      doing: '',
      troubles: ['b.img is not the published file.'],
    }
    const made = open({ 'POST /api/fetches': job, 'GET /api/jobs/9': job })
    const choice = (await screen.findByText('all that the plan tonight lacks')).closest('select')
    if (choice) fireEvent.change(choice, { target: { value: 'tonight' } })
    await press('Fetch')
    expect(await screen.findByText(/b.img is not the published file/)).toBeTruthy()
    expect(screen.getByText(/1 fetched and proven, 1 not/)).toBeTruthy()
    await waitFor(() =>
      expect(made.find((call) => call.path === '/api/fetches')?.body).toEqual({
        files: [],
        plan: 'tonight',
      }),
    )
  })

  it('says how to begin when no source is known', async () => {
    open({ 'GET /api/sources': [], 'GET /api/offers': [] })
    expect(await screen.findByText(/calmstep shelf source/)).toBeTruthy()
  })
})
