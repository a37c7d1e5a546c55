import { Button, NativeSelect, TextInput } from '@mantine/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import {
  api,
  body,
  type Plan,
  type PlanNight,
  type PlanNights,
  type Wanted,
} from '../../api/client'
import { nightsQuery } from '../../api/queries'
import { Trouble } from '../../components/Page'
import { clock, count } from '../../components/words'
import { PlannedSheet } from './PlannedSheet'

/** A plan over its nights: which nights, what is done in one of them, and what another wish would cost. */
export function Nights({ plan }: { plan: Plan }) {
  const { data, error } = useQuery(nightsQuery(plan.name))
  const [chosen, choose] = useState('')
  const [unit, setUnit] = useState('')
  const night = data?.nights.find((n) => n.night === chosen) ?? data?.nights[0]
  return (
    <>
      <Trouble error={error} />
      {data && (
        <>
          <Summary nights={data} />
          <Strip nights={data.nights} chosen={night?.night} onChoose={choose} />
          {night && <OneNight night={night} unit={unit} onPick={setUnit} />}
          {data.nowhere.length > 0 && (
            <>
              <h2>Fits nowhere</h2>
              {data.nowhere.map((n) => (
                <p key={n.unit} className="caution">
                  ▲ {n.sentence}
                </p>
              ))}
            </>
          )}
          {(plan.state === 'draft' || plan.state === 'ready') && (
            <Otherwise plan={plan} nights={data} unit={unit} onUnit={setUnit} />
          )}
        </>
      )}
    </>
  )
}

function Summary({ nights }: { nights: PlanNights }) {
  const units = new Set(nights.nights.flatMap((n) => n.units.map((u) => u.unit))).size
  const last = nights.nights.at(-1)?.units[0]?.zone
  return (
    <p>
      {count(units, 'unit', 'units')} in {count(nights.nights.length, 'night', 'nights')}; no order
      takes fewer than {nights.nightsAtLeast}.
      {nights.ends && (
        <>
          {' '}
          It ends on {nights.nights.at(-1)?.night} at {clock(nights.ends, last).slice(0, 5)} ({last}
          ).
        </>
      )}{' '}
      {Object.keys(nights.pinned).length > 0 &&
        `Pinned: ${Object.entries(nights.pinned)
          .map(([u, n]) => `${u} to ${n}`)
          .join(', ')}. `}
      {nights.excluded.length > 0 && `Left out: ${nights.excluded.join(', ')}. `}
      <Link to={`/fleet-reach?plan=${encodeURIComponent(nights.plan)}`}>
        Step through who is dark
      </Link>
      {' · '}
      <a
        href={`/api/plans/${encodeURIComponent(nights.plan)}/calendar`}
        download={`${nights.plan}.ics`}
      >
        Calendar file
      </a>
    </p>
  )
}

const weekday = new Intl.DateTimeFormat('en-GB', {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  timeZone: 'UTC',
})

function Strip({
  nights,
  chosen,
  onChoose,
}: {
  nights: PlanNight[]
  chosen?: string
  onChoose: (night: string) => void
}) {
  return (
    <div className="strip" role="tablist" aria-label="Nights">
      {nights.map((n) => (
        <button
          key={n.night}
          type="button"
          role="tab"
          className={n.night === chosen ? 'night chosen' : 'night'}
          aria-selected={n.night === chosen}
          onClick={() => onChoose(n.night)}
        >
          <b>{weekday.format(Date.parse(n.night))}</b>
          <span>{count(n.units.length, 'part', 'parts')}</span>
          <InTime night={n} />
        </button>
      ))}
    </div>
  )
}

/** How likely a night ends in its windows; one that does not wait for any says so. */
function InTime({ night }: { night: PlanNight }) {
  const outside = night.units.filter((u) => u.outside).length
  if (night.chance == null)
    return outside > 0 ? (
      <span className="caution">▲ {count(outside, 'part', 'parts')} outside windows</span>
    ) : (
      <span className="quiet">waits for no window</span>
    )
  return (
    <span className={night.chance < 0.8 ? 'caution' : 'quiet'}>
      {night.chance < 0.8 ? '▲ ' : ''}
      {percent(night.chance)} in time
    </span>
  )
}

function percent(share: number) {
  return `${Math.round(share * 100)} %`
}

function OneNight({
  night,
  unit,
  onPick,
}: {
  night: PlanNight
  unit: string
  onPick: (unit: string) => void
}) {
  const zone = night.units[0]?.zone
  const at = night.units.filter((u) => u.unit === unit)
  return (
    <section aria-label={`The night of ${night.night}`}>
      <p>
        Begins at {clock(night.begins, zone).slice(0, 5)}, likely over by{' '}
        {clock(night.median, zone).slice(0, 5)}, in nine of ten cases by{' '}
        {clock(night.p90, zone).slice(0, 5)} ({zone}).
        {night.decides && ` What most often decides is ${night.decides}.`}
      </p>
      <PlannedSheet night={night} marked={unit} onPick={onPick} />
      <p className="quiet">
        White is the site's window, a bar the gate where a person says go, an outline the likely
        time, a dashed line its margin; a pilot is filled. Hours are those of {zone}; every unit
        keeps to its own site's clock.
      </p>
      {at.map((part) => (
        <p key={part.part}>
          <span className="mono">{part.unit}</span> at {part.siteTitle},{' '}
          {clock(part.begins, part.zone).slice(0, 5)} to {clock(part.ends, part.zone).slice(0, 5)} (
          {part.zone}): <span className="mono">{[part.from, ...part.way].join(' → ')}</span>. It
          does not begin earlier because {part.why}.
          {part.outside && <span className="caution"> ▲ Outside its windows: {part.outside}.</span>}
          {part.serves && ` Meanwhile dark: ${part.serves}.`}
        </p>
      ))}
      {night.serves.length > 0 && (
        <details>
          <summary>
            Dark at some time of it: {count(night.serves.length, 'place', 'places')} in users' words
          </summary>
          <p>{night.serves.join('; ')}.</p>
          {night.cutsOff.length > 0 && <p className="mono">{night.cutsOff.join(', ')}</p>}
        </details>
      )}
    </section>
  )
}

/** What another wish would cost, before it is one. */
function Otherwise({
  plan,
  nights,
  unit,
  onUnit,
}: {
  plan: Plan
  nights: PlanNights
  unit: string
  onUnit: (unit: string) => void
}) {
  const [night, setNight] = useState('')
  const ask = useWish(plan)
  const wishes = wishesFor(unit, night, nights)
  const sites = [...new Set(plan.units.map((u) => u.site))].sort()
  return (
    <div className="card" style={{ marginTop: 18 }}>
      <h2 className="flush-top">Otherwise?</h2>
      <div className="asks">
        <UnitAndNight plan={plan} unit={unit} onUnit={onUnit} night={night} setNight={setNight} />
        {wishes
          .filter(([, , can]) => can && unit !== '')
          .map(([words, wanted]) => (
            <Button
              key={words}
              variant="outline"
              loading={ask.isPending}
              onClick={() => ask.mutate({ wanted, keep: false })}
            >
              {words}?
            </Button>
          ))}
      </div>
      {sites.length > 1 && (
        <SiteOrder
          sites={sites}
          first={nights.siteOrder}
          asking={ask.isPending}
          ask={(siteOrder) => ask.mutate({ wanted: { siteOrder }, keep: false })}
        />
      )}
      <Manners
        nights={nights}
        asking={ask.isPending}
        ask={(wanted) => ask.mutate({ wanted, keep: false })}
      />
      <Trouble error={ask.error} />
      {ask.data && ask.variables && (
        <Costs
          costs={ask.data.costs}
          kept={ask.variables.keep}
          keeping={ask.isPending}
          keep={() => ask.mutate({ wanted: ask.variables.wanted, keep: true })}
        />
      )}
    </div>
  )
}

/** Asks what a wish costs, and keeps it when that is said. */
function useWish(plan: Plan) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ wanted, keep }: { wanted: Wanted; keep: boolean }) =>
      body(
        api.POST('/api/plans/{name}/nights', {
          params: { path: { name: plan.name }, query: { keep } },
          body: wanted,
        }),
      ),
    onSuccess: (_, { keep }) => {
      if (keep) queries.invalidateQueries({ queryKey: ['plans'] })
    },
  })
}

/** Where a person is asked. */
function Manners({
  nights,
  asking,
  ask,
}: {
  nights: PlanNights
  asking: boolean
  ask: (wanted: Wanted) => void
}) {
  return (
    <div className="asks">
      <NativeSelect
        label="A person is asked at the gate of"
        value={nights.asks}
        disabled={asking}
        onChange={(e) => ask({ asks: e.currentTarget.value })}
        data={[
          { value: 'each', label: 'each unit' },
          { value: 'pilots', label: 'pilots alone' },
          { value: 'nobody', label: 'none' },
        ]}
      />
      <NativeSelect
        label="Odd behind a restart, with another before it"
        value={nights.whenOdd}
        disabled={asking}
        onChange={(e) => ask({ whenOdd: e.currentTarget.value })}
        data={[
          { value: 'ask', label: 'waits for a person' },
          { value: 'go-on', label: 'goes on; judged at the end' },
        ]}
      />
    </div>
  )
}

/** Which site comes first. */
function SiteOrder({
  sites,
  first,
  asking,
  ask,
}: {
  sites: string[]
  first: string[]
  asking: boolean
  ask: (siteOrder: string[]) => void
}) {
  const [site, setSite] = useState('')
  return (
    <div style={{ display: 'flex', gap: 10, alignItems: 'end', flexWrap: 'wrap', marginTop: 10 }}>
      <NativeSelect
        label="Site"
        value={site}
        onChange={(e) => setSite(e.currentTarget.value)}
        data={['', ...sites]}
        w={220}
      />
      {site !== '' && (
        <Button
          variant="outline"
          loading={asking}
          onClick={() => ask([...first.filter((s) => s !== site), site])}
        >
          {first.length > 0 ? `Behind ${first.at(-1)}, before all others?` : 'Before all others?'}
        </Button>
      )}
      {first.length > 0 && (
        <Button variant="outline" loading={asking} onClick={() => ask([])}>
          In any order ({first.join(', ')} first so far)?
        </Button>
      )}
    </div>
  )
}

/** What a wish comes to. */
function Costs({
  costs,
  kept,
  keeping,
  keep,
}: {
  costs: string[]
  kept: boolean
  keeping: boolean
  keep: () => void
}) {
  return (
    <div role="status" style={{ marginTop: 10 }}>
      {costs.length === 0 ? (
        <p>Nothing else changes by it.</p>
      ) : (
        <>
          <p>{kept ? 'So it is now:' : 'If so:'}</p>
          <ul>
            {costs.map((cost) => (
              <li key={cost}>{cost}</li>
            ))}
          </ul>
        </>
      )}
      {!kept && (
        <Button loading={keeping} onClick={keep}>
          Make it so
        </Button>
      )}
    </div>
  )
}

type Wish = [string, Wanted, boolean]

/** What can be wished for a unit, in words, and whether it makes sense now. */
function wishesFor(unit: string, night: string, nights: PlanNights): Wish[] {
  const excluded = nights.excluded.includes(unit)
  const pinned = unit in nights.pinned
  return [
    [`Pin it to that night`, { pin: { [unit]: night } }, night !== '' && !excluded],
    ['Let it go where it fits', { unpin: [unit] }, pinned],
    ['Leave it out', { exclude: [unit] }, !excluded],
    ['Do it after all', { include: [unit] }, excluded],
  ]
}

function UnitAndNight({
  plan,
  unit,
  onUnit,
  night,
  setNight,
}: {
  plan: Plan
  unit: string
  onUnit: (unit: string) => void
  night: string
  setNight: (night: string) => void
}) {
  return (
    <>
      <NativeSelect
        label="Unit"
        value={unit}
        onChange={(e) => onUnit(e.currentTarget.value)}
        data={['', ...plan.units.map((u) => u.device)]}
        w={220}
      />
      <TextInput
        label="Night"
        type="date"
        value={night}
        onChange={(e) => setNight(e.currentTarget.value)}
        w={160}
      />
    </>
  )
}
