import { Button, NativeSelect, TextInput } from '@mantine/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body, type Offer } from '../../api/client'
import { offersQuery, plansQuery, sourcesQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { Work } from '../../components/Work'
import { ago, count, megabytes } from '../../components/words'

/** What the makers' services published, and what of it is not here. */
export function Sources() {
  const queries = useQueryClient()
  const renew = () => queries.invalidateQueries({ queryKey: ['releases'] })
  const { data: sources, error } = useQuery(sourcesQuery)
  const { data: offers } = useQuery(offersQuery)
  const { data: plans } = useQuery(plansQuery)
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set())
  const [plan, setPlan] = useState('')
  const [word, setWord] = useState('')
  const ask = useMutation({
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
  const fetching = useMutation({
    mutationFn: () => body(api.POST('/api/fetches', { body: { files: [...marked], plan } })),
  })
  const toggle = (file: string) =>
    setMarked((files) => {
      const after = new Set(files)
      if (!after.delete(file)) after.add(file)
      return after
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
      {sources?.length === 0 && (
        <p>
          Set one: <span className="mono">calmstep shelf source NAME URL --user …</span>, or carry a
          signed bundle in: <span className="mono">calmstep shelf take FILE</span>
        </p>
      )}
      {sources?.map((source) => (
        <p key={source.name}>
          <b>{source.name}</b> <span className="mono">{source.url}</span>, as {source.user}
          {source.proxy && `, through ${source.proxy}`}
          {source.ownCertificate && ', with a certificate of its own'}. Asked {ago(source.askedAt)}.
        </p>
      ))}
      {sources && sources.length > 0 && (
        <div
          style={{
            display: 'flex',
            gap: 10,
            margin: '12px 0',
            alignItems: 'end',
            flexWrap: 'wrap',
          }}
        >
          <Button variant="outline" onClick={() => ask.mutate()} loading={ask.isPending}>
            Ask what is new
          </Button>
          {ask.data !== undefined && <span role="status">{ask.data} new since last time.</span>}
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
          <Button
            onClick={() => fetching.mutate()}
            loading={fetching.isPending}
            disabled={marked.size === 0 && plan === ''}
          >
            Fetch
          </Button>
        </div>
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
      {offers && offers.length > 0 && (
        <>
          <TextInput
            aria-label="Show only"
            placeholder="show only: osmer, catalogue, not here …"
            value={word}
            onChange={(e) => setWord(e.currentTarget.value)}
            style={{ maxWidth: 340 }}
          />
          <OfferTable
            offers={offers.filter((o) => told(o).includes(word.toLowerCase()))}
            marked={marked}
            toggle={toggle}
          />
        </>
      )}
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
            <td style={{ whiteSpace: 'nowrap' }}>{megabytes(o.sizeBytes)}</td>
            <td>{o.source}</td>
            <td style={{ whiteSpace: 'nowrap' }}>
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
