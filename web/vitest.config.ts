import { defineConfig, mergeConfig } from 'vitest/config'
import vite from './vite.config'

/** Where a file puts something else in the place of a module, others must not find it there. */
const APART = ['src/tests/comparePages.test.ts']

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
      server: { deps: { inline: ['element-plus'] } },
      // The component library is read once by each process, not by each of ninety files.
      projects: [
        {
          extends: true,
          test: { name: 'together', isolate: false, include: ['src/**/*.test.ts'], exclude: APART },
        },
        { extends: true, test: { name: 'apart', include: APART } },
      ],
    },
  }),
)
