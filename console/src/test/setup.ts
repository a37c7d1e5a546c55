import { cleanup, configure } from '@testing-library/react'
import { afterEach, vi } from 'vitest'
import { late } from './house'

// A page that comes late on a busy machine is no fault of the page: how fast it is, is measured elsewhere.
configure(({ asyncWrapper }) => ({
  asyncUtilTimeout: 30_000,
  asyncWrapper: (look) =>
    asyncWrapper(async () => {
      await late(import.meta.env.VITE_LATE_LOOKS)
      return look()
    }),
}))

// Mantine asks for these; jsdom has neither.
window.matchMedia = vi.fn((query: string) => ({
  matches: false,
  media: query,
  addEventListener() {},
  removeEventListener() {},
  addListener() {},
  removeListener() {},
})) as never
window.ResizeObserver = class {
  observe() {}
  unobserve() {}
  disconnect() {}
}

afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})
