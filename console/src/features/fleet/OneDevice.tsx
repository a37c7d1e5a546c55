import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import type { Device } from '../../api/client'
import { changesQuery, deviceQuery } from '../../api/queries'
import { Page, Trouble } from '../../components/Page'
import { State } from '../../components/State'
import { ago, date, megabytes } from '../../components/words'
import { Backups } from './Backups'
import { History } from './History'
import { NotAsWritten } from './NotAsWritten'
import { Treads } from './Treads'

/** One device as it showed itself last. */
export function OneDevice() {
  const { device: name = '' } = useParams()
  const { data: device, error } = useQuery(deviceQuery(name))
  const { data: changes } = useQuery(changesQuery(name))
  return (
    <Page
      question={`What does ${name} run, and what would it start next?`}
      lede={
        device &&
        `${device.title}, ${device.model}${device.revision ? ` revision ${device.revision}` : ''}, ${device.siteTitle}. Read ${ago(device.readAt)}.`
      }
    >
      <Trouble error={error} />
      {device && device.discrepancies.length > 0 && <NotAsWritten device={device} />}
      {device && <Facts device={device} />}
      {device?.reading && device.reading.parts.length > 0 && (
        <PartsShown parts={device.reading.parts} />
      )}
      {device?.reading && <Reading reading={device.reading} />}
      {device && device.parts.length > 0 && !device.reading?.parts.length && (
        <>
          <h2>Parts with firmware of their own</h2>
          <p className="quiet">As the inventory says.</p>
          <Parts parts={device.parts} />
        </>
      )}
      {changes && changes.length > 0 && (
        <>
          <h2>What changed between readings</h2>
          {changes.map((c) => (
            <div key={c.at}>
              <p className="quiet" style={{ margin: '8px 0 2px' }}>
                {date(c.at)}, since {date(c.since)}
              </p>
              <ul className="flush">
                {c.changes.map((change) => (
                  <li key={change}>{change}</li>
                ))}
              </ul>
            </div>
          ))}
        </>
      )}
      {device && <History device={name} />}
      {device && <Backups device={name} />}
    </Page>
  )
}

function Facts({ device }: { device: Device }) {
  return (
    <>
      {device.silent && (
        <div className="card stop">
          ■ Silent since {date(device.silent.at)}. Expected: {device.silent.expected}. Seen:{' '}
          {device.silent.seen}. {device.silent.remedy}
        </div>
      )}
      <table className="plain prose">
        <tbody>
          <Row name="standing">
            <State of={device.standing} /> <Treads way={device.way} />{' '}
            {device.way.length > 0 && (
              <Link
                to={`/paths?device=${device.name}&to=${encodeURIComponent(device.wanted ?? '')}`}
              >
                how it gets there
              </Link>
            )}
          </Row>
          <Row name="who stands behind it">
            {device.serves || 'nobody wrote it down'}{' '}
            <Link to={`/fleet-reach?down=${device.name}`}>what goes dark with it</Link>
          </Row>
          <WayIn device={device} />
          <Row name="host key">
            <span className="mono">{device.hostKey || 'not seen yet'}</span>
          </Row>
          <Row name="serial">
            <span className="mono">{device.serial}</span>
          </Row>
          {device.exposed.map((advisory) => (
            <ExposedTo key={advisory.id} device={device} advisory={advisory} />
          ))}
          {device.tags.length > 0 && <Row name="tags">{device.tags.join(', ')}</Row>}
          {device.toKnow.map((note) => (
            <Row key={note} name="to know">
              <span className="caution">▲ {note}</span>
            </Row>
          ))}
        </tbody>
      </table>
    </>
  )
}

/** Parts as the device shows them: who does its part, and who does not. */
function PartsShown({ parts }: { parts: NonNullable<Device['reading']>['parts'] }) {
  return (
    <>
      <h2>Parts with firmware of their own</h2>
      <table className="plain prose">
        <tbody>
          {parts.map(({ part, role, state, mark }) => (
            <tr key={part.kind + part.name}>
              <td className="quiet">
                {part.kind.toLowerCase().replace('_', ' ')} <b>{part.name}</b>
              </td>
              <td>{role}</td>
              <td className={state === 'in sync' || state === '' ? '' : 'caution'}>
                {state === 'in sync' || state === '' ? state : `▲ ${state}`}
              </td>
              <td>{part.model}</td>
              <td className="mono">{part.serial}</td>
              <td>
                {Object.entries(part.runs ?? {}).map(([component, release]) => (
                  <span key={component}>
                    <span className="quiet">{component}</span>{' '}
                    <span className="mono">{release}</span>{' '}
                  </span>
                ))}
              </td>
              <td className="quiet">{mark}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

function Parts({ parts }: { parts: Device['parts'] }) {
  return (
    <ul className="parts">
      {parts.map((part) => (
        <li key={part.kind + part.name}>
          {part.kind.toLowerCase().replace('_', ' ')} <b>{part.name}</b> {part.model}{' '}
          {Object.entries(part.runs ?? {}).map(([component, release]) => (
            <span key={component} className="quiet">
              {component} <span className="mono">{release}</span>{' '}
            </span>
          ))}
          {part.parts.length > 0 && <Parts parts={part.parts} />}
        </li>
      ))}
    </ul>
  )
}

function Row({ name, children }: { name: string; children: ReactNode }) {
  return (
    <tr>
      <td className="quiet" style={{ width: 190 }}>
        {name}
      </td>
      <td>{children}</td>
    </tr>
  )
}

function Reading({ reading }: { reading: NonNullable<Device['reading']> }) {
  const role = (file: string) =>
    (['running', 'next', 'fallback'] as const)
      .filter((r) => reading.boot[r].split(' + ').includes(file))
      .join(', ')
  return (
    <>
      <h2>Images</h2>
      <p>
        Runs <span className="mono">{reading.components.system}</span>. The boot choice is{' '}
        {reading.boot.saved ? 'saved' : 'NOT saved'}; the configuration{' '}
        {reading.unsavedChanges ? <b className="caution">▲ has unsaved changes</b> : 'is saved'}.
      </p>
      {[...reading.volumes]
        .sort((a, b) => a.part.localeCompare(b.part))
        .map((volume) => (
          <table key={volume.name} className="plain prose">
            <caption style={{ textAlign: 'left', paddingBottom: 4 }} className="quiet">
              {volume.name}: {megabytes(volume.sizeBytes)}, {megabytes(volume.freeBytes)} free
            </caption>
            <tbody>
              {volume.files.map((file) => (
                <tr key={file.name}>
                  <td className="mono">{file.name}</td>
                  <td>{megabytes(file.sizeBytes)}</td>
                  <td>{role(file.name)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ))}
      <h2>Facts that are compared before and after</h2>
      <table className="plain prose">
        <tbody>
          {reading.facts.map((fact) => (
            <tr key={fact.kind + fact.name}>
              <td className="quiet" style={{ width: 190 }}>
                {fact.kind}
              </td>
              <td className="mono">{fact.name}</td>
              <td>{fact.value}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

/** How it is reached. */
function WayIn({ device }: { device: Device }) {
  return (
    <>
      <Row name="address">
        <span className="mono">
          {device.address}:{device.port}
        </span>
        , login {device.logins.join(', then ')}
      </Row>
      {device.via.length > 0 && (
        <Row name="reached through">
          <span className="mono">{device.via.join(', then ')}</span>
        </Row>
      )}
      {device.console && (
        <Row name="console line at">
          <span className="mono">{device.console}</span>
        </Row>
      )}
      {device.oldAlgorithms.length > 0 && (
        <Row name="allowed, though old">
          <span className="mono">{device.oldAlgorithms.join(', ')}</span>
        </Row>
      )}
    </>
  )
}

function ExposedTo({ device, advisory }: { device: Device; advisory: Device['exposed'][number] }) {
  return (
    <Row name="exposed to">
      <span className="stop">
        ■ {advisory.id}, {advisory.severity}:
      </span>{' '}
      {advisory.name}{' '}
      <Link to={`/paths?device=${device.name}&to=${encodeURIComponent(`clears:${advisory.id}`)}`}>
        the smallest way out
      </Link>
    </Row>
  )
}
