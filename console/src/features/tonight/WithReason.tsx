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

/** What needs a reason: without one the button does nothing. */
export function WithReason({
  title,
  label,
  button,
  act,
  children,
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
        placeholder="why; the record will hold it"
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
