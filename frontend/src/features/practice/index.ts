/** The one door of this feature: its page, loaded when it is opened. */
export const PracticePage = () => import('./PracticePage.vue')
