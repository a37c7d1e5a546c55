import { Button, TextInput } from '@mantine/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, body, type Device } from '../../api/client'
import { devicesQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { State } from '../../components/State'
import { ago, count } from '../../components/words'
import { counts, matching } from './standing'
import { Treads } from './Treads'

/** The fleet against the maker's recommendation. */
export function Fleet() {
  const { data: devices, error } = useQuery(devicesQuery)
  const [filter, setFilter] = useState('')
  const [marked, setMarked] = useState<string[]>([])
  const navigate = useNavigate()
  const read = useMutation({ mutationFn: (names: string[]) => body(api.POST('/api/readings', { body: { devices: names } })) })
  const shown = matching(devices ?? [], filter)
  const toggle = (name: string) =>
    setMarked((names) => (names.includes(name) ? names.filter((n) => n !== name) : [...names, name]))
  const behind = devices?.filter((d) => d.standing === 'behind').length ?? 0

  return (
    <Page
      question="Who is behind?"
      lede={devices && `${behind} of ${count(devices.length, 'device', 'devices')}, against what the makers recommend.`}
    >
      <Trouble error={error ?? read.error} />
      {devices?.length === 0 && (
        <p>
          The fleet is empty. Import an inventory file: <span className="mono">calmstep fleet import FILE</span>
        </p>
      )}
      {devices && devices.length > 0 && (
        <>
          <div className="counts">
            {counts(devices).map(([standing, number]) => (
              <span key={standing}>
                <b>{number}</b>
                <State of={standing} />
              </span>
            ))}
          </div>
          <div style={{ display: 'flex', gap: 10, marginBottom: 14 }}>
            <TextInput
              aria-label="Filter devices"
              placeholder="name, site, family, release, or what to know"
              value={filter}
              onChange={(e) => setFilter(e.currentTarget.value)}
              style={{ flex: '0 1 420px' }}
            />
            <Button variant="outline" onClick={() => read.mutate(marked)} loading={read.isPending}>
              Read {marked.length > 0 ? 'these' : 'all'} again
            </Button>
            <Button disabled={marked.length === 0} onClick={() => navigate(`/plans?devices=${marked.join(',')}`)}>
              Plan these
            </Button>
          </div>
          <DeviceTable devices={shown} marked={marked} toggle={toggle} />
          <p className="quiet">
            {shown.length} of {devices.length} shown
          </p>
        </>
      )}
    </Page>
  )
}

function DeviceTable({ devices, marked, toggle }: { devices: Device[]; marked: string[]; toggle: (name: string) => void }) {
  return (
    <table className="plain">
      <thead>
        <tr>
          <th aria-label="marked" />
          <th>device</th>
          <th>what it is</th>
          <th>site</th>
          <th>runs</th>
          <th>way to the wanted release</th>
          <th>what to know</th>
          <th>read</th>
        </tr>
      </thead>
      <tbody>
        {devices.map((d) => (
          <tr key={d.name}>
            <td>
              <input
                type="checkbox"
                aria-label={`mark ${d.name}`}
                checked={marked.includes(d.name)}
                onChange={() => toggle(d.name)}
              />
            </td>
            <td className="mono">
              <Link to={`/fleet/${d.name}`}>{d.name}</Link>
            </td>
            <td>
              {d.title}, {d.model} revision {d.revision}
            </td>
            <td>{d.siteTitle}</td>
            <td className="mono">{d.runs ?? '–'}</td>
            <td>
              <Treads way={d.way} />
            </td>
            <td>
              <State of={d.standing} />
              {d.toKnow.length > 0 && <span className="caution"> · {d.toKnow.join(' · ')}</span>}
            </td>
            <td style={{ whiteSpace: 'nowrap' }}>{ago(d.readAt)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
