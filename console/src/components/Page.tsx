import { type ReactNode, useEffect } from 'react'
import { clock } from './words'

/** One page answers one question; the question stands at its top. */
export function Page({
  question,
  lede,
  children,
}: {
  question: string
  lede?: ReactNode
  children?: ReactNode
}) {
  useEffect(() => {
    document.title = `${question} Calm Step`
  }, [question])
  return (
    <>
      <h1 className="question">{question}</h1>
      {lede && <p className="lede">{lede}</p>}
      {children}
    </>
  )
}

/** Says that what is shown is what was last known. */
export function LastKnown({ since }: { since: Date }) {
  return (
    <p className="lastknown caution" role="status">
      The service does not answer since {clock(since.toISOString())}. What stands here is the last
      that is known; what is under way goes on by itself. Trying again.
    </p>
  )
}

/** A refusal in the service's own words. */
export function Trouble({ error }: { error?: (Error & { details?: string[] }) | null }) {
  if (!error) return null
  return (
    <div className="card stop" role="alert">
      ■ {error.message}
      {error.details?.map((line) => (
        <div key={line} className="mono">
          {line}
        </div>
      ))}
    </div>
  )
}
