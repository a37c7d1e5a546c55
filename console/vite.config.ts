import react from '@vitejs/plugin-react'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [react()],
  build: { sourcemap: false, chunkSizeWarningLimit: 900 },
  // bin/dev: the pages from here, everything that they ask from the service of the demo.
  server: { proxy: { '/api': 'http://127.0.0.1:8450', '/openapi.json': 'http://127.0.0.1:8450' } },
  // All files share one browser's likeness: making it and loading the pages anew for each took four times what the tests take.
  test: {
    environment: 'jsdom',
    pool: 'threads',
    isolate: false,
    setupFiles: ['src/test/setup.ts'],
    testTimeout: 120_000,
  },
})
