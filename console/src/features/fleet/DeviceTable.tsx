import { useWindowVirtualizer } from '@tanstack/react-virtual'
import { memo, useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import type { Device } from '../../api/client'
import { State } from '../../components/State'
import { ago } from '../../components/words'
import { type Column, sorted } from './standing'
import { Treads } from './Treads'

/** Fewer rows are simply drawn; more are drawn as they come into view. */
const drawnAtOnce = 200
const rowHeight = 38

const columns: [Column | undefined, string][] = [
  [undefined, ''],
  ['name', 'device'],
  ['title', 'what it is'],
  ['siteTitle', 'site'],
  ['runs', 'runs'],
  ['behindBy', 'way'],
  ['standing', 'what to know'],
  ['readAt', 'read'],
]

/** The devices, sorted by a press on a column's head. */
export function DeviceTable({
  devices,
  marked,
  toggle,
}: {
  devices: Device[]
  marked: ReadonlySet<string>
  toggle: (name: string) => void
}) {
  const [sort, setSort] = useState<Sort>({ by: 'name', down: false })
  const rows = useMemo(() => sorted(devices, sort.by, sort.down), [devices, sort])
  const latestToggle = useRef(toggle)
  latestToggle.current = toggle
  const toggleLatest = useMemo(() => (name: string) => latestToggle.current(name), [])
  const table = useRef<HTMLTableElement>(null)
  const virtual = useWindowVirtualizer({
    count: rows.length,
    estimateSize: () => rowHeight,
    overscan: 20,
    scrollMargin: table.current?.offsetTop ?? 0,
    enabled: rows.length > drawnAtOnce,
  })
  const items =
    rows.length > drawnAtOnce
      ? virtual.getVirtualItems()
      : rows.map((_, index) => ({ index, start: 0, end: 0 }))
  const above =
    rows.length > drawnAtOnce ? (items[0]?.start ?? 0) - virtual.options.scrollMargin : 0
  const below =
    rows.length > drawnAtOnce
      ? virtual.getTotalSize() - ((items.at(-1)?.end ?? 0) - virtual.options.scrollMargin)
      : 0
  return (
    <table className="plain" ref={table}>
      <Head sort={sort} setSort={setSort} />
      <tbody>
        {above > 0 && <Space height={above} />}
        {items.map(({ index }) => {
          const device = rows[index]
          return (
            device && (
              <Row
                key={device.name}
                device={device}
                marked={marked.has(device.name)}
                toggle={toggleLatest}
              />
            )
          )
        })}
        {below > 0 && <Space height={below} />}
      </tbody>
    </table>
  )
}

function Space({ height }: { height: number }) {
  return (
    <tr>
      <td colSpan={columns.length} style={{ height, padding: 0, border: 0 }} />
    </tr>
  )
}

const Row = memo(function Row({
  device: d,
  marked,
  toggle,
}: {
  device: Device
  marked: boolean
  toggle: (name: string) => void
}) {
  const stays = d.standing === 'must-stay'
  const notes = d.toKnow.join(' · ')
  return (
    <tr>
      <td>
        <input
          type="checkbox"
          aria-label={`mark ${d.name}`}
          checked={marked}
          onChange={() => toggle(d.name)}
        />
      </td>
      <td className="mono nowrap">
        <Link to={`/fleet/${d.name}`}>{d.name}</Link>
      </td>
      <td className="nowrap">
        {d.title}
        {d.revision && <span className="quiet"> rev {d.revision}</span>}
      </td>
      <td>{d.siteTitle}</td>
      <td className="mono nowrap">{d.runs ?? '–'}</td>
      <td style={{ minWidth: 220 }}>
        <WayThere device={d} notes={notes} />
      </td>
      <td style={{ minWidth: 170 }}>
        <State of={d.standing} />
        {d.behindBy > 0 && <span className="quiet"> by {d.behindBy}</span>}
        {d.exposed.length > 0 && (
          <span className="stop"> · ■ {d.exposed.map((e) => e.id).join(', ')}</span>
        )}
        {!stays && notes && <span className="caution"> · {notes}</span>}
      </td>
      <td className="nowrap">
        {d.asWritten ? <span className="quiet">as written</span> : ago(d.readAt)}
      </td>
    </tr>
  )
})

interface Sort {
  by: Column
  down: boolean
}

function Head({ sort, setSort }: { sort: Sort; setSort: (sort: Sort) => void }) {
  return (
    <thead>
      <tr>
        {columns.map(([by, title]) =>
          by ? (
            <th
              key={title}
              aria-sort={sort.by === by ? (sort.down ? 'descending' : 'ascending') : 'none'}
            >
              <button
                type="button"
                onClick={() => setSort({ by, down: sort.by === by && !sort.down })}
              >
                {title} {sort.by === by && <span aria-hidden="true">{sort.down ? '▾' : '▴'}</span>}
              </button>
            </th>
          ) : (
            <th key="marked" aria-label="marked" />
          ),
        )}
      </tr>
    </thead>
  )
}

/** Its way to the policy's release, or why it has none. */
function WayThere({ device: d, notes }: { device: Device; notes: string }) {
  const how = `/paths?device=${d.name}&to=${encodeURIComponent(d.wanted ?? '')}`
  if (d.way.length > 0)
    return (
      <Link to={how} style={{ textDecoration: 'none' }}>
        <Treads way={d.way} />
      </Link>
    )
  if (d.standing !== 'must-stay') return <Treads way={[]} />
  return (
    <Link to={how} className="reason" title={notes}>
      none: {notes}
    </Link>
  )
}
