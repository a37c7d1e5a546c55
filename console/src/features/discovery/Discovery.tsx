import { Button, NumberInput, TextInput } from '@mantine/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, body, type Candidate, type Range } from '../../api/client'
import { candidatesQuery, rangesQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { Work } from '../../components/Work'
import { ago, count } from '../../components/words'

/** Devices that nobody wrote down: where to look, what answered, and a person's word on it. */
export function Discovery() {
  const queries = useQueryClient()
  const { data: ranges, error } = useQuery(rangesQuery)
  const { data: candidates } = useQuery(candidatesQuery)
  const renew = () => queries.invalidateQueries({ queryKey: ['found'] })
  const search = useMutation({
    mutationFn: (name: string) =>
      body(api.POST('/api/discovery/ranges/{name}/searches', { params: { path: { name } } })),
  })
  const forget = useMutation({
    mutationFn: (name: string) =>
      body(api.DELETE('/api/discovery/ranges/{name}', { params: { path: { name } } })),
    onSuccess: renew,
  })
  const fresh = candidates?.filter((c) => c.state === 'found').length ?? 0
  return (
    <Page
      question="What stands in the network that nobody wrote down?"
      lede={
        candidates &&
        `${count(fresh, 'address answers', 'addresses answer')} and ${fresh === 1 ? 'is' : 'are'} in no inventory. Only the addresses of a range are touched, at its pace.`
      }
    >
      <Trouble error={error ?? search.error ?? forget.error} />
      <h2>Where to look</h2>
      {ranges && ranges.length > 0 && (
        <RangeTable
          ranges={ranges}
          search={(name) => search.mutate(name)}
          forget={(name) => forget.mutate(name)}
        />
      )}
      {search.data && (
        <Work
          key={search.data.id}
          id={search.data.id}
          asked="asked"
          good="answered"
          bad="silent"
          over={renew}
        />
      )}
      <NewRange saved={renew} />
      <h2>What answered</h2>
      {candidates?.length === 0 ? (
        <p>Nothing was found yet. Search a range above.</p>
      ) : (
        <CandidateTable candidates={candidates ?? []} changed={renew} />
      )}
    </Page>
  )
}

function RangeTable({
  ranges,
  search,
  forget,
}: {
  ranges: Range[]
  search: (name: string) => void
  forget: (name: string) => void
}) {
  return (
    <table className="plain">
      <thead>
        <tr>
          <th>range</th>
          <th>addresses</th>
          <th>asks</th>
          <th>searched</th>
          <th aria-label="acts" />
        </tr>
      </thead>
      <tbody>
        {ranges.map((range) => (
          <tr key={range.name}>
            <td className="strong">{range.name}</td>
            <td>
              <span className="mono">{range.within.join(', ')}</span>
              {range.except.length > 0 && (
                <span className="quiet">
                  {' '}
                  but not <span className="mono">{range.except.join(', ')}</span>
                </span>
              )}
              <div className="quiet">
                {count(range.addresses, 'address', 'addresses')}, {range.perSecond} a second at most
              </div>
            </td>
            <td>
              SSH greeting{range.snmpLogin && `, SNMP as ${range.snmpLogin}`}
              {range.site && <div className="quiet">accepted to {range.site}</div>}
            </td>
            <td className="nowrap">{ago(range.searchedAt)}</td>
            <td className="nowrap">
              <Button size="compact-sm" onClick={() => search(range.name)}>
                Search {range.name}
              </Button>{' '}
              <Button size="compact-sm" variant="outline" onClick={() => forget(range.name)}>
                Forget it
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

const words = (text: string) => text.split(/[\s,]+/).filter((word) => word !== '')

function NewRange({ saved }: { saved: () => void }) {
  const [said, say] = useState(nothingSaid)
  const set = useKeeping(said, saved)
  const text = (
    key: 'name' | 'within' | 'except' | 'site' | 'login' | 'snmp',
    label: string,
    placeholder: string,
  ) => (
    <TextInput
      key={key}
      label={label}
      placeholder={placeholder}
      value={said[key]}
      onChange={(e) => say({ ...said, [key]: e.currentTarget.value })}
    />
  )
  const number = (key: 'perSecond' | 'sshPort' | 'snmpPort', label: string) => (
    <NumberInput
      key={key}
      label={label}
      value={said[key]}
      onChange={(value) => say({ ...said, [key]: Number(value) || 0 })}
      w={120}
    />
  )
  return (
    <details>
      <summary>Set a range</summary>
      <Trouble error={set.error} />
      <div style={{ display: 'flex', gap: 10, flexWrap: 'wrap', margin: '8px 0' }}>
        {text('name', 'Name', 'quay')}
        {text('within', 'Addresses', '192.0.2.0/24')}
        {text('except', 'But not', '192.0.2.32/28')}
        {text('site', 'Site of what is accepted', 'gullness-quay')}
        {text('login', 'Its login', 'steward')}
        {text('snmp', 'SNMP login', 'none: SSH greeting only')}
        {number('perSecond', 'A second')}
        {number('sshPort', 'SSH port')}
        {number('snmpPort', 'SNMP port')}
      </div>
      <Button
        onClick={() => set.mutate()}
        loading={set.isPending}
        disabled={said.name === '' || said.within === ''}
      >
        Keep this range
      </Button>
    </details>
  )
}

function CandidateTable({ candidates, changed }: { candidates: Candidate[]; changed: () => void }) {
  return (
    <table className="plain">
      <thead>
        <tr>
          <th>address</th>
          <th>name</th>
          <th>what it is</th>
          <th>what it shows</th>
          <th>seen</th>
          <th aria-label="acts" />
        </tr>
      </thead>
      <tbody>
        {candidates.map((candidate) => (
          <CandidateRow key={candidate.address} candidate={candidate} changed={changed} />
        ))}
      </tbody>
    </table>
  )
}

function CandidateRow({ candidate: c, changed }: { candidate: Candidate; changed: () => void }) {
  const [name, setName] = useState(c.name)
  const [family, setFamily] = useState(c.family)
  const [model, setModel] = useState(c.model)
  const { accept, drop } = useVerdict(c.address, { name, family, model }, changed)
  const known = c.state === 'in-fleet'
  return (
    <tr>
      <td className="mono">{c.address}</td>
      <td style={{ minWidth: 170 }}>
        {known ? (
          <Link to={`/fleet/${c.device}`} className="mono">
            {c.device}
          </Link>
        ) : (
          <SayName address={c.address} name={name} setName={setName} />
        )}
      </td>
      <td style={{ minWidth: 150 }}>
        {c.family || known ? (
          <>
            {c.family} {c.model}
            {c.revision && <span className="quiet"> rev {c.revision}</span>}{' '}
          </>
        ) : (
          <SayFamily
            address={c.address}
            family={family}
            setFamily={setFamily}
            model={model}
            setModel={setModel}
          />
        )}
        {c.release && <span className="mono">{c.release}</span>}
      </td>
      <td>
        <span className="mono">{c.shows}</span>
        {known && c.toKnow && <div className="caution">▲ {c.toKnow}</div>}
        <Trouble error={accept.error ?? drop.error} />
      </td>
      <td className="nowrap">{ago(c.lastSeen)}</td>
      <td className="nowrap">
        {known ? (
          <span className="settled">● in the fleet</span>
        ) : (
          <Verdict
            accept={() => accept.mutate()}
            accepting={accept.isPending}
            nameless={name === '' || family === ''}
            drop={() => drop.mutate()}
            dropping={drop.isPending}
          />
        )}
      </td>
    </tr>
  )
}

/** What a person says of a candidate. */
function useVerdict(
  address: string,
  said: { name: string; family: string; model: string },
  changed: () => void,
) {
  const accept = useMutation({
    mutationFn: () =>
      body(
        api.POST('/api/discovery/accepted', {
          body: { candidates: [{ address, ...said }] },
        }),
      ),
    onSuccess: changed,
  })
  const drop = useMutation({
    mutationFn: () =>
      body(
        api.POST('/api/discovery/dropped', {
          body: { addresses: [address], why: 'dropped in the console' },
        }),
      ),
    onSuccess: changed,
  })
  return { accept, drop }
}

function SayFamily({
  address,
  family,
  setFamily,
  model,
  setModel,
}: {
  address: string
  family: string
  setFamily: (family: string) => void
  model: string
  setModel: (model: string) => void
}) {
  return (
    <>
      <TextInput
        aria-label={`family of ${address}`}
        placeholder="say its family"
        value={family}
        onChange={(e) => setFamily(e.currentTarget.value)}
        size="xs"
      />
      <TextInput
        aria-label={`model of ${address}`}
        placeholder="and its model"
        value={model}
        onChange={(e) => setModel(e.currentTarget.value)}
        size="xs"
      />
    </>
  )
}

const nothingSaid = {
  name: '',
  within: '',
  except: '',
  site: '',
  login: '',
  snmp: '',
  perSecond: 20,
  sshPort: 22,
  snmpPort: 161,
}

function useKeeping(said: typeof nothingSaid, saved: () => void) {
  return useMutation({
    mutationFn: () =>
      body(
        api.PUT('/api/discovery/ranges/{name}', {
          params: { path: { name: said.name } },
          body: {
            within: words(said.within),
            except: words(said.except),
            site: said.site,
            login: said.login,
            snmpLogin: said.snmp,
            perSecond: said.perSecond,
            sshPort: said.sshPort,
            snmpPort: said.snmpPort,
          },
        }),
      ),
    onSuccess: saved,
  })
}

function Verdict({
  accept,
  accepting,
  nameless,
  drop,
  dropping,
}: {
  accept: () => void
  accepting: boolean
  nameless: boolean
  drop: () => void
  dropping: boolean
}) {
  return (
    <>
      <Button size="compact-sm" onClick={accept} loading={accepting} disabled={nameless}>
        Accept
      </Button>{' '}
      <Button size="compact-sm" variant="outline" onClick={drop} loading={dropping}>
        Drop
      </Button>
    </>
  )
}

function SayName({
  address,
  name,
  setName,
}: {
  address: string
  name: string
  setName: (name: string) => void
}) {
  return (
    <TextInput
      aria-label={`name of ${address}`}
      placeholder="say a name"
      value={name}
      onChange={(e) => setName(e.currentTarget.value)}
      size="xs"
    />
  )
}
