import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'
import vuetify from 'vite-plugin-vuetify'

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
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
