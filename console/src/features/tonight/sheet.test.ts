import { describe, expect, it } from 'vitest'
import type { Step, Unit } from '../../api/client'
import { shownState, span, stretches } from './sheet'

const at = (seconds: number) => new Date(Date.UTC(2026, 10, 23, 2, 0, seconds)).toISOString()
const step = (name: string, state: string, from?: number, to?: number) =>
  ({
    name,
    state,
    startedAt: from === undefined ? null : at(from),
    finishedAt: to === undefined ? null : at(to),
  }) as unknown as Step

describe('the night sheet', () => {
  it('joins steps of one kind and lets the unfinished one reach until now', () => {
    const now = Date.parse(at(30))
    const found = stretches(
      [
        step('check', 'done', 0, 2),
        step('stage', 'done', 2, 9),
        step('restart', 'done', 12, 13),
        step('come-back', 'looking', 13),
        step('prove', 'due'),
      ],
      now,
    )
    expect(
      found.map((s) => [
        s.kind,
        (s.from - Date.parse(at(0))) / 1000,
        (s.to - Date.parse(at(0))) / 1000,
      ]),
    ).toEqual([
      ['prepare', 0, 9],
      ['change', 12, 30],
    ])
  })

  it('shows a failed step as stuck', () => {
    expect(stretches([step('come-back', 'failed', 5)], Date.parse(at(8))).at(-1)?.kind).toBe(
      'stuck',
    )
  })

  it('is as long as the longest expected unit on the practice clock, or as what was done', () => {
    const run = { startedAt: at(0), pace: 60, units: [{ expectedSeconds: 1200 }] } as never
    expect(span(run, Date.parse(at(5)))).toEqual([Date.parse(at(0)), Date.parse(at(22))])
    expect(span(run, Date.parse(at(50)))[1]).toBe(Date.parse(at(52)))
  })

  it('says "at the gate" only while nobody has said go', () => {
    const unit = (open: boolean) => ({ state: 'staged', gate: { open } }) as unknown as Unit
    expect([shownState(unit(false)), shownState(unit(true))]).toEqual(['at the gate', 'staged'])
  })
})
