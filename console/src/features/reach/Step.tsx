import { Button, NativeSelect } from '@mantine/core'
import type { PlanNight } from '../../api/client'
import { clock } from '../../components/words'

/** A moment of a night at which something begins or ends: what is in work from then on. */
export interface Moment {
  time: string
  until: string
  down: string[]
}

/** The moments of a night in order; those after which nothing is in work are left out. */
export function momentsOf(night: PlanNight): Moment[] {
  const times = [...new Set(night.units.flatMap((u) => [u.begins, u.ends]))].sort()
  return times
    .slice(0, -1)
    .map((time, i) => ({
      time,
      until: times[i + 1] ?? time,
      down: [
        ...new Set(night.units.filter((u) => u.begins <= time && time < u.ends).map((u) => u.unit)),
      ].sort(),
    }))
    .filter((moment) => moment.down.length > 0)
}

/** Steps through the order of a night. */
export function Step({
  plan,
  night,
  nights,
  moments,
  at,
  go,
}: {
  plan: string
  night: PlanNight
  nights: PlanNight[]
  moments: Moment[]
  at: number
  go: (to: { night: string; at: string }) => void
}) {
  const zone = night.units[0]?.zone
  const to = (step: number) => go({ night: night.night, at: String(step) })
  return (
    <section
      aria-label={`The order of ${plan}`}
      style={{ display: 'flex', gap: 12, alignItems: 'end', flexWrap: 'wrap' }}
    >
      <NativeSelect
        label="Night"
        value={night.night}
        onChange={(e) => go({ night: e.currentTarget.value, at: '0' })}
        data={nights.map((n) => n.night)}
      />
      <Button variant="outline" disabled={at === 0} onClick={() => to(at - 1)}>
        Before
      </Button>
      <Button variant="outline" disabled={at >= moments.length - 1} onClick={() => to(at + 1)}>
        Then
      </Button>
      <p role="status" className="flush">
        Step {at + 1} of {moments.length}, from {clock(moments[at]?.time, zone).slice(0, 5)} to{' '}
        {clock(moments[at]?.until, zone).slice(0, 5)} ({zone}):{' '}
        <span className="mono">{moments[at]?.down.join(', ')}</span>
      </p>
    </section>
  )
}
