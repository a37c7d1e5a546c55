import '@fontsource-variable/atkinson-hyperlegible-mono'
import '@fontsource-variable/atkinson-hyperlegible-next'
import '@mantine/core/styles.css'
import './look.css'
import { MantineProvider } from '@mantine/core'
import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import { App } from './App'
import { Refused } from './api/client'
import { theme } from './theme'

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? ''

/** A call that says "nobody is signed in" sends the whole console back to the sign-in, wherever it comes from. */
function onError(error: Error) {
  if (error instanceof Refused && error.status === 401) queries.setQueryData(['me'], null)
}

const queries = new QueryClient({
  queryCache: new QueryCache({ onError }),
  mutationCache: new MutationCache({ onError }),
  defaultOptions: {
    queries: {
      retry: (count, error) => !(error instanceof Refused && error.status < 500) && count < 3,
      staleTime: 2000,
    },
  },
})

const root = document.getElementById('root')
if (root) {
  createRoot(root).render(
    <MantineProvider theme={theme} defaultColorScheme="auto" getStyleNonce={() => nonce}>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </MantineProvider>,
  )
}
