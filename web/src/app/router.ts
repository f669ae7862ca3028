/** The addresses of the application, each with a name and with who may go there. */
import { createRouter, createWebHistory, type RouteRecordRaw } from 'vue-router'
import { whoWorks } from '@/api/again'
import { roleIncludes } from './useSession'

declare module 'vue-router' {
  interface RouteMeta {
    /** The least role that has something to do there; everybody who is logged in where absent. */
    needs?: 'reviewer' | 'editor' | 'administrator'
    /** Where others are led instead. */
    instead?: string
  }
}

const id = ':id(\\d+)'

export const routes: RouteRecordRaw[] = [
  { path: '/', name: 'board', component: () => import('@/features/board/BoardPage.vue') },
  { path: '/login', name: 'login', component: () => import('@/features/accounts/LoginPage.vue') },
  { path: '/intake', name: 'intake', component: () => import('@/features/intake/IntakePage.vue') },
  {
    path: `/motors/${id}`,
    name: 'motor-file',
    component: () => import('@/features/motor_file/MotorPage.vue'),
  },
  {
    path: `/intake/${id}/:step?`,
    name: 'intake-of',
    component: () => import('@/features/intake/MotorIntakePage.vue'),
  },
  {
    path: '/teardown/compare',
    name: 'teardown-compare',
    component: () => import('@/features/teardown/TeardownComparePage.vue'),
  },
  {
    path: '/teardown/:sample(\\d+)?',
    name: 'teardown',
    component: () => import('@/features/teardown/TeardownPage.vue'),
  },
  {
    path: '/doubles',
    name: 'doubles',
    component: () => import('@/features/doubles/DoublesPage.vue'),
  },
  { path: '/rig', name: 'rig', component: () => import('@/features/rig/RigPage.vue') },
  { path: '/plan', name: 'plan', component: () => import('@/features/plan/PlanPage.vue') },
  { path: '/bench', name: 'bench', component: () => import('@/features/bench/BenchPage.vue') },
  { path: '/runs', name: 'runs', component: () => import('@/features/runs/RunsPage.vue') },
  { path: `/runs/${id}`, name: 'run', component: () => import('@/features/runs/RunPage.vue') },
  {
    path: '/import',
    name: 'import',
    component: () => import('@/features/imports/ImportPage.vue'),
    meta: { needs: 'reviewer', instead: 'runs' },
  },
  {
    path: '/readings',
    name: 'readings',
    component: () => import('@/features/runs/ReadingsPage.vue'),
    meta: { needs: 'reviewer', instead: 'runs' },
  },
  {
    path: '/compare',
    name: 'compare',
    component: () => import('@/features/compare/ComparePage.vue'),
  },
  {
    path: '/compare/bench',
    name: 'compare-bench',
    component: () => import('@/features/compare/BenchTablePage.vue'),
  },
  {
    path: '/compare/tests',
    name: 'compare-tests',
    component: () => import('@/features/compare/OtherTestsPage.vue'),
  },
  {
    path: '/compare/benches',
    name: 'compare-benches',
    component: () => import('@/features/benches/OtherBenchesPage.vue'),
  },
  {
    path: '/compare/mass',
    name: 'compare-mass',
    component: () => import('@/features/compare/MassMoneyPage.vue'),
  },
  { path: '/match', name: 'match', component: () => import('@/features/match/MatchPage.vue') },
  { path: '/rank', name: 'rank', component: () => import('@/features/rank/RankPage.vue') },
  {
    path: '/afterwards',
    name: 'afterwards',
    component: () => import('@/features/afterwards/AfterwardsPage.vue'),
  },
  {
    path: '/publish',
    name: 'publish',
    component: () => import('@/features/publish/PublishPage.vue'),
  },
  {
    path: `/publish/verdict/${id}`,
    name: 'verdict',
    component: () => import('@/features/verdict/VerdictPage.vue'),
  },
  {
    path: `/publish/verdict/${id}/notes`,
    name: 'verdict-notes',
    component: () => import('@/features/verdict/NotesPage.vue'),
  },
  {
    path: '/people',
    name: 'people',
    component: () => import('@/features/accounts/PeoplePage.vue'),
  },
  {
    path: '/upkeep',
    name: 'upkeep',
    component: () => import('@/features/upkeep/UpkeepPage.vue'),
    meta: { needs: 'administrator' },
  },
  { path: '/:rest(.*)', name: 'nowhere', component: () => import('@/app/NotFoundPage.vue') },
]

export const router = createRouter({
  history: createWebHistory('/'),
  routes,
  // It is the page that scrolls, not the window; another look at the same page stays where it is.
  scrollBehavior(to, from) {
    const page = document.querySelector('.page')
    if (page && to.path !== from.path) page.scrollTop = 0
  },
})

/** What a role has nothing to do in is not shown empty. The server decides; this only leads. */
export function guard(
  to: { meta: { needs?: string; instead?: string } },
  role: string | undefined,
): true | { name: string } {
  if (!to.meta.needs || role === undefined || roleIncludes(role, to.meta.needs)) return true
  return { name: to.meta.instead ?? 'board' }
}

router.beforeEach((to) => guard(to, whoWorks.value?.role))
