import { Button, TextInput } from '@mantine/core'
import { type ReactNode, useState } from 'react'

export function SetAside({ act }: { act: (why: string) => void }) {
  return (
    <WithReason
      title="Set aside"
      label="Why it is set aside"
      button="Set it aside as it stands"
      act={act}
    />
  )
}

/** All other reasons stay with colleagues; this is what the contacts of the sites read. */
export function ForContacts({ act }: { act: (text: string) => void }) {
  return (
    <WithReason
      title="Tell its contacts"
      label="What the contacts of its sites read"
      placeholder="as they are to read it, in their next mail"
      button="Put it into their next mail"
      color="lagoon"
      act={act}
    />
  )
}

/** What needs a reason: without one the button does nothing. */
export function WithReason({
  title,
  label,
  button,
  act,
  children,
  placeholder = 'why; the record will hold it',
  open = false,
  ready = true,
  busy = false,
  color = 'brick',
}: {
  title: string
  label: string
  button: string
  act: (why: string) => void
  children?: ReactNode
  placeholder?: string
  open?: boolean
  ready?: boolean
  busy?: boolean
  color?: string
}) {
  const [why, setWhy] = useState('')
  return (
    <details open={open}>
      <summary>{title}</summary>
      {children}
      <TextInput
        aria-label={label}
        placeholder={placeholder}
        value={why}
        onChange={(e) => setWhy(e.currentTarget.value)}
        mt={6}
      />
      <Button
        mt={6}
        variant="outline"
        color={color}
        disabled={!why.trim() || !ready}
        loading={busy}
        onClick={() => act(why)}
      >
        {button}
      </Button>
    </details>
  )
}
