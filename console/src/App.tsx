import { Anchor } from '@mantine/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { lazy, Suspense } from 'react'
import { Navigate, NavLink, Route, Routes, useLocation } from 'react-router'
import { api } from './api/client'
import { freshnessQuery, meQuery, useLiveChanges } from './api/queries'
import { LastKnown } from './components/Page'
import { ago } from './components/words'
import { SignIn } from './features/signin/SignIn'

const Fleet = lazy(() => import('./features/fleet/Fleet').then((m) => ({ default: m.Fleet })))
const OneDevice = lazy(() =>
  import('./features/fleet/OneDevice').then((m) => ({ default: m.OneDevice })),
)
const Releases = lazy(() =>
  import('./features/releases/Releases').then((m) => ({ default: m.Releases })),
)
const Exposure = lazy(() =>
  import('./features/exposure/Exposure').then((m) => ({ default: m.Exposure })),
)
const Discovery = lazy(() =>
  import('./features/discovery/Discovery').then((m) => ({ default: m.Discovery })),
)
const Reach = lazy(() => import('./features/reach/Reach').then((m) => ({ default: m.Reach })))
const Sources = lazy(() =>
  import('./features/sources/Sources').then((m) => ({ default: m.Sources })),
)
const Paths = lazy(() => import('./features/paths/Paths').then((m) => ({ default: m.Paths })))
const Plans = lazy(() => import('./features/plans/Plans').then((m) => ({ default: m.Plans })))
const OnePlan = lazy(() => import('./features/plans/OnePlan').then((m) => ({ default: m.OnePlan })))
const Tonight = lazy(() =>
  import('./features/tonight/Tonight').then((m) => ({ default: m.Tonight })),
)
const Records = lazy(() =>
  import('./features/records/Records').then((m) => ({ default: m.Records })),
)

const pages = ['Fleet', 'Releases', 'Paths', 'Plans', 'Tonight', 'Records']

/** The whole console: the sign-in, or the pages in the order of the work. */
export function App() {
  const { data: me, isPending, error } = useQuery(meQuery)
  if (isPending) return null
  if (me) return <House name={me.name} role={me.role} />
  return <SignIn trouble={error?.message} />
}

/** How old what stands on the pages is. */
function Freshness() {
  const { data } = useQuery(freshnessQuery)
  if (!data) return null
  return (
    <div style={{ marginBottom: 12 }} title="Readings of devices: how old what stands here is">
      {data.newest ? (
        <>
          read {ago(data.newest)},
          <br />
          oldest {ago(data.oldest)},
          <br />
        </>
      ) : (
        <>
          nothing read yet,
          <br />
        </>
      )}
      {data.read} of {data.devices} devices
    </div>
  )
}

function House({ name, role }: { name: string; role: string }) {
  const queries = useQueryClient()
  const { pathname } = useLocation()
  const lostSince = useLiveChanges()
  const signOut = async () => {
    await api.DELETE('/api/sessions/current')
    queries.clear()
    queries.setQueryData(['me'], null)
  }
  return (
    <div className="house">
      <nav aria-label="The order of the work">
        <div className="name">
          <svg
            width="22"
            height="16"
            viewBox="0 0 22 16"
            fill="none"
            strokeWidth="2.4"
            aria-hidden="true"
          >
            <path d="M1 14h6v-4h6V6h6V2h3" />
          </svg>
          Calm Step
        </div>
        {pages.map((page) => (
          <NavLink
            key={page}
            to={`/${page.toLowerCase()}`}
            className={pathname.startsWith(`/${page.toLowerCase()}`) ? 'active' : ''}
          >
            {page}
          </NavLink>
        ))}
        <div className="quiet" style={{ marginTop: 'auto', fontSize: '0.88rem' }}>
          <Freshness />
          {name}, {role}
          <br />
          <Anchor component="button" size="sm" onClick={signOut}>
            sign out
          </Anchor>
        </div>
      </nav>
      <main>
        {lostSince && <LastKnown since={lostSince} />}
        <AllPages />
      </main>
    </div>
  )
}

function AllPages() {
  return (
    <Suspense fallback={null}>
      <Routes>
        <Route path="/fleet" element={<Fleet />} />
        <Route path="/fleet/:device" element={<OneDevice />} />
        <Route path="/releases" element={<Releases />} />
        <Route path="/fleet-exposure" element={<Exposure />} />
        <Route path="/fleet-discovery" element={<Discovery />} />
        <Route path="/fleet-reach" element={<Reach />} />
        <Route path="/releases-sources" element={<Sources />} />
        <Route path="/paths" element={<Paths />} />
        <Route path="/plans" element={<Plans />} />
        <Route path="/plans/:plan" element={<OnePlan />} />
        <Route path="/tonight" element={<Tonight />} />
        <Route path="/tonight/:run" element={<Tonight />} />
        <Route path="/records" element={<Records />} />
        <Route path="*" element={<Navigate to="/fleet" replace />} />
      </Routes>
    </Suspense>
  )
}
