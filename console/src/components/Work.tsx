import { Button } from '@mantine/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { api, body } from '../api/client'
import { jobQuery } from '../api/queries'

/**
 * How far a long work is. It can be ended, and what was done until then stays.
 *
 * `asked` says what happens to each part ("asked"), `good` and `bad` how parts end ("read", "silent").
 */
export function Work({
  id,
  asked,
  good,
  bad,
  over,
}: {
  id: number
  asked: string
  good: string
  bad: string
  over?: () => void
}) {
  const { data: job } = useQuery(jobQuery(id))
  const cancel = useMutation({
    mutationFn: () => body(api.DELETE('/api/jobs/{id}', { params: { path: { id } } })),
  })
  const ended = job !== undefined && job.state !== 'under-way'
  const latestOver = useRef(over)
  latestOver.current = over
  useEffect(() => {
    if (ended) latestOver.current?.()
  }, [ended])
  if (!job) return null
  const missed = job.failed > 0 && `, ${job.failed} ${bad}`
  if (ended)
    return (
      <>
        <p role="status" className="quiet">
          {job.state === 'cancelled'
            ? 'Ended early: '
            : job.state === 'lost'
              ? 'Nothing more was heard of it: '
              : ''}
          {job.done - job.failed} {good}
          {missed}.
        </p>
        {job.troubles.map((trouble) => (
          <p key={trouble} className="stop">
            ■ {trouble}
          </p>
        ))}
      </>
    )
  return (
    <p role="status">
      <progress value={job.done} max={job.total} aria-label={`parts ${asked}`} /> {job.done} of{' '}
      {job.total} {asked}
      {missed} <span className="quiet mono">{job.doing}</span>{' '}
      <Button
        size="compact-sm"
        variant="outline"
        onClick={() => cancel.mutate()}
        loading={cancel.isPending}
      >
        End it here
      </Button>
    </p>
  )
}
