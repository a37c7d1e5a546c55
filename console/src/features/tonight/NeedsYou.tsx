import { Button, Checkbox, TextInput } from '@mantine/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type ReactNode, useState } from 'react'
import { Link } from 'react-router'
import { api, body, type Run, type Unit } from '../../api/client'
import { Trouble } from '../../components/Page'
import { isOver } from './sheet'

/** What waits for a person's word. */
export function NeedsYou({ run }: { run: Run }) {
  const waiting = run.units.filter(
    (u) =>
      !isOver(u) &&
      (u.trouble || isDoubtful(u) || u.state === 'held' || u.held || (u.gate && !u.gate.open)),
  )
  const gates = waiting.filter((u) => !u.trouble && u.state !== 'held' && !u.held && !isDoubtful(u))
  const over = run.state === 'finished' || run.state === 'abandoned'
  return (
    <aside aria-label="Needs you">
      <h2 style={{ margin: '0 0 10px', fontSize: '1.05rem' }}>Needs you</h2>
      {!over && run.units.every(isOver) && <NothingOpen run={run} />}
      {waiting.length === 0 && (over || !run.units.every(isOver)) && (
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

const PLAIN = {
  go: '/api/runs/{name}/units/{unit}/go',
  retry: '/api/runs/{name}/units/{unit}/retry',
  hold: '/api/runs/{name}/units/{unit}/hold',
  resume: '/api/runs/{name}/units/{unit}/resumption',
  'take-in': '/api/runs/{name}/units/{unit}/take-in',
} as const

const WITH_REASON = {
  'set-aside': '/api/runs/{name}/units/{unit}/set-aside',
  return: '/api/runs/{name}/units/{unit}/return',
  again: '/api/runs/{name}/units/{unit}/again',
  'take-over': '/api/runs/{name}/units/{unit}/take-over',
  skip: '/api/runs/{name}/units/{unit}/skip',
  accept: '/api/runs/{name}/units/{unit}/acceptance',
  refuse: '/api/runs/{name}/units/{unit}/refusal',
} as const

function useUnitAct(run: Run, unit: Unit) {
  const queries = useQueryClient()
  const path = { name: run.name, unit: unit.device }
  return useMutation({
    mutationFn: (
      act:
        | { kind: keyof typeof PLAIN }
        | { kind: 'rescue'; image: string }
        | { kind: 'replace'; serial: string; why: string }
        | { kind: keyof typeof WITH_REASON; why: string }
        | { kind: 'turn'; begins: string; why: string },
    ) => {
      if (act.kind === 'turn')
        return body(
          api.POST('/api/runs/{name}/units/{unit}/turn', {
            params: { path },
            body: { begins: act.begins, why: act.why },
          }),
        )
      if (act.kind === 'rescue')
        return body(
          api.POST('/api/runs/{name}/units/{unit}/rescue', {
            params: { path },
            body: act.image ? { image: act.image } : {},
          }),
        )
      if (act.kind === 'replace')
        return body(
          api.POST('/api/runs/{name}/units/{unit}/replacement', {
            params: { path },
            body: { serial: act.serial, why: act.why },
          }),
        )
      if ('why' in act)
        return body(api.POST(WITH_REASON[act.kind], { params: { path }, body: { why: act.why } }))
      return body(api.POST(PLAIN[act.kind], { params: { path } }))
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ['runs'] }),
  })
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
      <p className="flush">It runs {unit.to}, was watched to the end, and this is odd:</p>
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
      <Trouble error={act.error} />
    </div>
  )
}

/** What is offered beside trying again, where the service would accept it. */
const otherWays = [
  {
    kind: 'take-over',
    title: 'Take its configuration over',
    label: 'Why it is taken over',
    button: 'Take it over as it stands; it is backed up anew',
  },
  {
    kind: 'again',
    title: 'Restart it once more',
    label: 'Why it restarts once more',
    button: 'Choose its image and restart',
  },
] as const

function Stuck({ run, unit }: { run: Run; unit: Unit }) {
  const act = useUnitAct(run, unit)
  return (
    <div className="card">
      <h3>
        <span className="stop">■</span> {unit.device} is stuck at {unit.trouble?.step}
      </h3>
      <p className="flush">
        Expected: {unit.trouble?.expected}. Seen: {unit.trouble?.seen}. {unit.trouble?.remedy}
      </p>
      {unit.trouble && unit.trouble.lastLines.length > 0 && (
        <div className="talk">{unit.trouble.lastLines.join('\n')}</div>
      )}
      {unit.trouble?.ways.includes('rescue') && (
        <Rescue act={(image) => act.mutate({ kind: 'rescue', image })} busy={act.isPending} />
      )}
      <Button
        mt="xs"
        variant={unit.trouble?.ways.includes('rescue') ? 'outline' : 'filled'}
        onClick={() => act.mutate({ kind: 'retry' })}
        loading={act.isPending}
      >
        Try the step again
      </Button>
      {otherWays
        .filter(({ kind }) => unit.trouble?.ways.includes(kind))
        .map(({ kind, ...words }) => (
          <WithReason key={kind} {...words} act={(why) => act.mutate({ kind, why })} />
        ))}
      {unit.trouble?.ways.includes('return') && (
        <WithReason
          title="Let it go back"
          label="Why it goes back"
          button="Back to what it ran before, with its configuration"
          act={(why) => act.mutate({ kind: 'return', why })}
        />
      )}
      {unit.trouble?.ways.includes('replace') && (
        <Replace
          act={(serial, why) => act.mutate({ kind: 'replace', serial, why })}
          busy={act.isPending}
        />
      )}
      {unit.trouble?.ways.includes('skip') && (
        <WithReason
          title="Leave the step out"
          label="Why the step is left out"
          button="Go on without it"
          act={(why) => act.mutate({ kind: 'skip', why })}
        />
      )}
      <SetAside act={(why) => act.mutate({ kind: 'set-aside', why })} />
      <Trouble error={act.error} />
    </div>
  )
}

/** What is loaded may be left to the service: it knows what the shelf holds for this device. */
function Rescue({ act, busy }: { act: (image: string) => void; busy: boolean }) {
  const [file, nameFile] = useState('')
  return (
    <>
      <Button mt="xs" onClick={() => act(file.trim())} loading={busy}>
        Start it from memory
      </Button>
      <details>
        <summary>With another image</summary>
        <TextInput
          aria-label="Image that is loaded into its memory"
          placeholder="a file on the shelf; else the best one there"
          value={file}
          onChange={(e) => nameFile(e.currentTarget.value)}
          mt={6}
        />
      </details>
    </>
  )
}

/** The box that was plugged in instead: its serial number tells it from any other that stands at the address. */
function Replace({ act, busy }: { act: (serial: string, why: string) => void; busy: boolean }) {
  const [serial, setSerial] = useState('')
  return (
    <WithReason
      title="Another box stands there"
      label="Why another box stands there"
      button="Meet it, and go on with it"
      color="lagoon"
      busy={busy}
      ready={serial.trim() !== ''}
      act={(why) => act(serial.trim(), why)}
    >
      <p style={{ margin: '6px 0' }}>
        It needs the address and a login; release and configuration come from here.
      </p>
      <TextInput
        aria-label="Serial number of the box that stands there now"
        placeholder="its serial number"
        value={serial}
        onChange={(e) => setSerial(e.currentTarget.value)}
      />
    </WithReason>
  )
}

function SetAside({ act }: { act: (why: string) => void }) {
  return (
    <WithReason
      title="Set aside"
      label="Why it is set aside"
      button="Set it aside as it stands"
      act={act}
    />
  )
}

/** What needs a reason: without one the button does nothing. */
function WithReason({
  title,
  label,
  button,
  act,
  children,
  open = false,
  ready = true,
  busy = false,
  color = 'brick',
}: {
  title: string
  label: string
  button: string
  act: (why: string) => void
  children?: ReactNode
  open?: boolean
  ready?: boolean
  busy?: boolean
  color?: string
}) {
  const [why, setWhy] = useState('')
  return (
    <details open={open}>
      <summary>{title}</summary>
      {children}
      <TextInput
        aria-label={label}
        placeholder="why; the record will hold it"
        value={why}
        onChange={(e) => setWhy(e.currentTarget.value)}
        mt={6}
      />
      <Button
        mt={6}
        variant="outline"
        color={color}
        disabled={!why.trim() || !ready}
        loading={busy}
        onClick={() => act(why)}
      >
        {button}
      </Button>
    </details>
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
