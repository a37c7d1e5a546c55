import { fireEvent, screen, waitFor } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { page, press, stub } from '../../test/house'
import { Discovery } from './Discovery'

const range = {
  name: 'quay',
  within: ['192.0.2.0/24'],
  except: ['192.0.2.32/28'],
  site: 'gullness-quay',
  login: 'steward',
  snmpLogin: 'reads',
  sshPort: 22,
  snmpPort: 161,
  perSecond: 20,
  addresses: 238,
  searchedAt: null,
}
const found = {
  address: '192.0.2.8',
  range: 'quay',
  state: 'found',
  device: '',
  name: '',
  family: '',
  model: '',
  revision: '',
  serial: '',
  release: '',
  shows: 'SSH-2.0-TarnelT2_5.4.3b',
  toKnow: 'no dialect knows it',
  firstSeen: '2026-11-23T01:00:00Z',
  lastSeen: '2026-11-23T01:00:00Z',
}
const inFleet = {
  ...found,
  address: '192.0.2.9',
  state: 'in-fleet',
  device: 'rt-1',
  toKnow: 'the inventory says serial 7, it shows 8',
}
const job = {
  id: 3,
  kind: 'search',
  state: 'cancelled',
  total: 238,
  done: 12,
  failed: 10,
  doing: '',
  troubles: [],
}

const open = (more: Record<string, unknown> = {}) => {
  const made = stub({
    'GET /api/discovery/ranges': [range],
    'GET /api/discovery/candidates': [found, inFleet],
    'POST /api/discovery/ranges/quay/searches': job,
    'GET /api/jobs/3': job,
    ...more,
  })
  page(<Discovery />, '/fleet-discovery', '/fleet-discovery')
  return made
}

describe('the discovery', () => {
  it('says where it looks, and that a search which was ended kept what it found', async () => {
    open()
    expect(await screen.findByText('192.0.2.32/28')).toBeTruthy()
    await press('Search quay')
    expect(await screen.findByText(/Ended early: 2 answered, 10 silent/)).toBeTruthy()
  })

  it('accepts nothing before a name and a family are said', async () => {
    const made = open({
      'POST /api/discovery/accepted': {
        added: ['sw-1'],
        changed: [],
        unchanged: [],
        preview: false,
      },
    })
    const accept = await screen.findByRole('button', { name: 'Accept' })
    expect(accept).toHaveProperty('disabled', true)
    fireEvent.change(screen.getByLabelText('name of 192.0.2.8'), { target: { value: 'sw-1' } })
    fireEvent.change(screen.getByLabelText('family of 192.0.2.8'), {
      target: { value: 'tarnel-t2' },
    })
    await press('Accept')
    await waitFor(() =>
      expect(made.find((call) => call.path === '/api/discovery/accepted')?.body).toEqual({
        candidates: [{ address: '192.0.2.8', name: 'sw-1', family: 'tarnel-t2', model: '' }],
      }),
    )
  })

  it('shows where the inventory and the device differ', async () => {
    open()
    expect(await screen.findByText(/the inventory says serial 7, it shows 8/)).toBeTruthy()
    expect(screen.getByRole('link', { name: 'rt-1' })).toBeTruthy()
  })

  it('shows every reason why a range is refused', async () => {
    open({
      'PUT /api/discovery/ranges/far': {
        status: 422,
        detail: 'The range far was not set: one thing is wrong.',
        details: ['Expected from 1 to 65,536 addresses'],
      },
    })
    fireEvent.change(await screen.findByLabelText('Name'), { target: { value: 'far' } })
    fireEvent.change(screen.getByLabelText('Addresses'), { target: { value: '10.0.0.0/8' } })
    await press('Keep this range')
    expect(await screen.findByText('Expected from 1 to 65,536 addresses')).toBeTruthy()
  })
})
