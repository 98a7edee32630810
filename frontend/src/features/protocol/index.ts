/** The one door of this feature: its page, loaded when it is opened. */
export const ProtocolPage = () => import('./ProtocolPage.vue')
