import { Button, NativeSelect, TextInput } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { api, body, type Device } from '../../api/client'
import { devicesQuery } from '../../api/queries'
import { useMarks } from '../../components/marks'
import { Page, Trouble } from '../../components/Page'
import { State } from '../../components/State'
import { Work } from '../../components/Work'
import { count } from '../../components/words'
import { BehindFigure } from './BehindFigure'
import { DeviceTable } from './DeviceTable'
import { counts } from './standing'

const policies = [
  { value: 'recommended', label: 'what the makers recommend' },
  { value: 'newest-general', label: 'the newest general release' },
  { value: 'one-behind', label: 'one behind the newest general' },
  { value: 'aged-90', label: 'general for 90 days or longer' },
]

/** The fleet against a policy. What is asked stands in the address, so that it can be kept and sent. */
export function Fleet() {
  const [asked, ask] = useSearchParams()
  const where = asked.get('where') ?? ''
  const policy = asked.get('policy') ?? 'recommended'
  const asFigure = asked.get('view') === 'figure'
  const [settled] = useDebouncedValue(where, 250)
  const { data: devices, error } = useQuery(devicesQuery(settled, policy))
  const [marked, toggle] = useMarks()
  const read = useMutation({
    mutationFn: (names: string[]) =>
      body(
        api.POST('/api/readings', {
          body: { devices: names, where: names.length > 0 ? '' : settled },
        }),
      ),
  })
  const put = (key: string, value: string) =>
    ask((before) => {
      const after = new URLSearchParams(before)
      if (value) after.set(key, value)
      else after.delete(key)
      return after
    })
  const empty = devices?.length === 0 && settled === ''

  return (
    <Page question="Who is behind?" lede={devices && <Lede devices={devices} policy={policy} />}>
      <Trouble error={error ?? read.error} />
      {empty && <Empty />}
      {!empty && (
        <>
          <Counted devices={devices ?? []} />
          <Asking
            where={where}
            policy={policy}
            marked={marked}
            put={put}
            read={() => read.mutate([...marked])}
            reading={read.isPending}
          />
          {read.data && <Work id={read.data.id} asked="asked" good="read" bad="silent" />}
          <OtherView asked={asked} asFigure={asFigure} />
          {devices &&
            (asFigure ? (
              <BehindFigure devices={devices} />
            ) : (
              <DeviceTable devices={devices} marked={marked} toggle={toggle} />
            ))}
          <p className="quiet">
            {count(devices?.length ?? 0, 'device', 'devices')} shown.{' '}
            <a href={`/api/inventory?as=csv&where=${encodeURIComponent(settled)}`}>
              Their inventory as CSV
            </a>
          </p>
        </>
      )}
    </Page>
  )
}

function Lede({ devices, policy }: { devices: Device[]; policy: string }) {
  const behind = devices.filter((d) => d.standing === 'behind').length
  const exposed = devices.filter((d) => d.exposed.length > 0).length
  return (
    <>
      {behind} of {count(devices.length, 'device', 'devices')}, against{' '}
      {policies.find((p) => p.value === policy)?.label ?? policy}.{' '}
      <Link to="/fleet-exposure">
        {exposed} {exposed === 1 ? 'is' : 'are'} exposed to a published fault.
      </Link>{' '}
      <Link to="/fleet-reach">Who hangs on whom?</Link>{' '}
      <Link to="/fleet-discovery">What did nobody write down?</Link>
    </>
  )
}

/** Which devices, against which policy, and what is to be done with those that are marked. */
function Asking({
  where,
  policy,
  marked,
  put,
  read,
  reading,
}: {
  where: string
  policy: string
  marked: ReadonlySet<string>
  put: (key: string, value: string) => void
  read: () => void
  reading: boolean
}) {
  const navigate = useNavigate()
  return (
    <div style={{ display: 'flex', gap: 10, marginBottom: 14, flexWrap: 'wrap' }}>
      <TextInput
        aria-label="Select devices"
        placeholder="family:osmer-r6 site:dunmere runs:<2.8 not tag:spare"
        value={where}
        onChange={(e) => put('where', e.currentTarget.value)}
        style={{ flex: '1 1 340px' }}
        styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)' } }}
      />
      <NativeSelect
        aria-label="Policy"
        data={policies}
        value={policy}
        onChange={(e) => put('policy', e.currentTarget.value)}
      />
      <Button variant="outline" onClick={read} loading={reading}>
        Read {marked.size > 0 ? 'these' : 'all'} again
      </Button>
      <Button
        disabled={marked.size === 0}
        onClick={() => navigate(`/plans?devices=${[...marked].join(',')}`)}
      >
        Plan these
      </Button>
    </div>
  )
}

function Counted({ devices }: { devices: Device[] }) {
  return (
    <div className="counts">
      {counts(devices).map(([standing, number]) => (
        <span key={standing}>
          <b>{number}</b>
          <State of={standing} />
        </span>
      ))}
    </div>
  )
}

function OtherView({ asked, asFigure }: { asked: URLSearchParams; asFigure: boolean }) {
  return (
    <p className="lead">
      <Link
        to={{
          search: new URLSearchParams({
            ...Object.fromEntries(asked),
            view: asFigure ? 'table' : 'figure',
          }).toString(),
        }}
      >
        {asFigure ? 'Show it as a table.' : 'Show it as a figure.'}
      </Link>
    </p>
  )
}

function Empty() {
  return (
    <p>
      The fleet is empty. Import an inventory file:{' '}
      <span className="mono">calmstep fleet import FILE</span>
    </p>
  )
}
