/** The one door of this feature: its pages, each loaded when it is opened. */
export const SignInPage = () => import('./SignInPage.vue')
export { default as SignInAgain } from './SignInAgain.vue'
