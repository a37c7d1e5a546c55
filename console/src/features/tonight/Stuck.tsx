import { Button, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { Run, Unit } from '../../api/client'
import { Trouble } from '../../components/Page'
import { useUnitAct } from './acts'
import { ForContacts, SetAside, WithReason } from './WithReason'

/** What is offered beside trying again, where the service would accept it. */
const otherWays = [
  {
    kind: 'take-over',
    title: 'Take its configuration over',
    label: 'Why it is taken over',
    button: 'Take it over as it stands; it is backed up anew',
  },
  {
    kind: 'again',
    title: 'Restart it once more',
    label: 'Why it restarts once more',
    button: 'Choose its image and restart',
  },
  {
    kind: 'without',
    title: 'Go on without the members that are out',
    label: 'Why it goes on without them',
    button: 'Change the others without them',
  },
] as const

/** A step of it failed; what is offered is what the service would accept. */
export function Stuck({ run, unit }: { run: Run; unit: Unit }) {
  const act = useUnitAct(run, unit)
  return (
    <div className="card">
      <h3>
        <span className="stop">■</span> {unit.device} is stuck at {unit.trouble?.step}
      </h3>
      <p className="flush">
        Expected: {unit.trouble?.expected}. Seen: {unit.trouble?.seen}. {unit.trouble?.remedy}
      </p>
      {unit.trouble && unit.trouble.lastLines.length > 0 && (
        <div className="talk">{unit.trouble.lastLines.join('\n')}</div>
      )}
      {unit.trouble?.ways.includes('rescue') && (
        <Rescue act={(image) => act.mutate({ kind: 'rescue', image })} busy={act.isPending} />
      )}
      <Button
        mt="xs"
        variant={unit.trouble?.ways.includes('rescue') ? 'outline' : 'filled'}
        onClick={() => act.mutate({ kind: 'retry' })}
        loading={act.isPending}
      >
        Try the step again
      </Button>
      {unit.trouble?.ways.includes('answer') && (
        <Answer act={(say, why) => act.mutate({ kind: 'answer', say, why })} />
      )}
      {otherWays
        .filter(({ kind }) => unit.trouble?.ways.includes(kind))
        .map(({ kind, ...words }) => (
          <WithReason key={kind} {...words} act={(why) => act.mutate({ kind, why })} />
        ))}
      <OtherPlaces unit={unit} act={act} />
      {unit.trouble?.ways.includes('skip') && (
        <WithReason
          title="Leave the step out"
          label="Why the step is left out"
          button="Go on without it"
          act={(why) => act.mutate({ kind: 'skip', why })}
        />
      )}
      <SetAside act={(why) => act.mutate({ kind: 'set-aside', why })} />
      <ForContacts act={(text) => act.mutate({ kind: 'word-for-contacts', text })} />
      <Trouble error={act.error} />
    </div>
  )
}

/** Back to where it was, or with another box. */
function OtherPlaces({ unit, act }: { unit: Unit; act: ReturnType<typeof useUnitAct> }) {
  return (
    <>
      {unit.trouble?.ways.includes('return') && (
        <WithReason
          title="Let it go back"
          label="Why it goes back"
          button="Back to what it ran before, with its configuration"
          act={(why) => act.mutate({ kind: 'return', why })}
        >
          <p className="flush">It goes back {unit.trouble?.back}.</p>
        </WithReason>
      )}
      {unit.trouble?.ways.includes('replace') && (
        <Replace
          act={(serial, why) => act.mutate({ kind: 'replace', serial, why })}
          busy={act.isPending}
        />
      )}
      {unit.trouble?.ways.includes('replace-member') && (
        <ReplaceMember
          act={(member, serial, why) => act.mutate({ kind: 'replace-member', member, serial, why })}
          busy={act.isPending}
        />
      )}
    </>
  )
}

/** The question stands above, as it was seen. */
function Answer({ act }: { act: (say: string, why: string) => void }) {
  const [say, type] = useState('')
  return (
    <WithReason
      title="Answer its question, once"
      label="Why it is answered so"
      button="Answer it, and try the step again"
      act={(why) => act(say, why)}
    >
      <TextInput
        label="What is answered"
        value={say}
        onChange={(e) => type(e.currentTarget.value)}
        mt={6}
      />
    </WithReason>
  )
}

/** What is loaded may be left to the service: it knows what the shelf holds for this device. */
function Rescue({ act, busy }: { act: (image: string) => void; busy: boolean }) {
  const [file, nameFile] = useState('')
  return (
    <>
      <Button mt="xs" onClick={() => act(file.trim())} loading={busy}>
        Start it from memory
      </Button>
      <details>
        <summary>With another image</summary>
        <TextInput
          aria-label="Image that is loaded into its memory"
          placeholder="a file on the shelf; else the best one there"
          value={file}
          onChange={(e) => nameFile(e.currentTarget.value)}
          mt={6}
        />
      </details>
    </>
  )
}

/** A member was swapped while the others serve: which one, and what tells the new one from the old. */
function ReplaceMember({
  act,
  busy,
}: {
  act: (member: string, serial: string, why: string) => void
  busy: boolean
}) {
  const [member, setMember] = useState('')
  const [serial, setSerial] = useState('')
  return (
    <WithReason
      title="A member was swapped"
      label="Why the member was replaced"
      button="Look at it, and bring it along"
      color="lagoon"
      busy={busy}
      ready={member.trim() !== '' && serial.trim() !== ''}
      act={(why) => act(member.trim(), serial.trim(), why)}
    >
      <TextInput
        label="Member"
        placeholder="as the unit names it"
        value={member}
        onChange={(e) => setMember(e.currentTarget.value)}
        mt={6}
      />
      <TextInput
        label="Serial number of the box that stands there now"
        value={serial}
        onChange={(e) => setSerial(e.currentTarget.value)}
        mt={6}
      />
    </WithReason>
  )
}

/** The box that was plugged in instead: its serial number tells it from any other that stands at the address. */
function Replace({ act, busy }: { act: (serial: string, why: string) => void; busy: boolean }) {
  const [serial, setSerial] = useState('')
  return (
    <WithReason
      title="Another box stands there"
      label="Why another box stands there"
      button="Meet it, and go on with it"
      color="lagoon"
      busy={busy}
      ready={serial.trim() !== ''}
      act={(why) => act(serial.trim(), why)}
    >
      <p style={{ margin: '6px 0' }}>
        It needs the address and a login; release and configuration come from here.
      </p>
      <TextInput
        aria-label="Serial number of the box that stands there now"
        placeholder="its serial number"
        value={serial}
        onChange={(e) => setSerial(e.currentTarget.value)}
      />
    </WithReason>
  )
}
