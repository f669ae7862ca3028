import { createRouter, createWebHistory } from 'vue-router'

export const router = createRouter({
  history: createWebHistory('/'),
  routes: [
    { path: '/', component: () => import('@/features/board/BoardPage.vue') },
    { path: '/login', component: () => import('@/features/accounts/LoginPage.vue') },
    { path: '/intake', component: () => import('@/features/intake/IntakePage.vue') },
    { path: '/motors/:id(\\d+)', component: () => import('@/features/motor_file/MotorPage.vue') },
    {
      path: '/intake/:id(\\d+)/:step?',
      component: () => import('@/features/intake/MotorIntakePage.vue'),
    },
    {
      path: '/teardown/compare',
      component: () => import('@/features/teardown/TeardownComparePage.vue'),
    },
    {
      path: '/teardown/:sample(\\d+)?',
      component: () => import('@/features/teardown/TeardownPage.vue'),
    },
    { path: '/rig', component: () => import('@/features/rig/RigPage.vue') },
    { path: '/bench', component: () => import('@/features/bench/BenchPage.vue') },
    { path: '/runs', component: () => import('@/features/runs/RunsPage.vue') },
    { path: '/runs/:id(\\d+)', component: () => import('@/features/runs/RunPage.vue') },
    { path: '/import', component: () => import('@/features/runs/ImportPage.vue') },
    { path: '/compare', component: () => import('@/features/compare/ComparePage.vue') },
    { path: '/publish', component: () => import('@/features/publish/PublishPage.vue') },
    { path: '/:rest(.*)', component: () => import('@/app/NotFoundPage.vue') },
  ],
  scrollBehavior: () => ({ top: 0 }),
})
