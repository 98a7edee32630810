/** The one door of this feature: its pages, each loaded when it is opened. */
export const BenchPage = () => import('./BenchPage.vue')
