import { Button, NativeSelect, TextInput } from '@mantine/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body, type Offer, type Source } from '../../api/client'
import { offersQuery, plansQuery, sourcesQuery } from '../../api/queries'
import { useMarks } from '../../components/marks'
import { Page, Trouble } from '../../components/Page'
import { Work } from '../../components/Work'
import { ago, count, megabytes } from '../../components/words'

/** What the makers' services published, and what of it is not here. */
export function Sources() {
  const queries = useQueryClient()
  const renew = () => queries.invalidateQueries({ queryKey: ['releases'] })
  const { data: sources, error } = useQuery(sourcesQuery)
  const { data: offers } = useQuery(offersQuery)
  const [marked, toggle] = useMarks()
  const [plan, setPlan] = useState('')
  const ask = useAsking(sources, renew)
  const fetching = useMutation({
    mutationFn: () => body(api.POST('/api/fetches', { body: { files: [...marked], plan } })),
  })
  const missing = offers?.filter((o) => o.standing === 'not-here').length ?? 0
  return (
    <Page
      question="What did the makers publish, and what of it is not here?"
      lede={
        sources &&
        (sources.length === 0
          ? 'No download service is known yet.'
          : `${count(missing, 'file is', 'files are')} on offer and not here. Whatever is fetched is measured and digested before it is on the shelf.`)
      }
    >
      <Trouble error={error ?? ask.error ?? fetching.error} />
      {sources?.length === 0 && <NoSource />}
      {sources?.map((source) => (
        <OneSource key={source.name} source={source} />
      ))}
      {sources && sources.length > 0 && (
        <Asking
          fresh={ask.data}
          ask={() => ask.mutate()}
          asking={ask.isPending}
          plan={plan}
          setPlan={setPlan}
          fetch={() => fetching.mutate()}
          fetching={fetching.isPending}
          nothing={marked.size === 0 && plan === ''}
        />
      )}
      {fetching.data && (
        <Work
          key={fetching.data.id}
          id={fetching.data.id}
          asked="fetched"
          good="fetched and proven"
          bad="not"
          over={renew}
        />
      )}
      {offers && offers.length > 0 && <Offers offers={offers} marked={marked} toggle={toggle} />}
    </Page>
  )
}

const standings: Record<string, string> = {
  here: 'here',
  'not-here': 'not here',
  'no-catalogue': 'in no catalogue here',
}

function told(o: Offer): string {
  return `${o.fileName} ${o.kind} ${o.family} ${o.source} ${standings[o.standing]}`.toLowerCase()
}

function OfferTable({
  offers,
  marked,
  toggle,
}: {
  offers: Offer[]
  marked: ReadonlySet<string>
  toggle: (file: string) => void
}) {
  return (
    <table className="plain">
      <thead>
        <tr>
          <th aria-label="marked" />
          <th>file</th>
          <th>kind</th>
          <th>family</th>
          <th>size</th>
          <th>source</th>
          <th>is</th>
        </tr>
      </thead>
      <tbody>
        {offers.map((o) => (
          <tr key={o.source + o.fileName}>
            <td>
              <input
                type="checkbox"
                aria-label={`mark ${o.fileName}`}
                checked={marked.has(o.fileName)}
                onChange={() => toggle(o.fileName)}
              />
            </td>
            <td className="mono">{o.fileName}</td>
            <td>{o.kind}</td>
            <td>{o.family}</td>
            <td className="nowrap">{megabytes(o.sizeBytes)}</td>
            <td>{o.source}</td>
            <td className="nowrap">
              <span
                className={
                  o.standing === 'here'
                    ? 'settled'
                    : o.standing === 'no-catalogue'
                      ? 'caution'
                      : 'quiet'
                }
              >
                {o.standing === 'here' ? '●' : o.standing === 'no-catalogue' ? '▲' : '○'}{' '}
                {standings[o.standing]}
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** Asks every source what is new; how much that is. */
function useAsking(sources: Source[] | undefined, renew: () => void) {
  return useMutation({
    mutationFn: async () => {
      let fresh = 0
      for (const source of sources ?? [])
        fresh += (
          await body(
            api.POST('/api/sources/{name}/asked', { params: { path: { name: source.name } } }),
          )
        ).length
      return fresh
    },
    onSuccess: renew,
  })
}

function OneSource({ source }: { source: Source }) {
  return (
    <p>
      <b>{source.name}</b> <span className="mono">{source.url}</span>, as {source.user}
      {source.proxy && `, through ${source.proxy}`}
      {source.ownCertificate && ', with a certificate of its own'}. Asked {ago(source.askedAt)}.
    </p>
  )
}

/** Asks what is new, and fetches what is marked or what a plan lacks. */
function Asking({
  fresh,
  ask,
  asking,
  plan,
  setPlan,
  fetch,
  fetching,
  nothing,
}: {
  fresh: number | undefined
  ask: () => void
  asking: boolean
  plan: string
  setPlan: (plan: string) => void
  fetch: () => void
  fetching: boolean
  nothing: boolean
}) {
  const { data: plans } = useQuery(plansQuery)
  return (
    <div
      style={{
        display: 'flex',
        gap: 10,
        margin: '12px 0',
        alignItems: 'end',
        flexWrap: 'wrap',
      }}
    >
      <Button variant="outline" onClick={ask} loading={asking}>
        Ask what is new
      </Button>
      {fresh !== undefined && <span role="status">{fresh} new since last time.</span>}
      <NativeSelect
        aria-label="What a plan lacks"
        data={[
          { value: '', label: 'the marked files' },
          ...(plans ?? [])
            .filter((p) => p.state !== 'used' && p.state !== 'dropped')
            .map((p) => ({ value: p.name, label: `all that the plan ${p.name} lacks` })),
        ]}
        value={plan}
        onChange={(e) => setPlan(e.currentTarget.value)}
      />
      <Button onClick={fetch} loading={fetching} disabled={nothing}>
        Fetch
      </Button>
    </div>
  )
}

function NoSource() {
  return (
    <p>
      Set one: <span className="mono">calmstep shelf source NAME URL --user …</span>, or carry a
      signed bundle in: <span className="mono">calmstep shelf take FILE</span>
    </p>
  )
}

function Offers({
  offers,
  marked,
  toggle,
}: {
  offers: Offer[]
  marked: ReadonlySet<string>
  toggle: (file: string) => void
}) {
  const [word, setWord] = useState('')
  return (
    <>
      <TextInput
        aria-label="Show only"
        placeholder="show only: osmer, catalogue, not here …"
        value={word}
        onChange={(e) => setWord(e.currentTarget.value)}
        maw={340}
      />
      <OfferTable
        offers={offers.filter((o) => told(o).includes(word.toLowerCase()))}
        marked={marked}
        toggle={toggle}
      />
    </>
  )
}
