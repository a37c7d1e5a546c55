import type { Run, Step, Unit } from '../../api/client'

/** A stretch of a unit's row: what was done from when to when (milliseconds). */
export interface Stretch {
  from: number
  to: number
  kind: 'prepare' | 'change' | 'prove' | 'soak' | 'stuck'
}

const kinds: Record<string, Stretch['kind']> = {
  return: 'change',
  rescue: 'change',
  replace: 'change',
  quiet: 'change',
  'choose-boot': 'change',
  'restart-standbys': 'change',
  drain: 'change',
  restart: 'change',
  'come-back': 'change',
  'second-restart': 'change',
  'come-back-again': 'change',
  'put-back': 'change',
  'restore-roles': 'change',
  prove: 'prove',
  'un-drain': 'prove',
  'un-quiet': 'prove',
  soak: 'soak',
  tidy: 'prove',
}

/** Neither over nor held. */
export function goesOn(run: Run): boolean {
  return run.state === 'armed' || run.state === 'under-way'
}

/** Nothing is done to it any more. */
export function isOver(unit: Unit): boolean {
  return unit.state === 'settled' || unit.state === 'returned' || unit.state === 'set-aside'
}

/** The state that a person should read: a unit that somebody holds is held, and one whose gate is not open waits there. */
export function shownState(unit: Unit): string {
  if (unit.held && !isOver(unit) && unit.state !== 'stuck') return 'held'
  if (unit.gate && !unit.gate.open && unit.state === 'staged') return 'at the gate'
  return unit.state === 'soaking' && unit.doubt && unit.doubt.by == null
    ? 'to be judged'
    : unit.state
}

export function stateCounts(units: Unit[]): [string, number][] {
  const counts = new Map<string, number>()
  for (const unit of units) counts.set(shownState(unit), (counts.get(shownState(unit)) ?? 0) + 1)
  return [...counts]
}

/** What was done when: neighbouring steps of one kind are one stretch; a step that is not finished goes on until now. */
export function stretches(steps: Step[], now: number): Stretch[] {
  const found: Stretch[] = []
  for (const step of steps) {
    if (!step.startedAt) continue
    const kind = step.state === 'failed' ? 'stuck' : (kinds[step.name] ?? 'prepare')
    const from = Date.parse(step.startedAt)
    const to = step.finishedAt
      ? Date.parse(step.finishedAt)
      : kind === 'stuck'
        ? Math.max(from, now)
        : now
    const last = found.at(-1)
    if (last && last.kind === kind && from - last.to < 5000) last.to = Math.max(last.to, to)
    else found.push({ from, to, kind })
  }
  return found
}

/** Where the sheet begins and ends: all that was done, and what is still expected. */
export function span(run: Run, now: number): [number, number] {
  const start = Date.parse(run.startedAt)
  const expected = Math.max(...run.units.map((u) => (u.expectedSeconds * 1000) / run.pace), 10000)
  const done = run.finishedAt ? Date.parse(run.finishedAt) : now
  return [start, Math.max(start + expected, done) + 2000]
}
