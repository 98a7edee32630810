import { createRouter, createWebHistory } from 'vue-router'
import { BenchPage } from '@/features/bench'
import { BuildUpsPage, SheetPage } from '@/features/build-ups'
import { CalculatorsPage } from '@/features/calculators'
import { CandidatesPage } from '@/features/candidates'
import { DaysPage } from '@/features/coat-and-cure'
import { DesignPage } from '@/features/design'
import { EvidencePage } from '@/features/evidence'
import { ExposePage } from '@/features/expose'
import { PeoplePage } from '@/features/people'
import { PracticePage } from '@/features/practice'
import { PreparePage } from '@/features/prepare'
import { NewTrialPage, QuestionPage } from '@/features/question'
import { RankingPage } from '@/features/ranking'
import { ReadPage } from '@/features/read'
import { ProtocolPage, ShelfProtocolPage } from '@/features/protocol'
import {
  AgentsPage,
  FamiliesPage,
  ProtocolsPage,
  ProductPage,
  ProductsPage,
  WoodsPage,
} from '@/features/shelf'
import { SignInPage } from '@/features/sign-in'
import { TodayPage } from '@/features/today'
import { TrialsPage } from '@/features/trials'
import { useSession } from './session'

export const router = createRouter({
  history: createWebHistory('/'),
  routes: [
    { path: '/', name: 'today', component: TodayPage },
    { path: '/sign-in', name: 'sign-in', component: SignInPage },
    {
      path: '/trials',
      name: 'trials',
      meta: { keepers: true },
      component: TrialsPage,
    },
    {
      path: '/trials/new',
      name: 'new-trial',
      meta: { keepers: true },
      component: NewTrialPage,
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
          component: QuestionPage,
        },
        {
          path: 'candidates',
          name: 'candidates',
          component: CandidatesPage,
        },
        {
          path: 'build-ups',
          name: 'build-ups',
          component: BuildUpsPage,
        },
        {
          path: 'build-ups/:buildUpId(\\d+)/sheet',
          name: 'sheet',
          meta: { stage: 'build-ups' },
          component: SheetPage,
        },
        { path: 'protocol', name: 'protocol', meta: { stage: 'question' }, component: ProtocolPage },
        { path: 'design', name: 'design', component: DesignPage },
        { path: 'prepare', name: 'prepare', component: PreparePage },
        {
          path: 'coat-and-cure',
          name: 'coat-and-cure',
          component: DaysPage,
        },
        { path: 'expose', name: 'expose', component: ExposePage },
        {
          path: 'evidence',
          name: 'evidence',
          component: EvidencePage,
        },
        { path: 'ranking', name: 'ranking', component: RankingPage },
      ],
    },
    {
      path: '/trials/:trialId(\\d+)/read/:look?',
      name: 'read',
      component: ReadPage,
    },
    { path: '/practice', name: 'practice', component: PracticePage },
    { path: '/shelf', redirect: '/shelf/products' },
    {
      path: '/shelf/products',
      name: 'products',
      meta: { keepers: true },
      component: ProductsPage,
    },
    {
      path: '/shelf/products/:productId(\\d+|new)',
      name: 'product',
      meta: { keepers: true },
      component: ProductPage,
    },
    {
      path: '/shelf/woods',
      name: 'woods',
      meta: { keepers: true },
      component: WoodsPage,
    },
    {
      path: '/shelf/agents',
      name: 'agents',
      meta: { keepers: true },
      component: AgentsPage,
    },
    {
      path: '/shelf/protocols',
      name: 'protocols',
      meta: { keepers: true },
      component: ProtocolsPage,
    },
    {
      path: '/shelf/protocols/:protocolId',
      name: 'shelf-protocol',
      meta: { keepers: true },
      component: ShelfProtocolPage,
    },
    {
      path: '/shelf/families',
      name: 'families',
      meta: { keepers: true },
      component: FamiliesPage,
    },
    {
      path: '/calculators/:calculatorId?',
      name: 'calculators',
      meta: { keepers: true },
      component: CalculatorsPage,
    },
    {
      path: '/bench',
      name: 'bench',
      meta: { keepers: true },
      component: BenchPage,
    },
    {
      path: '/people',
      name: 'people',
      component: PeoplePage,
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
