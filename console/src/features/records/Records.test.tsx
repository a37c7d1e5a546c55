import { screen } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { page, stub } from '../../test/house'
import { Records } from './Records'

describe('the records', () => {
  it('says when a record is made while there is none', async () => {
    stub({ 'GET /api/records': [] })
    page(<Records />, '/records', '/records')
    expect(await screen.findByText(/No run is finished yet/)).toBeTruthy()
  })

  it('marks a run whose units did not all settle, and links page and JSON', async () => {
    const record = (run: string, settled: number) => ({
      run,
      madeAt: new Date().toISOString(),
      sha256: 'b'.repeat(64),
      settled,
      units: 2,
    })
    stub({ 'GET /api/records': [record('monday', 2), record('tuesday', 1)] })
    page(<Records />, '/records', '/records')
    expect((await screen.findByText(/2 of 2/)).className).toBe('settled')
    expect(screen.getByText(/1 of 2/).className).toBe('caution')
    expect(screen.getAllByText('page').map((a) => a.getAttribute('href'))).toEqual([
      '/api/records/monday/page',
      '/api/records/tuesday/page',
    ])
  })
})
