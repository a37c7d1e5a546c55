import { fireEvent, screen, waitFor } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { page, press, stub } from '../../test/house'
import { SignIn } from './SignIn'

const fill = (name: string, password: string) => {
  fireEvent.change(screen.getByLabelText(/Name/), { target: { value: name } })
  fireEvent.change(screen.getByLabelText(/Password/), { target: { value: password } })
}

describe('signing in', () => {
  it('sends name and password once', async () => {
    const sent = stub({ 'POST /api/sessions': { name: 'mara', role: 'operator' } })
    page(<SignIn />, '/', '/')
    fill('mara', 'a long enough word')
    await press('Sign in')
    await waitFor(() => expect(sent).toHaveLength(1))
    expect(sent[0]?.body).toEqual({ name: 'mara', password: 'a long enough word' })
  })

  it('shows a refusal in the words of the service and keeps what was typed', async () => {
    stub({
      'POST /api/sessions': { status: 401, detail: 'The name or the password is not right.' },
    })
    page(<SignIn />, '/', '/')
    fill('mara', 'wrong')
    await press('Sign in')
    expect((await screen.findByRole('alert')).textContent).toContain(
      'The name or the password is not right.',
    )
    expect((screen.getByLabelText(/Name/) as HTMLInputElement).value).toBe('mara')
  })

  it('says why somebody has to sign in again', () => {
    stub({})
    page(<SignIn trouble="The service does not answer." />, '/', '/')
    expect(screen.getByRole('alert').textContent).toContain('The service does not answer.')
  })
})
