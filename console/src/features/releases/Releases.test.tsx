import { screen, within } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { page, stub } from '../../test/house'
import { Releases } from './Releases'

const release = (version: string, more = {}) => ({
  family: 'osmer-r6',
  title: 'Osmer R6',
  component: 'system',
  line: '',
  version,
  channel: 'general',
  date: '2026-10-12',
  recommended: false,
  mayRest: true,
  rules: [],
  notes: [],
  caveats: [],
  images: [],
  ...more,
})

describe('the releases', () => {
  it('says how to bring a catalogue when there is none', async () => {
    stub({ 'GET /api/releases': [] })
    page(<Releases />, '/releases', '/releases')
    expect(await screen.findByText('calmstep releases import FILE')).toBeTruthy()
  })

  it('tells recommended, withdrawn and where one may not rest, in words', async () => {
    stub({
      'GET /api/releases': [
        release('2.8.2', { recommended: true, caveats: ['short passwords are refused'] }),
        release('2.8.0', { channel: 'withdrawn', mayRest: false, rules: ['only from 2.6.3'] }),
      ],
    })
    page(<Releases />, '/releases', '/releases')
    const row = async (version: string) =>
      within((await screen.findByText(version)).closest('tr') as HTMLElement)
    expect((await row('2.8.2')).getByText(/recommended/)).toBeTruthy()
    expect((await row('2.8.2')).getByText('short passwords are refused')).toBeTruthy()
    expect((await row('2.8.0')).getByText(/withdrawn/)).toBeTruthy()
    expect((await row('2.8.0')).getByText('no rest here')).toBeTruthy()
    expect((await row('2.8.0')).getByText('only from 2.6.3')).toBeTruthy()
    expect((await row('2.8.2')).queryByText('no rest here')).toBeNull()
  })

  it('groups by family and says which images are on the shelf', async () => {
    const image = (fileName: string, onShelf: boolean) => ({
      fileName,
      sizeBytes: 11206656,
      purpose: 'upgrade',
      part: '',
      deltaFrom: null,
      archive: null,
      variant: '',
      onShelf,
    })
    stub({
      'GET /api/releases': [
        release('2.8.2', {
          images: [image('osmer-r6c-2.8.2.img', true), image('osmer-r6b-2.8.2.img', false)],
        }),
        release('6.1.2', { family: 'tarnel-t2', title: 'Tarnel T2' }),
      ],
    })
    page(<Releases />, '/releases', '/releases')
    expect(await screen.findByRole('heading', { name: 'Tarnel T2' })).toBeTruthy()
    expect(screen.getByText('osmer-r6c-2.8.2.img').parentElement?.textContent).toContain(
      'on the shelf',
    )
    expect(screen.getByText('osmer-r6b-2.8.2.img').parentElement?.textContent).toContain('not here')
  })
})
