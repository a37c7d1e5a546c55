import { keepPreviousData, queryOptions, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, body, Refused, type Run } from './client'

export const meQuery = queryOptions({
  queryKey: ['me'],
  queryFn: () =>
    body(api.GET('/api/me')).catch((error) => {
      if (error instanceof Refused && error.status === 401) return null
      throw error
    }),
  staleTime: Number.POSITIVE_INFINITY,
})
export const devicesQuery = (where = '', policy = 'recommended') =>
  queryOptions({
    queryKey: ['devices', 'list', where, policy],
    queryFn: () => body(api.GET('/api/devices', { params: { query: { where, policy } } })),
    placeholderData: keepPreviousData,
  })
/** A long work, looked at until it is over. */
export const jobQuery = (id: number) =>
  queryOptions({
    queryKey: ['jobs', id],
    queryFn: () => body(api.GET('/api/jobs/{id}', { params: { path: { id } } })),
    refetchInterval: (query) =>
      query.state.data && query.state.data.state !== 'under-way' ? false : 400,
  })
export const advisoriesQuery = (where: string) =>
  queryOptions({
    queryKey: ['devices', 'advisories', where],
    queryFn: () => body(api.GET('/api/advisories', { params: { query: { where } } })),
    placeholderData: keepPreviousData,
  })
/** Whose path is asked about: a device of the fleet, or hardware that nobody owns. */
export type Whose =
  | { device: string }
  | { family: string; model: string; revision: string; features: string[]; runs: string }
export const pathQuery = (whose: Whose, to: string, prefer: string) =>
  queryOptions({
    queryKey: ['devices', 'path', whose, to, prefer],
    queryFn: () => body(api.GET('/api/paths', { params: { query: { ...whose, to, prefer } } })),
    enabled:
      ('device' in whose ? whose.device !== '' : whose.family !== '' && whose.runs !== '') &&
      to !== '',
    retry: false,
  })
export const changesQuery = (name: string) =>
  queryOptions({
    queryKey: ['devices', name, 'changes'],
    queryFn: () => body(api.GET('/api/devices/{name}/changes', { params: { path: { name } } })),
  })
export const freshnessQuery = queryOptions({
  queryKey: ['devices', 'freshness'],
  queryFn: () => body(api.GET('/api/readings/freshness')),
  refetchInterval: 60_000,
})
export const reachQuery = queryOptions({
  queryKey: ['devices', 'reach'],
  queryFn: () => body(api.GET('/api/reach')),
})
/** What is dark while these devices are down, separated by commas; nothing is asked for none. */
export const darkQuery = (down: string) =>
  queryOptions({
    queryKey: ['devices', 'reach', down],
    queryFn: () =>
      body(api.GET('/api/reach/dark', { params: { query: { down: down.split(',') } } })),
    enabled: down !== '',
  })
export const rangesQuery = queryOptions({
  queryKey: ['found', 'ranges'],
  queryFn: () => body(api.GET('/api/discovery/ranges')),
})
export const candidatesQuery = queryOptions({
  queryKey: ['found', 'candidates'],
  queryFn: () =>
    body(api.GET('/api/discovery/candidates', { params: { query: { dropped: false } } })),
})
export const sourcesQuery = queryOptions({
  queryKey: ['releases', 'sources'],
  queryFn: () => body(api.GET('/api/sources')),
})
export const offersQuery = queryOptions({
  queryKey: ['releases', 'offers'],
  queryFn: () => body(api.GET('/api/offers')),
})
export const deviceQuery = (name: string) =>
  queryOptions({
    queryKey: ['devices', name],
    queryFn: () => body(api.GET('/api/devices/{name}', { params: { path: { name } } })),
  })
export const backupsQuery = (name: string) =>
  queryOptions({
    queryKey: ['devices', name, 'backups'],
    queryFn: () => body(api.GET('/api/devices/{name}/backups', { params: { path: { name } } })),
  })
export const keepsQuery = (name: string) =>
  queryOptions({
    queryKey: ['devices', name, 'keeps'],
    queryFn: () => body(api.GET('/api/devices/{name}/keeps', { params: { path: { name } } })),
  })
export const comparisonQuery = (name: string, id: number, other?: number) =>
  queryOptions({
    queryKey: ['devices', name, 'backups', id, 'against', other ?? 'now'],
    queryFn: () =>
      body(
        api.GET('/api/devices/{name}/backups/{id}/comparison', {
          params: { path: { name, id }, query: other === undefined ? {} : { with: other } },
        }),
      ),
  })
export const releasesQuery = queryOptions({
  queryKey: ['releases'],
  queryFn: () => body(api.GET('/api/releases')),
})
export const plansQuery = queryOptions({
  queryKey: ['plans'],
  queryFn: () => body(api.GET('/api/plans')),
})
export const planQuery = (name: string) =>
  queryOptions({
    queryKey: ['plans', name],
    queryFn: () => body(api.GET('/api/plans/{name}', { params: { path: { name } } })),
  })
export const nightsQuery = (name: string) =>
  queryOptions({
    queryKey: ['plans', name, 'nights'],
    queryFn: () => body(api.GET('/api/plans/{name}/nights', { params: { path: { name } } })),
  })
export const runsQuery = queryOptions({
  queryKey: ['runs', 'list'],
  queryFn: () => body(api.GET('/api/runs')),
  refetchInterval: 5000,
})
/** One run with all its units; asked for seldom where it is large, since each answer is. */
export const runQuery = (name: string) =>
  queryOptions({
    queryKey: ['runs', 'one', name],
    queryFn: () => body(api.GET('/api/runs/{name}', { params: { path: { name } } })),
    enabled: name !== '',
    refetchInterval: 2000,
  })
/** What was typed to a unit's device and answered; asked for again while something moves. */
export const talkQuery = (run: string, unit: string, moving: boolean) =>
  queryOptions({
    queryKey: ['talk', run, unit],
    queryFn: () =>
      body(
        api.GET('/api/runs/{name}/units/{unit}/talk', { params: { path: { name: run, unit } } }),
      ),
    refetchInterval: moving ? 1000 : false,
  })
export const historyQuery = (name: string) =>
  queryOptions({
    queryKey: ['devices', name, 'history'],
    queryFn: () => body(api.GET('/api/devices/{name}/history', { params: { path: { name } } })),
  })
export const stagingQuery = (run: string, moving: boolean) =>
  queryOptions({
    queryKey: ['runs', run, 'staging'],
    queryFn: () => body(api.GET('/api/runs/{name}/staging', { params: { path: { name: run } } })),
    refetchInterval: moving ? 2000 : false,
  })
export const recordsQuery = queryOptions({
  queryKey: ['records'],
  queryFn: () => body(api.GET('/api/records')),
})

const MANY_UNITS = 100

/** Which queries an event of a kind makes old. */
const touched: Record<string, string[]> = {
  fleet: ['devices', 'found'],
  releases: ['releases', 'devices'],
  shelf: ['releases'],
  plan: ['plans'],
  windows: ['plans'],
  run: ['runs', 'plans', 'records', 'devices'],
  unit: ['runs', 'devices'],
  step: ['runs'],
  gate: ['runs'],
}

/** Follows the service's events and renews what they touch, in batches. Tells since when the line is lost, if it is. */
export function useLiveChanges(): Date | undefined {
  const queries = useQueryClient()
  const [lostSince, setLostSince] = useState<Date>()
  useEffect(() => {
    const source = new EventSource('/api/events')
    const waiting = new Set<string>()
    let timer: number | undefined
    // Each answer about a large run is large, and much happens in it: twice a second would be read by nobody.
    const showsALargeRun = () =>
      queries
        .getQueriesData<Run>({ queryKey: ['runs', 'one'] })
        .some(([, run]) => (run?.units.length ?? 0) > MANY_UNITS)
    const renew = () => {
      timer = undefined
      for (const key of waiting) queries.invalidateQueries({ queryKey: [key] })
      waiting.clear()
    }
    for (const [kind, keys] of Object.entries(touched)) {
      source.addEventListener(kind, () => {
        for (const key of keys) waiting.add(key)
        timer ??= window.setTimeout(renew, showsALargeRun() ? 2000 : 100)
      })
    }
    source.onopen = () => {
      setLostSince(undefined)
      queries.invalidateQueries()
    }
    source.onerror = () => {
      setLostSince((since) => since ?? new Date())
      queries.invalidateQueries({ queryKey: ['me'] })
    }
    return () => {
      source.close()
      window.clearTimeout(timer)
    }
  }, [queries])
  return lostSince
}

/** The rehearsals of a plan, newest first; looked at again while one is under way. */
export const rehearsalsQuery = (plan: string) =>
  queryOptions({
    queryKey: ['plans', plan, 'rehearsals'],
    queryFn: () => body(api.GET('/api/plans/{plan}/rehearsals', { params: { path: { plan } } })),
    refetchInterval: (query) =>
      query.state.data?.some((r) => r.state === 'under-way') ? 700 : false,
  })
export const faultsQuery = queryOptions({
  queryKey: ['rehearsal-faults'],
  queryFn: () => body(api.GET('/api/rehearsal-faults')),
  staleTime: Number.POSITIVE_INFINITY,
})
