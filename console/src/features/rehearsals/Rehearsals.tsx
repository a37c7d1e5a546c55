import { Button, NativeSelect } from '@mantine/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body, type Plan, type PlayedNight, type Rehearsal } from '../../api/client'
import { faultsQuery, jobQuery, rehearsalsQuery } from '../../api/queries'
import { Trouble } from '../../components/Page'
import { State } from '../../components/State'
import { ago, clock, count, minutes } from '../../components/words'
import { howWords, longerSteps } from './outcome'
import { PlayedSheet } from './PlayedSheet'

/** A plan played against stand-ins before its night: ask for one, follow it, read what came out. */
export function Rehearsals({ plan }: { plan: Plan }) {
  const { data: all, error } = useQuery(rehearsalsQuery(plan.name))
  const [chosen, choose] = useState<number>()
  const shown = all?.find((r) => r.number === chosen) ?? all?.[0]
  const playing = all?.find((r) => r.state === 'under-way')
  return (
    <>
      <Trouble error={error} />
      {all?.length === 0 && (
        <p>
          It was not rehearsed yet. Stand-ins are made from what was last read of its devices; no
          device is touched, and no person is asked.
        </p>
      )}
      {playing ? (
        <Playing rehearsal={playing} />
      ) : (
        <Ask plan={plan} onBegun={() => choose(undefined)} />
      )}
      {all && all.length > 1 && (
        <div className="views" style={{ marginTop: 16 }}>
          {all.map((r) => (
            <button
              key={r.number}
              type="button"
              className={r === shown ? 'way current' : 'way'}
              aria-pressed={r === shown}
              onClick={() => choose(r.number)}
            >
              rehearsal {r.number}
            </button>
          ))}
        </div>
      )}
      {shown?.outcome && <Came rehearsal={shown} />}
    </>
  )
}

interface Asked {
  where: string
  fault: string
}

function Ask({ plan, onBegun }: { plan: Plan; onBegun: () => void }) {
  const { data: faults } = useQuery(faultsQuery)
  const [asked, setAsked] = useState<Asked[]>([])
  const [where, setWhere] = useState('')
  const [fault, setFault] = useState('')
  const units = plan.units.filter((u) => !u.leftOut)
  const sites = [...new Set(units.map((u) => u.site))]
  const begin = useRehearsing(plan, asked, onBegun)
  const sentence = (name: string) => faults?.find((f) => f.name === name)?.sentence ?? name
  return (
    <div className="card apart">
      <h2 className="flush-top">Rehearse it</h2>
      <div className="asks">
        <NativeSelect
          label="At"
          value={where}
          onChange={(e) => setWhere(e.currentTarget.value)}
          data={['', ...units.map((u) => u.device), ...sites.map((s) => `site:${s}`)]}
          w={220}
        />
        <NativeSelect
          label="goes wrong"
          value={fault}
          onChange={(e) => setFault(e.currentTarget.value)}
          data={[
            { value: '', label: '' },
            ...(faults ?? []).map((f) => ({ value: f.name, label: f.sentence })),
          ]}
          w={380}
        />
        <Button
          variant="outline"
          disabled={!where || !fault}
          onClick={() => {
            setAsked([
              ...asked.filter((a) => a.where !== where || a.fault !== fault),
              { where, fault },
            ])
            setFault('')
          }}
        >
          Ask for it
        </Button>
      </div>
      {asked.length > 0 && (
        <AskedFor
          asked={asked}
          sentence={sentence}
          drop={(one) => setAsked(asked.filter((other) => other !== one))}
        />
      )}
      <p>
        <Button loading={begin.isPending} onClick={() => begin.mutate()}>
          {asked.length > 0 ? 'Rehearse with that' : 'Rehearse, with nothing going wrong'}
        </Button>
      </p>
      <Trouble error={begin.error} />
    </div>
  )
}

function Playing({ rehearsal }: { rehearsal: Rehearsal }) {
  const { data: job } = useQuery(jobQuery(rehearsal.job))
  const end = useMutation({
    mutationFn: () =>
      body(api.DELETE('/api/jobs/{id}', { params: { path: { id: rehearsal.job } } })),
  })
  return (
    <div className="card apart" role="status">
      <State of="under-way" /> Rehearsal {rehearsal.number} is played
      {job?.doing ? `: ${job.doing}` : ''}.{' '}
      <Button
        size="compact-sm"
        variant="outline"
        loading={end.isPending}
        onClick={() => end.mutate()}
      >
        End it
      </Button>
      <Trouble error={end.error} />
    </div>
  )
}

function Came({ rehearsal }: { rehearsal: Rehearsal }) {
  const outcome = rehearsal.outcome
  if (!outcome) return null
  const settled = outcome.units.filter((u) => u.state === 'settled').length
  const longer = longerSteps(outcome)
  const troubled = outcome.units.filter((u) => u.trouble || u.waitsFor)
  return (
    <section aria-label={`Rehearsal ${rehearsal.number}`}>
      <h2>
        Rehearsal {rehearsal.number}: {settled} of {count(outcome.units.length, 'unit', 'units')}{' '}
        settled
      </h2>
      <p>
        <State of={rehearsal.state} /> Played {ago(rehearsal.startedAt)} by {rehearsal.startedBy}.
        {rehearsal.asked.length > 0 &&
          ` Asked to go wrong: ${rehearsal.asked.map((a) => `${a.where} ${a.fault.replaceAll('-', ' ')}`).join('; ')}.`}
      </p>
      {rehearsal.planChanged && (
        <p className="caution">
          ▲ The plan was changed since: what was played is not what is planned now.
        </p>
      )}
      {outcome.broken && <p className="stop">■ {outcome.broken}</p>}
      {outcome.nights.map((night) => (
        <div key={night.words}>
          <h3>{night.words}</h3>
          <PlayedSheet night={night} />
        </div>
      ))}
      {outcome.nights.length > 0 && (
        <p className="quiet">
          White is the site's window; an outline is the time as planned, with its margin; what is
          filled was played: moss in time, amber late, brick beyond its window or stuck.
        </p>
      )}
      <PlayedTable nights={outcome.nights} />
      {troubled.map((u) => (
        <Troubled key={u.device} unit={u} />
      ))}
      {longer.length > 0 && <TookLonger steps={longer} />}
      {outcome.notPlayed.length > 0 && (
        <details>
          <summary>Not played: {count(outcome.notPlayed.length, 'unit', 'units')}</summary>
          <ul>
            {outcome.notPlayed.map((n) => (
              <li key={n.device}>
                <span className="mono">{n.device}</span>: {n.why}
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  )
}

/** With its day where that is not the day on which the part begins. */
function closing(closes: string, begins: string, zone: string) {
  const day = (time: string) =>
    new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: zone }).format(
      Date.parse(time),
    )
  const time = clock(closes, zone).slice(0, 5)
  return day(closes) === day(begins) ? time : `${day(closes)} ${time}`
}

function span(from: string | null | undefined, to: string | null | undefined, zone: string) {
  return from ? `${clock(from, zone).slice(0, 5)} to ${to ? clock(to, zone).slice(0, 5) : '…'}` : ''
}

function useRehearsing(plan: Plan, asked: Asked[], onBegun: () => void) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: () =>
      body(
        api.POST('/api/plans/{plan}/rehearsals', {
          params: { path: { plan: plan.name } },
          body: { faults: asked },
        }),
      ),
    onSuccess: () => {
      onBegun()
      return queries.invalidateQueries({ queryKey: ['plans', plan.name, 'rehearsals'] })
    },
  })
}

/** What is asked to go wrong. */
function AskedFor({
  asked,
  sentence,
  drop,
}: {
  asked: Asked[]
  sentence: (fault: string) => string
  drop: (one: Asked) => void
}) {
  return (
    <ul>
      {asked.map((a) => (
        <li key={a.where + a.fault}>
          <span className="mono">{a.where}</span>: {sentence(a.fault)}{' '}
          <Button size="compact-xs" variant="subtle" onClick={() => drop(a)}>
            Not that
          </Button>
        </li>
      ))}
    </ul>
  )
}

function PlayedTable({ nights }: { nights: PlayedNight[] }) {
  return (
    <table className="plain">
      <thead>
        <tr>
          <th>unit</th>
          <th>releases</th>
          <th>planned</th>
          <th>played</th>
          <th>window ends</th>
          <th>how</th>
        </tr>
      </thead>
      <tbody>
        {nights.flatMap((night) =>
          night.parts.map((p) => (
            <tr key={night.words + p.device + p.part}>
              <td className="mono">{p.device}</td>
              <td className="mono">
                {p.from} → {p.to}
              </td>
              <td className="mono">{span(p.plannedBegin, p.plannedEnd, p.zone)}</td>
              <td className="mono">{span(p.playedBegin, p.playedEnd, p.zone)}</td>
              <td className="mono">{closing(p.closes, p.plannedBegin, p.zone)}</td>
              <td>
                <span className={howWords(p.how).tone}>
                  {howWords(p.how).shape} {howWords(p.how).words}
                </span>
              </td>
            </tr>
          )),
        )}
      </tbody>
    </table>
  )
}

/** A unit that is stuck, or waits. */
function Troubled({ unit: u }: { unit: NonNullable<Rehearsal['outcome']>['units'][number] }) {
  return (
    <div className="card" style={{ marginTop: 12 }}>
      {u.trouble ? (
        <>
          <h3 className="flush-top">
            <span className="stop">■</span> {u.device} is stuck at {u.trouble.step}
          </h3>
          <p className="flush">
            Expected: {u.trouble.expected}. Seen: {u.trouble.seen}. {u.trouble.remedy}
          </p>
          {u.trouble.lastLines.length > 0 && (
            <div className="talk">{u.trouble.lastLines.join('\n')}</div>
          )}
        </>
      ) : (
        <p className="flush">
          <span className="caution">▲</span> <span className="mono">{u.device}</span> is {u.state}:{' '}
          {u.waitsFor}.
        </p>
      )}
    </div>
  )
}

function TookLonger({ steps }: { steps: ReturnType<typeof longerSteps> }) {
  return (
    <>
      <h3>Took longer than usual</h3>
      <ul>
        {steps.map((step) => (
          <li key={step.words}>
            {step.words}: {minutes(step.seconds)}, usually {minutes(step.expected)}
          </li>
        ))}
      </ul>
    </>
  )
}
