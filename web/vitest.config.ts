import { defineConfig, mergeConfig } from 'vitest/config'
import vite from './vite.config'

export default mergeConfig(
  vite,
  defineConfig({
    test: {
      environment: 'happy-dom',
      environmentOptions: { happyDOM: { url: 'http://bench/' } },
      include: ['src/**/*.test.ts'],
      setupFiles: ['src/tests/setup.ts'],
      server: { deps: { inline: ['element-plus'] } },
    },
  }),
)
