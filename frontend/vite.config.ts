import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import Components from 'unplugin-vue-components/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
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
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: {
    // The content security policy allows no data: fonts.
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 900,
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8321' } },
  test: { environment: 'happy-dom', include: ['src/**/*.test.ts'] },
})
