import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import type { Run, Unit } from '../../api/client'
import { talkQuery } from '../../api/queries'
import { Trouble } from '../../components/Page'
import { clock } from '../../components/words'

// What came last is what happens now; the record holds the whole.
const LINES = 80
const overStates = ['settled', 'returned', 'set-aside']

/** The talk with a unit's device as it goes on, secrets masked. Nothing is asked for while it is folded away. */
export function Talk({ run, unit }: { run: Run; unit: Unit }) {
  const [open, setOpen] = useState(false)
  return (
    <details onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>What is said to {unit.device}, and answered</summary>
      {open && <Lines run={run} unit={unit} />}
    </details>
  )
}

function Lines({ run, unit }: { run: Run; unit: Unit }) {
  const moving = run.finishedAt == null && !overStates.includes(unit.state)
  const { data: talk, error } = useQuery(talkQuery(run.name, unit.device, moving))
  const end = useRef<HTMLDivElement>(null)
  const count = talk?.length ?? 0
  useEffect(() => {
    if (count > 0) end.current?.scrollTo?.({ top: end.current.scrollHeight })
  }, [count])
  return (
    <>
      <Trouble error={error} />
      {talk && talk.length === 0 && <p className="quiet">Nothing was said yet.</p>}
      {talk && talk.length > 0 && (
        <div
          className="talk"
          ref={end}
          style={{ maxHeight: 320, overflowY: 'auto' }}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls has to be reached by keyboard
          tabIndex={0}
          role="log"
          aria-label={`Talk with ${unit.device}`}
        >
          {talk.slice(-LINES).map((line, i, all) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: lines are only ever added
            <div key={i}>
              {line.direction === 'typed' && (
                <b>
                  {clock(line.at, unit.zone)} {line.text}
                </b>
              )}
              {line.direction === 'overheard' && (
                <>
                  <b>{clock(line.at, unit.zone)} on its console line</b>
                  {`\n${line.text}`}
                </>
              )}
              {line.direction === 'answered' && all[i - 1]?.direction === 'overheard' && (
                <>
                  <b>{clock(line.at, unit.zone)} answered</b>
                  {'\n'}
                </>
              )}
              {line.direction === 'answered' && line.text}
            </div>
          ))}
        </div>
      )}
    </>
  )
}
