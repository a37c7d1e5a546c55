import { cleanup } from '@testing-library/react'
import { afterEach, vi } from 'vitest'

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
