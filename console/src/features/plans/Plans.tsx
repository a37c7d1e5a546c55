import { Button, NativeSelect, TextInput } from '@mantine/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { api, body, type NewPlan } from '../../api/client'
import { plansQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { State } from '../../components/State'
import { ago } from '../../components/words'
import { preferences } from '../paths/preferences'

/** All plans, and a new one. */
export function Plans() {
  const { data: plans, error } = useQuery(plansQuery)
  return (
    <Page
      question="What is planned?"
      lede="A plan is drafted, its findings are read and acknowledged, then it is approved and used once."
    >
      <Trouble error={error} />
      <DraftPlan />
      {plans?.length === 0 && (
        <p>
          There is no plan yet. Mark devices on the Fleet page, or draft one here for all of them.
        </p>
      )}
      {plans && plans.length > 0 && (
        <table className="plain">
          <thead>
            <tr>
              <th>plan</th>
              <th>state</th>
              <th>target</th>
              <th>units</th>
              <th>findings</th>
              <th>written</th>
            </tr>
          </thead>
          <tbody>
            {plans.map((p) => (
              <tr key={p.name}>
                <td>
                  <Link to={`/plans/${p.name}`}>{p.name}</Link>
                </td>
                <td>
                  <State of={p.state} />
                </td>
                <td className="mono">{p.target}</td>
                <td>{p.units.length}</td>
                <td>{p.findings.length}</td>
                <td>
                  {ago(p.writtenAt)} by {p.writtenBy}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Page>
  )
}

function WhichPaths({
  prefer,
  setPrefer,
  way,
  setWay,
}: {
  prefer: string
  setPrefer: (prefer: string) => void
  way: string
  setWay: (way: string) => void
}) {
  return (
    <>
      <NativeSelect
        label="Its paths"
        data={preferences.map(([value, label]) => ({ value, label }))}
        value={prefer}
        onChange={(e) => setPrefer(e.currentTarget.value)}
      />
      <NativeSelect
        label="Which of them"
        data={['0', '1', '2'].map((value) => ({
          value,
          label: value === '0' ? 'the best' : `other way ${value}`,
        }))}
        value={way}
        onChange={(e) => setWay(e.currentTarget.value)}
      />
    </>
  )
}

/** Drafts a plan, and goes to it. */
function useDraft() {
  const navigate = useNavigate()
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (wanted: NewPlan) => body(api.POST('/api/plans', { body: wanted })),
    onSuccess: (plan) => {
      queries.invalidateQueries({ queryKey: ['plans'] })
      navigate(`/plans/${plan.name}`)
    },
  })
}

function WhoIsActive({ roles, setRoles }: { roles: string; setRoles: (roles: string) => void }) {
  return (
    <NativeSelect
      label="Active afterwards (pairs, stacks)"
      data={[
        { value: 'as-they-come', label: 'whoever it comes to' },
        { value: 'as-before', label: 'who is active now' },
      ]}
      value={roles}
      onChange={(e) => setRoles(e.currentTarget.value)}
    />
  )
}

function DraftPlan() {
  const [search] = useSearchParams()
  const [name, setName] = useState('')
  const [target, setTarget] = useState(search.get('to') ?? 'recommended')
  const [prefer, setPrefer] = useState(search.get('prefer') ?? 'fewest-restarts')
  const [way, setWay] = useState(search.get('alternative') ?? '0')
  const [roles, setRoles] = useState('as-they-come')
  const [devices, setDevices] = useState(search.get('devices') ?? '')
  const draft = useDraft()
  return (
    <form
      className="asks apart-below"
      onSubmit={(event) => {
        event.preventDefault()
        draft.mutate({
          name,
          target,
          prefer,
          alternative: Number(way),
          roles,
          devices: devices.split(/[\s,]+/).filter(Boolean),
        })
      }}
    >
      <TextInput
        label="Name"
        value={name}
        onChange={(e) => setName(e.currentTarget.value)}
        required
      />
      <TextInput
        label="Devices (empty: all)"
        value={devices}
        onChange={(e) => setDevices(e.currentTarget.value)}
        style={{ flex: '0 1 320px' }}
      />
      <TextInput
        label="To"
        value={target}
        onChange={(e) => setTarget(e.currentTarget.value)}
        description="a release, recommended, or newest-general"
        required
      />
      <WhichPaths prefer={prefer} setPrefer={setPrefer} way={way} setWay={setWay} />
      <WhoIsActive roles={roles} setRoles={setRoles} />
      <Button type="submit" loading={draft.isPending}>
        Draft a plan
      </Button>
      <div style={{ flexBasis: '100%' }}>
        <Trouble error={draft.error} />
      </div>
    </form>
  )
}
