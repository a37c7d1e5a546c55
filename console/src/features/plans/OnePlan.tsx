import { Button, NativeSelect, TextInput } from '@mantine/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { api, body, type Finding, type Plan } from '../../api/client'
import { planQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { State } from '../../components/State'
import { ago, count, megabytes, minutes } from '../../components/words'
import { Nights } from '../nights/Nights'
import { preferences } from '../paths/preferences'
import { Rehearsals } from '../rehearsals/Rehearsals'

const choiceWords: Record<string, string> = {
  'save-first': 'Save them first',
  'may-go': 'These files may go',
  accept: 'Accept',
  'leave-out': 'Leave the device out',
}

const views: [string, string][] = [
  ['', 'units and findings'],
  ['nights', 'nights'],
  ['rehearsals', 'rehearsals'],
]

/** Where it is not the best path by the usual measure, and who is active afterwards. */
function wayWanted(plan: Plan): string {
  const measure = preferences.find(([value]) => value === plan.prefer)
  return [
    plan.prefer !== 'fewest-restarts' && measure && measure[1].toLowerCase(),
    plan.alternative > 0 && `alternative ${plan.alternative}`,
    plan.roles === 'as-before' && 'roles as before',
  ]
    .filter(Boolean)
    .map((words) => `, ${words}`)
    .join('')
}

/** One plan: what it does to whom, its findings, and what a person says to them. */
export function OnePlan() {
  const { plan: name = '' } = useParams()
  const { data: plan, error } = useQuery(planQuery(name))
  const view = useSearchParams()[0].get('view') ?? ''
  return (
    <Page
      question={`What would ${name} do, and what should be known first?`}
      lede={
        plan &&
        `To ${plan.target}${wayWanted(plan)}. Written ${ago(plan.writtenAt)} by ${plan.writtenBy}${plan.approvedBy ? `, approved by ${plan.approvedBy}` : ''}.`
      }
    >
      <Trouble error={error} />
      {plan && (
        <>
          <p>
            <State of={plan.state} />
          </p>
          {plan.changes.length > 0 && <Stale plan={plan} />}
          <div className="views">
            {views.map(([key, words]) => (
              <Link
                key={key}
                to={key ? `/plans/${plan.name}?view=${key}` : `/plans/${plan.name}`}
                className={view === key ? 'current' : ''}
                aria-current={view === key ? 'page' : undefined}
              >
                {words}
              </Link>
            ))}
          </div>
          {view === 'nights' && <Nights plan={plan} />}
          {view === 'rehearsals' && <Rehearsals plan={plan} />}
          {view === '' && (
            <>
              <Units plan={plan} />
              <h2>Findings</h2>
              <Findings plan={plan} />
            </>
          )}
          <Decide plan={plan} />
        </>
      )}
    </Page>
  )
}

const toldAtOnce = 5

/** What would come out otherwise, and the way to work it out again. */
function Stale({ plan }: { plan: Plan }) {
  const queries = useQueryClient()
  const again = useMutation({
    mutationFn: () =>
      body(api.POST('/api/plans/{name}/again', { params: { path: { name: plan.name } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['plans'] }),
  })
  return (
    <div className="card caution" role="status">
      <b>▲ Worked out now, it would come out otherwise:</b>
      <Changes all={plan.changes.slice(0, toldAtOnce)} />
      {plan.changes.length > toldAtOnce && (
        <details>
          <summary>and {plan.changes.length - toldAtOnce} more</summary>
          <Changes all={plan.changes.slice(toldAtOnce)} />
        </details>
      )}
      <Trouble error={again.error} />
      <Button onClick={() => again.mutate()} loading={again.isPending}>
        Work it out again
      </Button>
    </div>
  )
}

function Changes({ all }: { all: string[] }) {
  return (
    <ul>
      {all.map((change) => (
        <li key={change}>{change}</li>
      ))}
    </ul>
  )
}

/** The order inside a unit of several: each move in words, with what it costs in service. */
function Moves({ order }: { order: NonNullable<Plan['units'][number]['order']> }) {
  return (
    <details>
      <summary>
        {count(order.moves.length, 'move', 'moves')} inside, dark for {minutes(order.darkSeconds)}{' '}
        in all
      </summary>
      <ol>
        {order.moves.map((move) => (
          <li key={move.sentence}>
            {move.sentence}
            {move.darkSeconds > 0 && (
              <span className="quiet"> ({minutes(move.darkSeconds)} dark)</span>
            )}
          </li>
        ))}
      </ol>
      {order.barred.map((why) => (
        <p key={why} className="caution">
          ▲ Not one by one: {why}.
        </p>
      ))}
    </details>
  )
}

function Units({ plan }: { plan: Plan }) {
  return (
    <table className="plain">
      <thead>
        <tr>
          <th>device</th>
          <th>hop</th>
          <th>image</th>
          <th>restarts</th>
          <th>dark</th>
          <th>without network meanwhile</th>
        </tr>
      </thead>
      <tbody>
        {plan.units.flatMap((unit) =>
          unit.hops.map(({ hop }, i) => (
            <tr key={unit.device + hop.to} style={unit.leftOut ? { opacity: 0.55 } : {}}>
              <td>
                {i === 0 && <span className="mono">{unit.device}</span>}
                {i === 0 && unit.leftOut && <div className="caution">▲ left out</div>}
                {i === 0 && unit.saveFirst && <div className="quiet">saves changes first</div>}
              </td>
              <td className="mono nowrap">
                {hop.from} → {hop.to}
              </td>
              <td>
                {hop.images.map((image) => (
                  <div key={image.fileName}>
                    <span className="mono">{image.fileName}</span>{' '}
                    <span className="quiet nowrap">{megabytes(image.sizeBytes)}</span>
                  </div>
                ))}
                {hop.brings.length > 0 && <div className="quiet">with {hop.brings.join(', ')}</div>}
              </td>
              <td>{hop.restarts}</td>
              <td className="nowrap">{minutes(hop.darkSeconds)}</td>
              <td>
                {i === 0 && (unit.serves || 'nobody wrote it down')}
                {i === 0 && unit.order && <Moves order={unit.order} />}
                {i === 0 && unit.cutsOff.length > 0 && (
                  <div>
                    <Link to={`/fleet-reach?down=${unit.device}`}>
                      and {count(unit.cutsOff.length, 'device', 'devices')} behind it
                    </Link>
                  </div>
                )}
              </td>
            </tr>
          )),
        )}
      </tbody>
    </table>
  )
}

const worthFiltering = 8
const filters = { display: 'flex', gap: 10, marginBottom: 10, alignItems: 'end' }

/** What is only said with a reason, which the plan keeps. */
const needsReason = ['accept', 'may-go']

/** The findings, those that need a word first; by severity and by what they speak of. */
function Findings({ plan }: { plan: Plan }) {
  const [severity, setSeverity] = useState('')
  const [text, setText] = useState('')
  const shown = plan.findings.filter(
    (f) =>
      (severity === '' ||
        (severity === 'open' ? f.severity !== 'note' && !f.answer : f.severity === severity)) &&
      `${f.device} ${f.fact}`.toLowerCase().includes(text.toLowerCase()),
  )
  return (
    <>
      <div
        hidden={plan.findings.length < worthFiltering}
        style={plan.findings.length < worthFiltering ? {} : filters}
      >
        <NativeSelect
          label="Which"
          value={severity}
          onChange={(e) => setSeverity(e.currentTarget.value)}
          data={[
            { value: '', label: 'all' },
            { value: 'open', label: 'open' },
            { value: 'stop', label: 'stops' },
            { value: 'caution', label: 'cautions' },
            { value: 'note', label: 'notes' },
          ]}
        />
        <TextInput
          label="About"
          placeholder="device or words"
          value={text}
          onChange={(e) => setText(e.currentTarget.value)}
        />
        <span className="quiet">
          {shown.length} of {plan.findings.length}
        </span>
      </div>
      {plan.findings.length === 0 && (
        <p>None: nothing stands in the way and nothing needs a decision.</p>
      )}
      {shown.map((finding) => (
        <FindingRow key={finding.key} plan={plan} finding={finding} />
      ))}
    </>
  )
}

function FindingRow({ plan, finding }: { plan: Plan; finding: Finding }) {
  const queries = useQueryClient()
  const [reason, setReason] = useState('')
  const say = useMutation({
    mutationFn: (choice: string) =>
      body(
        api.POST('/api/plans/{name}/acknowledgements', {
          params: { path: { name: plan.name } },
          body: { finding: finding.key, choice, reason },
        }),
      ),
    onSuccess: (fresh) => queries.setQueryData(['plans', plan.name], fresh),
  })
  const open =
    finding.choices.length > 0 &&
    !finding.answer &&
    (plan.state === 'draft' || plan.state === 'ready')
  return (
    <div className="finding">
      <State of={finding.severity} />
      <div>
        {finding.fact} {finding.remedy}{' '}
        {finding.key === `${finding.device}/identity` && (
          <Link to={`/fleet/${finding.device}`}>what it says of itself</Link>
        )}
        {finding.answer && (
          <div className="quiet">
            {choiceWords[finding.answer.choice] ?? finding.answer.choice}, said {finding.answer.by}{' '}
            {ago(finding.answer.at)}
            {finding.answer.reason && `: ${finding.answer.reason}`}
          </div>
        )}
        {open && (
          <div style={{ display: 'flex', gap: 8, marginTop: 8 }}>
            <TextInput
              aria-label={`Reason for ${finding.device || 'the plan'}`}
              placeholder="reason, kept with the plan"
              value={reason}
              onChange={(e) => setReason(e.currentTarget.value)}
              w={260}
            />
            {finding.choices.map((choice) => (
              <Button
                key={choice}
                variant="outline"
                loading={say.isPending}
                disabled={needsReason.includes(choice) && reason.trim() === ''}
                onClick={() => say.mutate(choice)}
              >
                {choiceWords[choice] ?? choice}
              </Button>
            ))}
          </div>
        )}
        <Trouble error={say.error} />
      </div>
    </div>
  )
}

function Decide({ plan }: { plan: Plan }) {
  const queries = useQueryClient()
  const navigate = useNavigate()
  const approve = useMutation({
    mutationFn: () =>
      body(api.POST('/api/plans/{name}/approval', { params: { path: { name: plan.name } } })),
    onSuccess: (fresh) => queries.setQueryData(['plans', plan.name], fresh),
  })
  const start = useMutation({
    mutationFn: () => body(api.POST('/api/runs', { body: { plan: plan.name } })),
    onSuccess: () => {
      queries.invalidateQueries()
      navigate(`/tonight/${plan.name}`)
    },
  })
  const units = plan.units.filter((u) => !u.leftOut)
  const leftOut = new Set(plan.units.filter((u) => u.leftOut).map((u) => u.device))
  for (const f of plan.findings) if (f.answer?.choice === 'leave-out') leftOut.add(f.device)
  const open = plan.findings.filter(
    (f) => f.severity !== 'note' && !f.answer && !leftOut.has(f.device),
  ).length
  return (
    <div style={{ marginTop: 20 }}>
      <Trouble error={approve.error ?? start.error} />
      {plan.state === 'draft' && (
        <p className="caution">
          ▲{' '}
          {open > 0
            ? `Not ready: ${count(open, 'finding is', 'findings are')} open.`
            : 'Not ready: it changes nothing.'}
        </p>
      )}
      {plan.state === 'ready' && (
        <Button onClick={() => approve.mutate()} loading={approve.isPending}>
          Approve
        </Button>
      )}
      {plan.state === 'approved' && (
        <Button onClick={() => start.mutate()} loading={start.isPending}>
          Start the run of {count(units.length, 'unit', 'units')}
        </Button>
      )}
      {plan.state === 'used' && (
        <Button variant="outline" onClick={() => navigate(`/tonight/${plan.name}`)}>
          See its run
        </Button>
      )}
    </div>
  )
}
