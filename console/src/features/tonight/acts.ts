import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, body, type Run, type Unit } from '../../api/client'

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
  without: '/api/runs/{name}/units/{unit}/without',
  skip: '/api/runs/{name}/units/{unit}/skip',
  accept: '/api/runs/{name}/units/{unit}/acceptance',
  refuse: '/api/runs/{name}/units/{unit}/refusal',
} as const

/** What a person may say about a unit. */
export function useUnitAct(run: Run, unit: Unit) {
  const queries = useQueryClient()
  const path = { name: run.name, unit: unit.device }
  return useMutation({
    mutationFn: (
      act:
        | { kind: keyof typeof PLAIN }
        | { kind: 'rescue'; image: string }
        | { kind: 'replace'; serial: string; why: string }
        | { kind: 'replace-member'; member: string; serial: string; why: string }
        | { kind: 'answer'; say: string; why: string }
        | { kind: 'word-for-contacts'; text: string }
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
      if (act.kind === 'answer')
        return body(
          api.POST('/api/runs/{name}/units/{unit}/answer', {
            params: { path },
            body: { say: act.say, why: act.why },
          }),
        )
      if (act.kind === 'word-for-contacts')
        return body(
          api.POST('/api/runs/{name}/units/{unit}/word-for-contacts', {
            params: { path },
            body: { text: act.text },
          }),
        )
      if (act.kind === 'replace')
        return body(
          api.POST('/api/runs/{name}/units/{unit}/replacement', {
            params: { path },
            body: { serial: act.serial, why: act.why },
          }),
        )
      if (act.kind === 'replace-member')
        return body(
          api.POST('/api/runs/{name}/units/{unit}/member-replacement', {
            params: { path },
            body: { member: act.member, serial: act.serial, why: act.why },
          }),
        )
      if ('why' in act)
        return body(api.POST(WITH_REASON[act.kind], { params: { path }, body: { why: act.why } }))
      return body(api.POST(PLAIN[act.kind], { params: { path } }))
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ['runs'] }),
  })
}
