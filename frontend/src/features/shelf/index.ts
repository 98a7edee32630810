/** The one door of this feature: its pages, each loaded when it is opened. */
export const ProductsPage = () => import('./ProductsPage.vue')
export const ProductPage = () => import('./ProductPage.vue')
export const WoodsPage = () => import('./WoodsPage.vue')
export const AgentsPage = () => import('./AgentsPage.vue')
export const FamiliesPage = () => import('./FamiliesPage.vue')
export const ProtocolsPage = () => import('./ProtocolsPage.vue')
