import { Button } from '@mantine/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type Backup, body } from '../../api/client'
import { backupsQuery, comparisonQuery, keepsQuery } from '../../api/queries'
import { Trouble } from '../../components/Page'
import { date } from '../../components/words'
import { WithReason } from '../tonight/WithReason'

const NOW = 'now'

const what = (kind: string) =>
  kind === 'running' || kind === 'startup' ? `the ${kind} configuration` : `the ${kind}`

/** The backups of a device: any of them against any other, or against what runs now. */
export function Backups({ device }: { device: string }) {
  const { data: backups } = useQuery(backupsQuery(device))
  const { data: keeps } = useQuery(keepsQuery(device))
  const [chosen, setChosen] = useState<number>()
  const take = useTaking(device)
  return (
    <>
      <h2>Backups</h2>
      {backups?.length === 0 && (
        <p className="quiet">None yet. A run takes one before it changes anything.</p>
      )}
      {keeps && keeps.cannotGive.length > 0 && (
        <p className="quiet">
          Cannot be kept, since its family does not give it: {keeps.cannotGive.join('; ')}.
        </p>
      )}
      <Button
        variant="outline"
        size="compact-sm"
        loading={take.isPending}
        onClick={() => take.mutate()}
      >
        Back up now
      </Button>
      <Trouble error={take.error} />
      {backups && backups.length > 0 && (
        <BackupTable device={device} backups={backups} choose={setChosen} />
      )}
      {backups && chosen !== undefined && (
        <Compared key={chosen} device={device} id={chosen} backups={backups} />
      )}
    </>
  )
}

function Compared({ device, id, backups }: { device: string; id: number; backups: Backup[] }) {
  const [against, setAgainst] = useState(NOW)
  const { data, error, isFetching } = useQuery(
    comparisonQuery(device, id, against === NOW ? undefined : Number(against)),
  )
  const one = backups.find((b) => b.id === id)
  return (
    <section aria-label="Comparison">
      <h3>What became of it?</h3>
      <p>
        {one && what(one.kind)} of {date(one?.takenAt)} against{' '}
        <select aria-label="against" value={against} onChange={(e) => setAgainst(e.target.value)}>
          <option value={NOW}>what runs now</option>
          {backups
            .filter((b) => b.id !== id)
            .map((b) => (
              <option key={b.id} value={b.id}>
                {b.kind}, {date(b.takenAt)}
              </option>
            ))}
        </select>
        . Lines that mean nothing are left out, secrets are masked.
      </p>
      <Trouble error={error} />
      {isFetching && (
        <p className="quiet">{against === NOW ? `${device} is asked …` : 'Comparing …'}</p>
      )}
      {data?.same && <p>Nothing differs.</p>}
      {data && !data.same && (
        <pre className="mono">
          {[
            ...data.dropped.map((line) => `gone  ${line}`),
            ...data.added.map((line) => `new   ${line}`),
          ].join('\n')}
        </pre>
      )}
      {one && <GetOut device={device} one={one} />}
    </section>
  )
}

/** For whoever gives licence keys or certificates to a unit by hand; an admin alone may. */
function GetOut({ device, one }: { device: string; one: Backup }) {
  const out = useMutation({
    mutationFn: (why: string) =>
      body(
        api.POST('/api/devices/{name}/backups/{id}/clear-text', {
          params: { path: { name: device, id: one.id } },
          body: { why },
          parseAs: 'text',
        }),
      ),
    onSuccess: (text) => save(`${device}-${one.kind}-${one.id}.txt`, text),
  })
  return (
    <>
      <WithReason
        title="Get it out in clear"
        label="Why it is got out"
        button="Save it with its secrets in clear; the trail tells of it"
        busy={out.isPending}
        act={(why) => out.mutate(why)}
      />
      <Trouble error={out.error} />
    </>
  )
}

function save(name: string, text: string) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type: 'text/plain' }))
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}

function useTaking(device: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async () => {
      const job = await body(api.POST('/api/backups', { body: { devices: [device] } }))
      for (let now = job; ; await new Promise((again) => setTimeout(again, 300))) {
        now = await body(api.GET('/api/jobs/{id}', { params: { path: { id: job.id } } }))
        if (now.state !== 'under-way') {
          if (now.failed > 0) throw new Error(now.troubles.join(' '))
          return
        }
      }
    },
    onSuccess: () => client.invalidateQueries({ queryKey: ['devices', device, 'backups'] }),
  })
}

function BackupTable({
  device,
  backups,
  choose,
}: {
  device: string
  backups: Backup[]
  choose: (id: number) => void
}) {
  return (
    <table className="plain">
      <thead>
        <tr>
          <th>what</th>
          <th>taken</th>
          <th>size</th>
          <th>SHA-256</th>
          <th>
            <span className="quiet">what became of it</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {backups.map((b) => (
          <tr key={b.id}>
            <td>
              <a href={`/api/devices/${device}/backups/${b.id}/text`}>{b.kind}</a>
            </td>
            <td>{date(b.takenAt)}</td>
            <td>{b.sizeBytes} bytes</td>
            <td className="mono">{b.sha256.slice(0, 24)}…</td>
            <td>
              <Button
                variant="subtle"
                size="compact-sm"
                aria-label={`Compare ${what(b.kind)} of ${date(b.takenAt)}`}
                onClick={() => choose(b.id)}
              >
                compare
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
