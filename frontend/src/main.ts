import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import '@fontsource-variable/atkinson-hyperlegible-next/wght-italic.css'
import '@fontsource-variable/atkinson-hyperlegible-mono/wght.css'
import 'element-plus/theme-chalk/base.css'
import 'element-plus/theme-chalk/dark/css-vars.css'
import './app/theme.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './app/App.vue'
import { router } from './app/router'
import { followTheme } from './app/theme'

followTheme()
const app = createApp(App).use(createPinia()).use(router)
// Once it is known who is signed in and which page it is: then each thing is asked for once.
void router.isReady().then(() => app.mount('#app'))
// Once the page shows: it is for the day on which no server answers.
if (import.meta.env.PROD && 'serviceWorker' in navigator)
  window.addEventListener(
    'load',
    () => void navigator.serviceWorker.register('/sw.js').catch(() => undefined),
  )
