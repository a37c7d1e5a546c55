import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import { describe, expect, it, vi } from 'vitest'
import { page, press, stub } from '../../test/house'
import { OneDevice } from './OneDevice'

const reading = {
  takenAt: new Date().toISOString(),
  components: { system: '2.4.0' },
  boot: {
    running: 'osmer-r6c-2.4.0.img',
    next: 'osmer-r6c-2.6.3.img',
    fallback: 'osmer-r6c-2.4.0.img',
    saved: true,
  },
  bootMark: 'start 17',
  unsavedChanges: false,
  volumes: [
    {
      name: 'flash',
      sizeBytes: 32000000,
      freeBytes: 7000000,
      files: [
        { name: 'osmer-r6c-2.4.0.img', sizeBytes: 8912896 },
        { name: 'osmer-r6c-2.6.3.img', sizeBytes: 9400320 },
        { name: 'harbour-map.txt', sizeBytes: 12288 },
      ],
    },
  ],
  facts: [{ kind: 'interface', name: 'ge0', value: 'up' }],
  parts: [],
  waiting: {},
}
const device = {
  name: 'rt-1',
  title: 'Osmer R6',
  model: 'R6-4',
  revision: 'C',
  serial: 'OS6-1',
  siteTitle: 'Dunmere',
  address: '192.0.2.1',
  port: 22,
  logins: ['steward', 'old-steward'],
  via: ['jump@192.0.2.9:22'],
  console: null,
  oldAlgorithms: [],
  hostKey: '',
  serves: '',
  standing: 'behind',
  way: ['2.6.3'],
  toKnow: [],
  discrepancies: [],
  wanted: '2.6.3',
  tags: [],
  exposed: [],
  parts: [],
  readAt: new Date().toISOString(),
  silent: null,
  reading,
}

const show = (more: object, backups: object[] = []) => {
  stub({
    'GET /api/devices/rt-1': { ...device, ...more },
    'GET /api/devices/rt-1/backups': backups,
    'GET /api/devices/rt-1/keeps': { kinds: [], cannotGive: [] },
  })
  page(<OneDevice />, '/fleet/:device', '/fleet/rt-1')
}

describe('one device', () => {
  it('says what each file is for', async () => {
    show({})
    const row = async (name: string) =>
      within((await screen.findByText(name)).closest('tr') as HTMLElement)
    expect((await row('osmer-r6c-2.4.0.img')).getByText('running, fallback')).toBeTruthy()
    expect((await row('osmer-r6c-2.6.3.img')).getByText('next')).toBeTruthy()
    expect((await row('harbour-map.txt')).queryByText(/running|next|fallback/)).toBeNull()
    expect(screen.getByText('not seen yet')).toBeTruthy()
  })

  it('says where the device is not what was written, and takes its word over', async () => {
    const mended = { ...device, revision: 'C', discrepancies: [] }
    const sent = stub({
      'GET /api/devices/rt-1': {
        ...device,
        discrepancies: [{ what: 'revision', written: 'B', shown: 'C' }],
      },
      'GET /api/devices/rt-1/backups': [],
      'GET /api/devices/rt-1/keeps': { kinds: [], cannotGive: [] },
      'POST /api/devices/rt-1/as-read': mended,
    })
    page(<OneDevice />, '/fleet/:device', '/fleet/rt-1')
    const card = within(await screen.findByRole('region', { name: 'Not as written' }))
    expect(card.getByText('B')).toBeTruthy()
    expect(card.getByText('C')).toBeTruthy()
    fireEvent.change(card.getByLabelText('Why rt-1 is taken over as read'), {
      target: { value: 'exchanged in May' },
    })
    await press('Take over what was read')
    await waitFor(() =>
      expect(sent.find((call) => call.path.endsWith('/as-read'))?.body).toEqual({
        why: 'exchanged in May',
      }),
    )
  })

  it('shows the members of a stack as they show themselves, and which of them does not do its part', async () => {
    const member = (name: string, role: string, state: string) => ({
      part: {
        name,
        kind: 'member',
        model: 'T2-48',
        serial: `TA-${name}`,
        runs: { system: '6.1.0', loader: '1.9' },
        parts: [],
      },
      role,
      state,
      mark: '17 times',
    })
    show({
      reading: { ...reading, parts: [member('1', 'active', 'in sync'), member('2', '', 'away')] },
    })
    const row = async (serial: string) =>
      within((await screen.findByText(serial)).closest('tr') as HTMLElement)
    expect((await row('TA-1')).getByText('active')).toBeTruthy()
    expect((await row('TA-1')).getByText('in sync')).toBeTruthy()
    expect((await row('TA-2')).getByText('▲ away')).toBeTruthy()
  })

  it('warns of changes that are not saved and of a choice that a restart would lose', async () => {
    show({ reading: { ...reading, unsavedChanges: true, boot: { ...reading.boot, saved: false } } })
    expect(await screen.findByText(/has unsaved changes/)).toBeTruthy()
    expect(screen.getByText(/NOT saved/)).toBeTruthy()
    expect(screen.getByText('jump@192.0.2.9:22')).toBeTruthy()
    expect(screen.getByText(/login steward, then old-steward/)).toBeTruthy()
  })

  it('shows a silent device with what was expected, seen and what to do, and what it showed last', async () => {
    const silent = {
      at: new Date().toISOString(),
      expected: 'an SSH greeting',
      seen: 'connection refused',
      remedy: 'Look at its power.',
    }
    show({ silent })
    expect(
      await screen.findByText(
        /Expected: an SSH greeting. Seen: connection refused. Look at its power./,
      ),
    ).toBeTruthy()
    expect(screen.getByText('harbour-map.txt')).toBeTruthy()
  })

  it('shows a device that was never read without made-up facts', async () => {
    show({ reading: null, readAt: null })
    expect(await screen.findByText('OS6-1')).toBeTruthy()
    expect(screen.queryByText('Images')).toBeNull()
  })

  it('links each backup to its text', async () => {
    show({}, [
      {
        id: 5,
        hop: 1,
        kind: 'running',
        takenAt: new Date().toISOString(),
        sha256: 'a'.repeat(64),
        sizeBytes: 502,
      },
    ])
    const link = (await screen.findByText('running', { selector: 'a' })) as HTMLAnchorElement
    expect(link.getAttribute('href')).toBe('/api/devices/rt-1/backups/5/text')
  })

  it('gets a backup out in clear, with a reason, as a file', async () => {
    const made = stub({
      'GET /api/devices/rt-1': device,
      'GET /api/devices/rt-1/backups': [
        {
          id: 6,
          hop: 0,
          kind: 'licence-keys',
          takenAt: '2026-11-27T14:10:00Z',
          sha256: 'ab'.repeat(32),
          sizeBytes: 420,
        },
      ],
      'GET /api/devices/rt-1/keeps': { kinds: ['licence-keys'], cannotGive: [] },
      'GET /api/devices/rt-1/backups/6/comparison': { same: true, dropped: [], added: [] },
      'POST /api/devices/rt-1/backups/6/clear-text': 'filter 4711',
    })
    const saved: string[] = []
    URL.createObjectURL = () => 'blob:kept'
    URL.revokeObjectURL = () => {}
    const click = vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (
      this: HTMLAnchorElement,
    ) {
      saved.push(`${this.download} of ${this.href}`)
    })
    page(<OneDevice />, '/fleet/:device', '/fleet/rt-1')
    fireEvent.click(await screen.findByRole('button', { name: /Compare the licence-keys/ }))
    const button = await screen.findByText(/Save it with its secrets in clear/)
    fireEvent.change(screen.getByLabelText('Why it is got out'), {
      target: { value: 'the left side was swapped' },
    })
    fireEvent.click(button)
    await vi.waitFor(() => expect(saved).toEqual(['rt-1-licence-keys-6.txt of blob:kept']))
    click.mockRestore()
    expect(made.find((call) => call.path.endsWith('/clear-text'))?.body).toEqual({
      why: 'the left side was swapped',
    })
  })

  it('shows the parts of a device as a tree, and what it is exposed to', async () => {
    const board = {
      name: 'slot 2',
      kind: 'LINE_BOARD',
      model: 'A',
      serial: '',
      runs: { 'board-a': '4.2' },
      parts: [],
    }
    show({
      parts: [
        {
          name: '1',
          kind: 'MEMBER',
          model: 'T2-48',
          serial: '',
          runs: { system: '5.4.3' },
          parts: [board],
        },
      ],
      exposed: [{ id: 'NF-26-02', name: 'A crafted message', severity: 'high' }],
    })
    const inner = (await screen.findByText('slot 2')).closest('li') as HTMLElement
    expect(inner.textContent).toContain('line board slot 2 A board-a 4.2')
    expect(inner.parentElement?.closest('li')?.textContent).toContain('member 1')
    expect(screen.getByText('the smallest way out').getAttribute('href')).toBe(
      '/paths?device=rt-1&to=clears%3ANF-26-02',
    )
  })

  it('says when there is no such device', async () => {
    stub({ 'GET /api/devices/rt-1': { status: 404, detail: 'There is no device "rt-1" here.' } })
    page(<OneDevice />, '/fleet/:device', '/fleet/rt-1')
    expect((await screen.findByRole('alert')).textContent).toContain(
      'There is no device "rt-1" here.',
    )
  })

  it('compares a backup with what runs now, or with another one', async () => {
    const backup = (id: number, kind: string) => ({
      id,
      hop: 0,
      kind,
      takenAt: '2026-11-27T14:10:00Z',
      sha256: 'ab'.repeat(32),
      sizeBytes: 420,
    })
    const made = stub({
      'GET /api/devices/rt-1': device,
      'GET /api/devices/rt-1/backups': [
        backup(8, 'running'),
        backup(7, 'startup'),
        backup(6, 'licence-keys'),
      ],
      'GET /api/devices/rt-1/keeps': {
        kinds: ['running', 'startup', 'licence-keys'],
        cannotGive: ['the keys of its tunnels'],
      },
      'GET /api/devices/rt-1/backups/8/comparison': {
        same: false,
        dropped: ['way 0.0.0.0/0 by 192.0.2.17'],
        added: ['community ••••••'],
      },
    })
    page(<OneDevice />, '/fleet/:device', '/fleet/rt-1')
    fireEvent.click(
      await screen.findByRole('button', { name: /Compare the running configuration/ }),
    )
    expect((await screen.findByText(/way 0\.0\.0\.0\/0 by 192\.0\.2\.17/)).textContent).toBe(
      'gone  way 0.0.0.0/0 by 192.0.2.17\nnew   community ••••••',
    )
    expect(
      screen.getByText(
        /Cannot be kept, since its family does not give it: the keys of its tunnels\./,
      ),
    ).toBeTruthy()
    expect(screen.getByRole('button', { name: /Compare the licence-keys of/ })).toBeTruthy()
    fireEvent.change(screen.getByRole('combobox', { name: 'against' }), { target: { value: '7' } })
    await vi.waitFor(() =>
      expect(
        made.filter((call) => call.path.endsWith('/comparison')).map((call) => call.query),
      ).toEqual(['', 'with=7']),
    )
  })
})
