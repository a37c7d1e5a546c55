import type { Rehearsal } from '../../api/client'

type Outcome = NonNullable<Rehearsal['outcome']>

/** How a part came out, in words, with its colour and its shape. */
export function howWords(how: string): { words: string; tone: string; shape: string } {
  switch (how) {
    case 'in-time':
      return { words: 'in time', tone: 'settled', shape: '●' }
    case 'late':
      return { words: 'late, inside its window', tone: 'caution', shape: '▲' }
    case 'over':
      return { words: 'beyond its window', tone: 'stop', shape: '■' }
    case 'stuck':
      return { words: 'stuck', tone: 'stop', shape: '■' }
    case 'held':
      return { words: 'held: its window had closed', tone: 'caution', shape: '▲' }
    default:
      return { words: 'not begun', tone: 'quiet', shape: '○' }
  }
}

const long = 1.5
const worthTelling = 20

/** Copies and starts that took far longer than such steps usually do; a restart's order is told together with the start. */
export function longerSteps(
  outcome: Outcome,
): { words: string; seconds: number; expected: number }[] {
  return outcome.units.flatMap((unit) =>
    unit.steps
      .filter((s) => s.step === 'stage' || s.step === 'come-back')
      .flatMap((step) => {
        const together = unit.steps.filter(
          (s) =>
            s.hop === step.hop &&
            (s === step || (step.step === 'come-back' && s.step === 'restart')),
        )
        if (together.some((s) => s.seconds == null || s.expected == null)) return []
        const seconds = together.reduce((sum, s) => sum + (s.seconds ?? 0), 0)
        const expected = together.reduce((sum, s) => sum + (s.expected ?? 0), 0)
        const what = step.step === 'stage' ? 'copy of the image' : 'restart until it is back'
        return seconds > long * expected && seconds - expected > worthTelling
          ? [{ words: `${unit.device}, hop ${step.hop}, ${what}`, seconds, expected }]
          : []
      }),
  )
}
