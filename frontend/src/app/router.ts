import { createRouter, createWebHistory } from 'vue-router'
import { useSession } from './session'

export const router = createRouter({
  history: createWebHistory('/'),
  routes: [
    { path: '/', name: 'today', component: () => import('@/features/today/TodayPage.vue') },
    { path: '/sign-in', name: 'sign-in', component: () => import('@/features/sign-in/SignInPage.vue') },
    {
      path: '/trials',
      name: 'trials',
      meta: { keepers: true },
      component: () => import('@/features/trials/TrialsPage.vue'),
    },
    {
      path: '/trials/new',
      name: 'new-trial',
      meta: { keepers: true },
      component: () => import('@/features/question/NewTrialPage.vue'),
    },
    {
      path: '/trials/:trialId(\\d+)',
      component: () => import('./TrialFrame.vue'),
      meta: { keepers: true },
      children: [
        { path: '', redirect: (to) => ({ path: `${to.path}/question` }) },
        {
          path: 'question',
          name: 'question',
          component: () => import('@/features/question/QuestionPage.vue'),
        },
        {
          path: 'candidates',
          name: 'candidates',
          component: () => import('@/features/candidates/CandidatesPage.vue'),
        },
        {
          path: 'build-ups',
          name: 'build-ups',
          component: () => import('@/features/build-ups/BuildUpsPage.vue'),
        },
        {
          path: 'build-ups/:buildUpId(\\d+)/sheet',
          name: 'sheet',
          meta: { stage: 'build-ups' },
          component: () => import('@/features/build-ups/SheetPage.vue'),
        },
        { path: 'design', name: 'design', component: () => import('@/features/design/DesignPage.vue') },
        { path: 'prepare', name: 'prepare', component: () => import('@/features/prepare/PreparePage.vue') },
        {
          path: 'coat-and-cure',
          name: 'coat-and-cure',
          component: () => import('@/features/coat-and-cure/DaysPage.vue'),
        },
        {
          path: 'evidence',
          name: 'evidence',
          component: () => import('@/features/evidence/EvidencePage.vue'),
        },
        { path: 'ranking', name: 'ranking', component: () => import('@/features/ranking/RankingPage.vue') },
      ],
    },
    {
      path: '/trials/:trialId(\\d+)/read/:look?',
      name: 'read',
      component: () => import('@/features/read/ReadPage.vue'),
    },
    { path: '/shelf', redirect: '/shelf/products' },
    {
      path: '/shelf/products',
      name: 'products',
      meta: { keepers: true },
      component: () => import('@/features/shelf/ProductsPage.vue'),
    },
    {
      path: '/shelf/products/:productId(\\d+|new)',
      name: 'product',
      meta: { keepers: true },
      component: () => import('@/features/shelf/ProductPage.vue'),
    },
    {
      path: '/shelf/woods',
      name: 'woods',
      meta: { keepers: true },
      component: () => import('@/features/shelf/WoodsPage.vue'),
    },
    {
      path: '/shelf/agents',
      name: 'agents',
      meta: { keepers: true },
      component: () => import('@/features/shelf/AgentsPage.vue'),
    },
    {
      path: '/shelf/families',
      name: 'families',
      meta: { keepers: true },
      component: () => import('@/features/shelf/FamiliesPage.vue'),
    },
    {
      path: '/calculators/:calculatorId?',
      name: 'calculators',
      meta: { keepers: true },
      component: () => import('@/features/calculators/CalculatorsPage.vue'),
    },
    {
      path: '/bench',
      name: 'bench',
      meta: { keepers: true },
      component: () => import('@/features/bench/BenchPage.vue'),
    },
    {
      path: '/people',
      name: 'people',
      component: () => import('@/features/people/PeoplePage.vue'),
    },
    { path: '/:rest(.*)*', name: 'nowhere', component: () => import('./NowherePage.vue') },
  ],
})

router.beforeEach(async (to) => {
  const session = useSession()
  // With no network the page that is being opened says so itself.
  if (!session.isKnown) await session.look().catch(() => undefined)
  if (!session.person && to.name !== 'sign-in')
    return { name: 'sign-in', query: to.fullPath === '/' ? {} : { next: to.fullPath } }
  if (session.person && to.name === 'sign-in') return { name: 'today' }
  return true
})
