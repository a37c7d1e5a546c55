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
      'GET /api/devices': [device('rt-1'), device('rt-2', { standing: 'silent', toKnow: ['no answer: no route'], way: [] })],
    })
    page(<Fleet />, '/fleet', '/fleet')
    expect(await screen.findByText(/no answer: no route/)).toBeTruthy()
    expect(screen.getByText('1 of 2 devices, against what the makers recommend.')).toBeTruthy()
  })

  it('filters, and reads again what is marked', async () => {
    const sent = stub({
      'GET /api/devices': [device('rt-1'), device('rt-2', { siteTitle: 'Eskholm' })],
      'POST /api/readings': { id: 1 },
    })
    page(<Fleet />, '/fleet', '/fleet')
    fireEvent.change(await screen.findByLabelText('Filter devices'), { target: { value: 'eskholm' } })
    expect(screen.queryByText('rt-1')).toBeNull()
    fireEvent.click(screen.getByLabelText('mark rt-2'))
    await press('Read these again')
    await waitFor(() => expect(sent.find((call) => call.method === 'POST')?.body).toEqual({ devices: ['rt-2'] }))
  })
})
