import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import Components from 'unplugin-vue-components/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import { VitePWA } from 'vite-plugin-pwa'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  base: '/static/',
  plugins: [
    vue(),
    Components({
      dirs: [],
      dts: 'src/components.d.ts',
      resolvers: [ElementPlusResolver({ importStyle: process.env.VITEST ? false : 'css' })],
    }),
    // The page opens with the server gone. Only what is the same for everybody is kept by it: the shell and its files, and no answer
    // of the API (those are kept by whose they are: src/api/kept.ts).
    !process.env.VITEST &&
      VitePWA({
        injectRegister: null,
        registerType: 'autoUpdate',
        manifest: {
          name: 'Nublet',
          short_name: 'Nublet',
          description: 'Which finish for which use, and how sure one may be',
          start_url: '/',
          scope: '/',
          display: 'standalone',
          background_color: '#ECEEEA',
          theme_color: '#232B28',
          icons: [{ src: '/static/mark.svg', sizes: 'any', type: 'image/svg+xml' }],
        },
        workbox: {
          inlineWorkboxRuntime: true,
          globPatterns: ['**/*.{js,css,woff2,svg}'],
          maximumFileSizeToCacheInBytes: 4_000_000,
          // It is served from the root, its files from there.
          modifyURLPrefix: { '': '/static/' },
          navigateFallback: null,
          skipWaiting: true,
          clientsClaim: true,
          runtimeCaching: [
            {
              urlPattern: ({ request, url }) =>
                request.mode === 'navigate' && !url.pathname.startsWith('/api/'),
              handler: 'NetworkFirst',
              options: {
                cacheName: 'shell',
                networkTimeoutSeconds: 5,
                // One page for every address: it finds its own by itself.
                plugins: [{ cacheKeyWillBeUsed: async () => '/' }],
              },
            },
          ],
        },
      }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: {
    // The content security policy allows no data: fonts.
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 900,
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8321' } },
  test: {
    environment: 'happy-dom',
    include: ['src/**/*.test.ts'],
  },
})
