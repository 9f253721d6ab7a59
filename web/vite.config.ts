import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'
import vuetify from 'vite-plugin-vuetify'

// Parts of the message file that only an instructor's desks show come with those, and what
// only the command line says stays out of the page.
const YARD = ['desk']
const COMMAND_LINE = ['sequencing', 'sim', 'command', 'interop']
const messages = {
  name: 'messages',
  enforce: 'pre' as const,
  transform(code: string, id: string) {
    if (!/messages[/\\]\w+\.json(\?part=yard)?$/.test(id)) return
    const yard = id.endsWith('?part=yard')
    const all = Object.entries(JSON.parse(code)).filter(([section]) => YARD.includes(section) === yard)
    const out: Record<string, Record<string, unknown>> = Object.fromEntries(all) as never
    for (const section of COMMAND_LINE) delete out.problem?.[section]
    return { code: `export default ${JSON.stringify(out)}`, moduleType: 'js' as const, map: null }
  },
}

export default defineConfig({
  plugins: [messages, vue(), vuetify({ autoImport: true })],
  resolve: { alias: {
      '@': fileURLToPath(new URL('./src', import.meta.url)),
      // The words are the same as the server's and the command line's.
      '@messages': fileURLToPath(new URL('../messages', import.meta.url)),
    } },
  define: { __VUE_I18N_LEGACY_API__: 'false', __INTLIFY_PROD_DEVTOOLS__: 'false' },
  build: { sourcemap: false, emptyOutDir: true, assetsInlineLimit: 0 },
  server: { proxy: { '/api': 'http://127.0.0.1:8080' } },
  test: {
    environment: 'happy-dom',
    environmentOptions: { happyDOM: { url: 'http://localhost/' } },
    server: { deps: { inline: ['vuetify'] } },
  },
})
