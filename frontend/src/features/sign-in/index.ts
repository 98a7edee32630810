import { defineAsyncComponent } from 'vue'

/** The one door of this feature: its pages, each loaded when it is opened. */
export const SignInPage = () => import('./SignInPage.vue')

const RETRY_AFTER_MS = 3000
/** Loaded when it is first asked for, and asked for again while the network is away: nobody is left before a page that cannot save. */
export const SignInAgain = defineAsyncComponent({
  loader: () => import('./SignInAgain.vue'),
  onError: (_, retry) => void setTimeout(retry, RETRY_AFTER_MS),
})
