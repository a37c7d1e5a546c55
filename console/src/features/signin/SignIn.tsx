import { Button, PasswordInput, TextInput } from '@mantine/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body } from '../../api/client'
import { Page, Trouble } from '../../components/Page'

/** Nobody is signed in. */
export function SignIn({ trouble }: { trouble?: string | undefined }) {
  const queries = useQueryClient()
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const signIn = useMutation({
    mutationFn: () => body(api.POST('/api/sessions', { body: { name, password } })),
    onSuccess: (me) => queries.setQueryData(['me'], me),
  })
  return (
    <main style={{ maxWidth: 380, margin: '14vh auto', padding: 20 }}>
      <Page
        question="Who is at work?"
        lede="Sign in to Calm Step. The first start wrote a one-time password for admin."
      />
      <Trouble error={signIn.error ?? (trouble ? new Error(trouble) : null)} />
      <form
        onSubmit={(event) => {
          event.preventDefault()
          signIn.mutate()
        }}
      >
        <TextInput
          label="Name"
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
          autoComplete="username"
          required
          autoFocus
        />
        <PasswordInput
          label="Password"
          mt="sm"
          value={password}
          onChange={(e) => setPassword(e.currentTarget.value)}
          autoComplete="current-password"
          required
        />
        <Button type="submit" mt="lg" loading={signIn.isPending}>
          Sign in
        </Button>
      </form>
    </main>
  )
}
