/** The one door of this feature: its pages, each loaded when it is opened. */
export const NewTrialPage = () => import('./NewTrialPage.vue')
export const QuestionPage = () => import('./QuestionPage.vue')
