import { Link } from 'react-router'
import type { Device } from '../../api/client'
import { count } from '../../components/words'
import { type Cell, columns, rows, selectionOf } from './behind'

const size = 11
const gap = 3
const across = 8
/** More are drawn as one block with their number. */
const mostDrawn = 48

/** The fleet as steps to go: each device a block, family by family, from far behind to there. A filled block is exposed to a published fault. */
export function BehindFigure({ devices }: { devices: Device[] }) {
  return (
    <>
      <table className="plain figure">
        <thead>
          <tr>
            <th>family</th>
            {columns.map((column, i) => (
              <th key={column}>
                {i < 5 && (
                  <svg width="22" height="16" aria-hidden="true" style={{ display: 'block' }}>
                    <path
                      d={`M1 ${15 - 3 * i}h20`}
                      stroke={i === 4 ? 'var(--moss)' : 'var(--amber)'}
                      strokeWidth="3"
                    />
                  </svg>
                )}
                {column}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows(devices).map((row) => (
            <tr key={row.family}>
              <td className="nowrap">{row.title}</td>
              {row.cells.map((cell) => (
                <td key={cell.column}>
                  {cell.devices.length > 0 && (
                    <Link
                      to={`/fleet?where=${encodeURIComponent(selectionOf(row, cell.column))}`}
                      aria-label={`${row.title}, ${cell.column}: ${count(cell.devices.length, 'device', 'devices')}, ${cell.exposed} exposed`}
                      title={cell.devices
                        .slice(0, 12)
                        .map((d) => d.name)
                        .join(', ')}
                    >
                      <Blocks cell={cell} />
                    </Link>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <Key />
    </>
  )
}

function Exposed({ x, y }: { x: number; y: number }) {
  return (
    <>
      <rect
        x={x + 0.5}
        y={y + 0.5}
        width={size - 1}
        height={size - 1}
        fill="var(--brick)"
        stroke="var(--brick)"
      />
      <path
        d={`M${x + 3} ${y + size - 3}L${x + size - 3} ${y + 3}`}
        stroke="var(--paper)"
        strokeWidth="1.5"
      />
    </>
  )
}

function Blocks({ cell }: { cell: Cell }) {
  if (cell.devices.length > mostDrawn)
    return (
      <span className="mono">
        {cell.devices.length}
        {cell.exposed > 0 && <span className="stop"> ■ {cell.exposed}</span>}
      </span>
    )
  const height = Math.ceil(cell.devices.length / across) * (size + gap)
  return (
    <svg
      width={Math.min(cell.devices.length, across) * (size + gap)}
      height={height}
      aria-hidden="true"
    >
      {cell.devices.map((device, i) => {
        const x = (i % across) * (size + gap)
        const y = Math.floor(i / across) * (size + gap)
        return device.exposed.length > 0 ? (
          <Exposed key={device.name} x={x} y={y} />
        ) : (
          <rect
            key={device.name}
            x={x + 0.5}
            y={y + 0.5}
            width={size - 1}
            height={size - 1}
            fill="none"
            stroke="var(--ink)"
          />
        )
      })}
    </svg>
  )
}

/** What its signs mean. */
function Key() {
  return (
    <p className="quiet">
      <svg width={size} height={size} aria-hidden="true">
        <rect x="0.5" y="0.5" width={size - 1} height={size - 1} fill="none" stroke="var(--ink)" />
      </svg>{' '}
      a device{' '}
      <svg width={size} height={size} aria-hidden="true">
        <Exposed x={0} y={0} />
      </svg>{' '}
      one that is exposed to a published fault. A press on blocks shows them as a table.
    </p>
  )
}
