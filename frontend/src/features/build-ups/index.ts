/** The one door of this feature: its pages, each loaded when it is opened. */
export const BuildUpsPage = () => import('./BuildUpsPage.vue')
export const SheetPage = () => import('./SheetPage.vue')
