import { keepPreviousData, queryOptions, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, body, Refused } from './client'

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
    refetchInterval: (query) => (query.state.data && query.state.data.state !== 'under-way' ? false : 400),
  })
export const advisoriesQuery = queryOptions({
  queryKey: ['devices', 'advisories'],
  queryFn: () => body(api.GET('/api/advisories')),
})
export const pathQuery = (device: string, to: string, prefer: string) =>
  queryOptions({
    queryKey: ['devices', 'path', device, to, prefer],
    queryFn: () => body(api.GET('/api/paths', { params: { query: { device, to, prefer } } })),
    enabled: device !== '' && to !== '',
    retry: false,
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
export const releasesQuery = queryOptions({ queryKey: ['releases'], queryFn: () => body(api.GET('/api/releases')) })
export const plansQuery = queryOptions({ queryKey: ['plans'], queryFn: () => body(api.GET('/api/plans')) })
export const planQuery = (name: string) =>
  queryOptions({ queryKey: ['plans', name], queryFn: () => body(api.GET('/api/plans/{name}', { params: { path: { name } } })) })
export const runsQuery = queryOptions({ queryKey: ['runs'], queryFn: () => body(api.GET('/api/runs')), refetchInterval: 2000 })
export const recordsQuery = queryOptions({ queryKey: ['records'], queryFn: () => body(api.GET('/api/records')) })

/** Which queries an event of a kind makes old. */
const touched: Record<string, string[]> = {
  fleet: ['devices'],
  releases: ['releases', 'devices'],
  shelf: ['releases'],
  plan: ['plans'],
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
    const renew = () => {
      timer = undefined
      for (const key of waiting) queries.invalidateQueries({ queryKey: [key] })
      waiting.clear()
    }
    for (const [kind, keys] of Object.entries(touched)) {
      source.addEventListener(kind, () => {
        for (const key of keys) waiting.add(key)
        timer ??= window.setTimeout(renew, 100)
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
