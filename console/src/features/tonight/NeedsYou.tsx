import { Button, Checkbox } from '@mantine/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, body, type Run, type Unit } from '../../api/client'
import { Trouble } from '../../components/Page'
import { useUnitAct } from './acts'
import { Stuck } from './Stuck'
import { isOver } from './sheet'
import { ForContacts, SetAside, WithReason } from './WithReason'

/** What waits for a person's word. */
export function NeedsYou({ run }: { run: Run }) {
  const waiting = run.units.filter(
    (u) =>
      !isOver(u) &&
      (u.trouble || isDoubtful(u) || u.state === 'held' || u.held || (u.gate && !u.gate.open)),
  )
  const gates = waiting.filter((u) => !u.trouble && u.state !== 'held' && !u.held && !isDoubtful(u))
  const over = run.state === 'finished' || run.state === 'abandoned'
  const rests = !over && run.units.every(isOver)
  return (
    <aside aria-label="Needs you">
      <h2 style={{ margin: '0 0 10px', fontSize: '1.05rem' }}>Needs you</h2>
      {rests && <NothingOpen run={run} />}
      {waiting.length === 0 && !rests && (
        <p className="quiet">
          {over ? (
            <>
              Nothing any more. The <Link to="/records">record</Link> is made.
            </>
          ) : (
            'Nothing just now.'
          )}
        </p>
      )}
      {run.heldWhy && run.state === 'held' && (
        <p className="caution">▲ The run is held: {run.heldWhy}.</p>
      )}
      {gates.length > 1 && <GoForAll run={run} count={gates.length} />}
      {waiting.map((unit) => (
        <Waiting key={unit.device} run={run} unit={unit} />
      ))}
      {!over &&
        run.units
          .filter((u) => u.state === 'set-aside')
          .map((u) => <Aside key={u.device} run={run} unit={u} />)}
      {!over && <WholeRun run={run} />}
    </aside>
  )
}

/** Something odd about it waits for a person. */
function isDoubtful(unit: Unit): boolean {
  return unit.doubt != null && unit.doubt.by == null
}

/** One word for all that wait, once each of them was read. */
function GoForAll({ run, count }: { run: Run; count: number }) {
  const queries = useQueryClient()
  const go = useMutation({
    mutationFn: () =>
      body(api.POST('/api/runs/{name}/go', { params: { path: { name: run.name } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ['runs'] }),
  })
  const [read, setRead] = useState(false)
  return (
    <div style={{ marginBottom: 12 }}>
      <Checkbox
        checked={read}
        onChange={(e) => setRead(e.currentTarget.checked)}
        label={`I have read what the ${count} gates below say`}
      />
      <Button mt={6} disabled={!read} onClick={() => go.mutate()} loading={go.isPending}>
        Go for all {count}
      </Button>
      <Trouble error={go.error} />
    </div>
  )
}

function Doubt({ run, unit }: { run: Run; unit: Unit }) {
  const act = useUnitAct(run, unit)
  return (
    <div className="card">
      <h3>
        <span className="caution">▲</span> Can you bear this about {unit.device}?
      </h3>
      <p className="flush">{unit.doubt?.stands}, and this is odd:</p>
      <ul style={{ margin: '4px 0 8px', paddingLeft: 20 }}>
        {unit.doubt?.odd.map((odd) => (
          <li key={odd}>{odd}</li>
        ))}
      </ul>
      <WithReason
        open
        title="Bear it"
        label="Why it is borne"
        button="Accept it as it is"
        color="lagoon"
        act={(why) => act.mutate({ kind: 'accept', why })}
      />
      <WithReason
        title="Do not bear it"
        label="Why it is not borne"
        button="Refuse it; it can still go back"
        act={(why) => act.mutate({ kind: 'refuse', why })}
      />
      <ForContacts act={(text) => act.mutate({ kind: 'word-for-contacts', text })} />
      <Trouble error={act.error} />
    </div>
  )
}

function Gate({ run, unit }: { run: Run; unit: Unit }) {
  const act = useUnitAct(run, unit)
  return (
    <div className="card">
      <h3>
        <span className="caution">▲</span> Gate before {unit.device}
      </h3>
      <p className="lead-wide">{unit.gate?.question}</p>
      <Button onClick={() => act.mutate({ kind: 'go' })} loading={act.isPending}>
        Go
      </Button>
      <Button
        ml={6}
        variant="subtle"
        onClick={() => act.mutate({ kind: 'hold' })}
        loading={act.isPending}
      >
        Hold it
      </Button>
      <SetAside act={(why) => act.mutate({ kind: 'set-aside', why })} />
      <ForContacts act={(text) => act.mutate({ kind: 'word-for-contacts', text })} />
      <Trouble error={act.error} />
    </div>
  )
}

/** It can be taken back in as long as its run goes on. */
function Aside({ run, unit }: { run: Run; unit: Unit }) {
  const act = useUnitAct(run, unit)
  return (
    <p className="quiet lead">
      {unit.device} is set aside: {unit.setAsideWhy}.{' '}
      <Button
        size="compact-sm"
        variant="subtle"
        onClick={() => act.mutate({ kind: 'take-in' })}
        loading={act.isPending}
      >
        Take it back in
      </Button>
      <Trouble error={act.error} />
    </p>
  )
}

/** Somebody holds it, or its window closed before it could begin: then somebody says when. */
function Held({ run, unit }: { run: Run; unit: Unit }) {
  const act = useUnitAct(run, unit)
  return (
    <div className="card">
      <h3>
        <span className="caution">▲</span> {unit.device} is held
      </h3>
      <p className="lead-wide">
        {unit.held ? 'Nothing begins on it until it may go on' : 'Nothing was interrupted'}
        {unit.turn?.waitsFor ? `: ${unit.turn.waitsFor}` : ''}.
      </p>
      {unit.held ? (
        <Button onClick={() => act.mutate({ kind: 'resume' })} loading={act.isPending}>
          Let it go on
        </Button>
      ) : (
        <>
          <Button
            onClick={() => act.mutate({ kind: 'turn', begins: 'next-window', why: '' })}
            loading={act.isPending}
          >
            In the next window of its site
          </Button>
          <WithReason
            title="Now"
            label="Why it begins now"
            button="Begin now"
            act={(why) => act.mutate({ kind: 'turn', begins: 'now', why })}
          >
            <p className="quiet">Outside the windows of its site only with a reason.</p>
          </WithReason>
        </>
      )}
      <SetAside act={(why) => act.mutate({ kind: 'set-aside', why })} />
      <ForContacts act={(text) => act.mutate({ kind: 'word-for-contacts', text })} />
      <Trouble error={act.error} />
    </div>
  )
}

/** A unit that waits for a person, by what it waits for. */
function Waiting({ run, unit }: { run: Run; unit: Unit }) {
  if (unit.trouble) return <Stuck run={run} unit={unit} />
  if (isDoubtful(unit)) return <Doubt run={run} unit={unit} />
  if (unit.held || unit.state === 'held') return <Held run={run} unit={unit} />
  return <Gate run={run} unit={unit} />
}

/** Its last unit was set aside; somebody takes one back in, or ends it. */
function NothingOpen({ run }: { run: Run }) {
  const queries = useQueryClient()
  const end = useMutation({
    mutationFn: () =>
      body(api.POST('/api/runs/{name}/end', { params: { path: { name: run.name } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ['runs'] }),
  })
  return (
    <>
      <p className="quiet">Nothing of this run is open any more. Take a unit back in, or end it.</p>
      <Button onClick={() => end.mutate()} loading={end.isPending}>
        End the run
      </Button>
      <Trouble error={end.error} />
    </>
  )
}

/** What is said to a run as a whole. */
function WholeRun({ run }: { run: Run }) {
  const queries = useQueryClient()
  const renew = () => queries.invalidateQueries({ queryKey: ['runs'] })
  const hold = useMutation({
    mutationFn: () =>
      body(
        api.POST(run.state === 'held' ? '/api/runs/{name}/resumption' : '/api/runs/{name}/hold', {
          params: { path: { name: run.name } },
        }),
      ),
    onSettled: renew,
  })
  const abandon = useMutation({
    mutationFn: (why: string) =>
      body(
        api.POST('/api/runs/{name}/abandonment', {
          params: { path: { name: run.name } },
          body: { why },
        }),
      ),
    onSettled: renew,
  })
  return (
    <>
      <Button variant="subtle" onClick={() => hold.mutate()} loading={hold.isPending}>
        {run.state === 'held' ? 'Let the run go on' : 'Hold the whole run'}
      </Button>
      <WithReason
        title="End the run for good"
        label="Why the run is abandoned"
        button="Abandon it; each unit stays as it stands"
        act={(why) => abandon.mutate(why)}
      />
      <Trouble error={hold.error ?? abandon.error} />
    </>
  )
}
