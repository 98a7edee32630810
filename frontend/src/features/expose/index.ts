/** The one door of this feature: its pages, each loaded when it is opened. */
export const ExposePage = () => import('./ExposePage.vue')
