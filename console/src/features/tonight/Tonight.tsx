import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Link, useParams } from 'react-router'
import type { Run, Unit } from '../../api/client'
import { runQuery, runsQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { State } from '../../components/State'
import { clock, count, minutes } from '../../components/words'
import { Images } from './Images'
import { NeedsYou } from './NeedsYou'
import { NightSheet } from './NightSheet'
import { StepTable } from './StepTable'
import { goesOn, shownState, stateCounts } from './sheet'
import { Talk } from './Talk'

/** The run that is on, or one that was asked for. */
export function Tonight() {
  const { run: asked } = useParams()
  const { data: runs, error: noList } = useQuery(runsQuery)
  const name =
    asked ??
    (
      runs?.find((r) => r.state === 'under-way' || r.state === 'held') ??
      runs?.find((r) => r.state === 'armed') ??
      runs?.[0]
    )?.name ??
    ''
  const { data: run, error: noRun } = useQuery(runQuery(name))
  const error = noList ?? noRun
  return (
    <Page question="What happens tonight, and who is affected?" lede={run && <Lede run={run} />}>
      <Trouble error={error} />
      {runs && !name && (
        <p>
          Nothing is on. A run is started from an approved plan, on the page{' '}
          <Link to="/plans">Plans</Link>.
        </p>
      )}
      {run && <Live run={run} />}
    </Page>
  )
}

function Lede({ run }: { run: Run }) {
  const zone = run.units[0]?.zone
  return (
    <>
      {run.name}, {count(run.units.length, 'unit', 'units')}, started by {run.startedBy} at{' '}
      {clock(run.startedAt, zone)}{' '}
      {run.finishedAt ? `and finished at ${clock(run.finishedAt, zone)} ` : ''}({zone}).
      {run.pace > 1 && ` Practice fleet: its clocks run ${run.pace} times faster.`}
    </>
  )
}

function Live({ run }: { run: Run }) {
  const now = useNow(goesOn(run))
  return (
    <>
      <div className="counts">
        <span>
          <State of={run.state} />
        </span>
        {stateCounts(run.units).map(([state, number]) => (
          <span key={state}>
            <b>{number}</b>
            <State of={state} />
          </span>
        ))}
      </div>
      <div className="tonight">
        <div>
          <NightSheet run={run} now={now} />
          <Images run={run} />
          {run.units.map((unit) => (
            <details key={unit.device} open={run.units.length <= 2}>
              <summary>
                <span className="mono">{unit.device}</span>: {unit.from} → {unit.to},{' '}
                <State of={shownState(unit)} />
                <Window unit={unit} now={now} />
                {unit.turn?.waitsFor && <span className="quiet"> waits: {unit.turn.waitsFor}</span>}
              </summary>
              <StepTable unit={unit} />
              <Talk run={run} unit={unit} />
            </details>
          ))}
        </div>
        <NeedsYou run={run} />
      </div>
    </>
  )
}

/** How long its window is still open, and whether it is likely to make it. */
function Window({ unit, now }: { unit: Unit; now: number }) {
  if (!unit.turn?.inWork) return null
  if (unit.turn.outside)
    return <span className="caution"> ▲ outside its windows: {unit.turn.outside}</span>
  const left = Math.floor((Date.parse(unit.turn.closes) - now) / 60000)
  const likely = Math.round(100 * (unit.turn.chance ?? 1))
  const closes = `window closes ${left > 0 ? `in ${minutes(left * 60)}` : 'now'}`
  if (unit.state === 'stuck')
    return <span className="caution"> ▲ {closes}; it waits for a word</span>
  return (
    <span className={likely < 80 ? 'caution' : 'quiet'}>
      {likely < 80 ? ' ▲' : ''} {closes}, {likely} % likely to be done
    </span>
  )
}

/** The time, moving while something moves. */
function useNow(moving: boolean): number {
  const [now, setNow] = useState(Date.now())
  useEffect(() => {
    if (!moving) return
    const timer = window.setInterval(() => setNow(Date.now()), 500)
    return () => window.clearInterval(timer)
  }, [moving])
  return now
}
