import { fireEvent, screen, waitFor } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { page, press, stub } from '../../test/house'
import { Fleet } from './Fleet'

const device = (name: string, more = {}) => ({
  name,
  family: 'osmer-r6',
  title: 'Osmer R6',
  model: 'R6-4',
  revision: 'C',
  siteTitle: 'Dunmere',
  role: '',
  address: '192.0.2.1',
  standing: 'behind',
  runs: '2.4.0',
  way: ['2.6.3', '2.8.2'],
  toKnow: [],
  behindBy: 2,
  exposed: [],
  asWritten: false,
  wanted: '2.8.2',
  readAt: new Date().toISOString(),
  ...more,
})

describe('the fleet', () => {
  it('says how to fill an empty fleet', async () => {
    stub({ 'GET /api/devices': [] })
    page(<Fleet />, '/fleet', '/fleet')
    expect(await screen.findByText('calmstep fleet import FILE')).toBeTruthy()
  })

  it('shows silent devices with their reason instead of hiding them', async () => {
    stub({
      'GET /api/devices': [
        device('rt-1'),
        device('rt-2', { standing: 'silent', toKnow: ['no answer: no route'], way: [] }),
      ],
    })
    page(<Fleet />, '/fleet', '/fleet')
    expect(await screen.findByText(/no answer: no route/)).toBeTruthy()
    expect(screen.getByText(/1 of 2 devices, against what the makers recommend./)).toBeTruthy()
  })

  it('asks the service for a selection and shows its refusal of a wrong one', async () => {
    const sent = stub({ 'GET /api/devices': [device('rt-1')] })
    page(<Fleet />, '/fleet', '/fleet?where=site:dunmere&policy=one-behind')
    expect(await screen.findByText('rt-1')).toBeTruthy()
    expect(sent[0]?.query).toBe('where=site%3Adunmere&policy=one-behind')
    stub({
      'GET /api/devices': {
        status: 400,
        detail: 'Column 1: "famly" is no field; did you mean "family"?',
      },
    })
    fireEvent.change(screen.getByLabelText('Select devices'), { target: { value: 'famly:x' } })
    expect((await screen.findByRole('alert')).textContent).toContain('did you mean "family"?')
  })

  it('reads again what is marked, or the whole selection', async () => {
    const sent = stub({
      'GET /api/devices': [device('rt-1'), device('rt-2')],
      'POST /api/readings': { id: 1 },
    })
    page(<Fleet />, '/fleet', '/fleet?where=site:dunmere')
    fireEvent.click(await screen.findByLabelText('mark rt-2'))
    await press('Read these again')
    const read = () => sent.filter((call) => call.method === 'POST').map((call) => call.body)
    await waitFor(() => expect(read()).toEqual([{ devices: ['rt-2'], where: '' }]))
    fireEvent.click(screen.getByLabelText('mark rt-2'))
    await press('Read all again')
    await waitFor(() => expect(read().at(1)).toEqual({ devices: [], where: 'site:dunmere' }))
  })

  it('shows how far a reading is, and ends it', async () => {
    const job = { id: 7, kind: 'read', state: 'under-way', total: 64, done: 12, failed: 3 }
    const sent = stub({
      'GET /api/devices': [device('rt-1')],
      'POST /api/readings': job,
      'GET /api/jobs/7': job,
      'DELETE /api/jobs/7': {},
    })
    page(<Fleet />, '/fleet', '/fleet')
    await press('Read all again')
    expect((await screen.findByRole('status')).textContent).toContain('12 of 64 asked, 3 silent')
    await press('End it here')
    await waitFor(() =>
      expect(sent.some((call) => call.method === 'DELETE' && call.path === '/api/jobs/7')).toBe(
        true,
      ),
    )
  })

  it('sorts by a press on a head, and tells exposure and policy', async () => {
    const exposed = [{ id: 'NF-26-04', name: 'x', severity: 'high' }]
    stub({
      'GET /api/devices': [
        device('rt-1', { behindBy: 1 }),
        device('rt-2', { behindBy: 3, exposed }),
      ],
    })
    page(<Fleet />, '/fleet', '/fleet')
    expect(await screen.findByText(/1 is exposed to a published fault/)).toBeTruthy()
    const names = () => screen.getAllByText(/^rt-\d$/).map((link) => link.textContent)
    const head = screen.getByRole('button', { name: /^way/ })
    fireEvent.click(head)
    expect(names()).toEqual(['rt-1', 'rt-2'])
    fireEvent.click(head)
    expect(names()).toEqual(['rt-2', 'rt-1'])
  })

  it('draws a large fleet only where it is looked at', async () => {
    stub({ 'GET /api/devices': Array.from({ length: 3000 }, (_, i) => device(`rt-${i}`)) })
    page(<Fleet />, '/fleet', '/fleet')
    expect(await screen.findByText('3000 devices shown.', { exact: false })).toBeTruthy()
    expect(screen.getAllByRole('row').length).toBeLessThan(300)
  })
})
