import { MantineProvider } from '@mantine/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { fireEvent, render, screen, waitFor } from '@testing-library/react'
import type { ReactElement } from 'react'
import { MemoryRouter, Route, Routes } from 'react-router'
import { vi } from 'vitest'

/** A call that a page made. */
export interface Recorded {
  method: string
  path: string
  query: string
  body: unknown
}

/** Waits for as many ms as bin/check sets, to see whether the tests hold where things come late: not at all where it sets none. */
export async function late(ms?: string) {
  if (ms) await new Promise((then) => setTimeout(then, Number(ms)))
}

/** Answers calls by "METHOD path"; an answer with a status of 400 or more is sent as a problem. Gives the calls that were made. */
export function stub(answers: Record<string, unknown>): Recorded[] {
  const made: Recorded[] = []
  vi.stubGlobal('fetch', async (request: Request) => {
    const { pathname: path, search } = new URL(request.url)
    const text = await request.text()
    made.push({
      method: request.method,
      path,
      query: search.slice(1),
      body: text ? JSON.parse(text) : undefined,
    })
    await late(import.meta.env.VITE_LATE_ANSWERS)
    const answer = answers[`${request.method} ${path}`] as { status?: number } | undefined
    const status =
      answer === undefined ? 404 : typeof answer.status === 'number' ? answer.status : 200
    return new Response(
      JSON.stringify(answer ?? { detail: `nothing is stubbed for ${request.method} ${path}` }),
      {
        status,
        headers: { 'Content-Type': 'application/json' },
      },
    )
  })
  return made
}

/** A page as the console shows it at a path. */
export function page(element: ReactElement, route: string, at: string) {
  return render(
    <MantineProvider env="test">
      <QueryClientProvider
        client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}
      >
        <MemoryRouter initialEntries={[at]}>
          <Routes>
            <Route path={route} element={element} />
            <Route path="*" element={null} />
          </Routes>
        </MemoryRouter>
      </QueryClientProvider>
    </MantineProvider>,
  )
}

/** Presses a button by what is written on it, also in a part that is folded away, as soon as it can be pressed: not while it is at work. */
export async function press(name: string) {
  const button = await waitFor(() => {
    const found = screen.getByRole<HTMLButtonElement>('button', { name, hidden: true })
    if (found.disabled) throw new Error(`"${name}" cannot be pressed.`)
    return found
  })
  fireEvent.click(button)
}

/** Presses a button that cannot be pressed yet: what the page then does is to be nothing. */
export async function pressInVain(name: string) {
  const button = await screen.findByRole<HTMLButtonElement>('button', { name, hidden: true })
  if (!button.disabled) throw new Error(`"${name}" can be pressed.`)
  fireEvent.click(button)
}
