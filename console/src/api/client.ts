import createClient, { type Middleware } from 'openapi-fetch'
import type { components, paths } from './schema'

type Schemas = components['schemas']
export type Device = Schemas['DeviceView']
export type PathAnswer = Schemas['PathAnswerView']
export type PathOfHops = Schemas['PathView']
export type Hop = Schemas['HopView']
export type Advisory = Schemas['AdvisoryView']
export type Plan = Schemas['PlanView']
export type NewPlan = Schemas['NewPlan']
export type PlanNights = Schemas['NightsView']
export type PlanNight = Schemas['NightView']
export type Placed = Schemas['PlacedView']
export type Rehearsal = Schemas['RehearsalView']
export type PlayedNight = Schemas['PlayedNight']
export type PlayedPart = Schemas['PlayedPart']
export type Wanted = Schemas['Wanted']
export type Finding = Schemas['FindingView']
export type Run = Schemas['RunView']
export type Unit = Schemas['UnitInRun']
export type Step = Schemas['StepView']
export type Release = Schemas['ReleaseView']
export type RecordSummary = Schemas['RecordSummary']
export type Candidate = Schemas['CandidateView']
export type Range = Schemas['RangeView']
export type Job = Schemas['JobView']
export type Offer = Schemas['OfferView']
export type Source = Schemas['SourceView']
export type Network = Schemas['NetworkView']
export type NetworkNode = Schemas['NodeView']
export type Backup = Schemas['BackupView']
export type Me = Schemas['Me']

/** The service refused a call; the message is the service's own sentence. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly details: string[],
  ) {
    super(message)
  }
}

function cookie(name: string) {
  return document.cookie
    .split('; ')
    .find((pair) => pair.startsWith(`${name}=`))
    ?.slice(name.length + 1)
}

const throwing: Middleware = {
  onRequest({ request }) {
    const token = cookie('XSRF-TOKEN')
    if (token && request.method !== 'GET')
      request.headers.set('X-XSRF-TOKEN', decodeURIComponent(token))
    return request
  },
  async onResponse({ response }) {
    if (response.ok) return response
    const problem = await response
      .clone()
      .json()
      .catch(() => ({}))
    throw new Refused(
      response.status,
      problem.detail ?? `The service answers ${response.status}.`,
      problem.details ?? [],
    )
  },
}

/** The HTTP interface, typed from its own description. Every refusal is thrown. */
export const api = createClient<paths>({
  baseUrl: window.location.origin,
  fetch: (request) => globalThis.fetch(request),
})
api.use(throwing)

/** The body of an answer that was not refused. */
export async function body<T>(call: Promise<{ data?: T }>): Promise<T> {
  return (await call).data as T
}
