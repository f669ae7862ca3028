import { fileURLToPath, URL } from 'node:url'
import vue from '@vitejs/plugin-vue'
import Components from 'unplugin-vue-components/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import { defineConfig } from 'vite'

const testing = process.env.VITEST === 'true'
const drawing = process.argv.includes('--ssr')

/** Wherever a template says el-select, it is ours. */
const ourSelect = (name: string) =>
  name === 'ElSelect'
    ? {
        from: '@/forms/select',
        sideEffects: testing ? undefined : 'element-plus/es/components/select/style/css',
      }
    : undefined

export default defineConfig({
  // In production Django serves the build under /static/.
  base: '/static/',
  plugins: [
    vue(),
    Components({
      dirs: [],
      // The worker knows a few of the components only.
      dts: drawing ? false : 'components.d.ts',
      resolvers: [ourSelect, ElementPlusResolver({ importStyle: testing ? false : 'css' })],
    }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  // The worker that draws readers' pages is one file, which needs no packages beside it. Tests read
  // the packages as they lie there: made ready by this program they take ten times as long.
  ...(testing ? {} : { ssr: { noExternal: true } }),
  build: { manifest: true, outDir: 'dist', emptyOutDir: true, chunkSizeWarningLimit: 900 },
})
