import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'
import vuetify from 'vite-plugin-vuetify'

export default defineConfig(({ command }) => ({
  base: command === 'build' ? '/static/' : '/',
  plugins: [vue(), vuetify({ autoImport: true })],
  html: { cspNonce: '__CSP_NONCE__' },
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  define: {
    __VUE_I18N_LEGACY_API__: false,
    __VUE_I18N_FULL_INSTALL__: false,
    __INTLIFY_PROD_DEVTOOLS__: false,
  },
  build: { target: 'es2022', assetsInlineLimit: 0, chunkSizeWarningLimit: 800 },
  server: { proxy: { '/api': 'http://127.0.0.1:8000' } },
  test: {
    environment: 'happy-dom',
    include: ['tests/**/*.test.ts'],
    setupFiles: ['tests/setup.ts'],
    isolate: false,
    testTimeout: 20_000, // pages are mounted whole, and the machine may be busy
    server: { deps: { inline: ['vuetify'] } },
  },
}))
