/** The one door of this feature: its pages, each loaded when it is opened. */
export const ProtocolPage = () => import('./ProtocolPage.vue')
export const ShelfProtocolPage = () => import('./ShelfProtocolPage.vue')
