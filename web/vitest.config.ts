import { defineConfig, mergeConfig } from 'vitest/config'
import vite from './vite.config'

export default mergeConfig(
  vite,
  defineConfig({
    test: {
      environment: 'happy-dom',
      environmentOptions: { happyDOM: { url: 'http://bench/' } },
      // Forms of the component library are slow to mount in a browser made of paper, and a busy
      // machine makes them several times slower. This ends a test that hangs; it times nothing.
      testTimeout: 120_000,
      setupFiles: ['src/tests/setup.ts'],
      // The component library is read once by each process, not by each of ninety files.
      isolate: false,
      include: ['src/**/*.test.ts'],
    },
  }),
)
