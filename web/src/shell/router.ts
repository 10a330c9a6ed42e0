import { createRouter, createWebHistory } from 'vue-router'

import { fetchSession } from '@/api/queries'

export function makeRouter() {
  const router = createRouter({
    history: createWebHistory('/'),
    routes: [
      { path: '/', name: 'today', component: () => import('@/today/TodayPage.vue') },
      {
        path: '/sign-in',
        name: 'sign-in',
        component: () => import('./SignInPage.vue'),
        meta: { open: true },
      },
      { path: '/bring', name: 'bring', component: () => import('@/stations/bring/BringPage.vue') },
      {
        path: '/trials/:trial',
        component: () => import('./TrialFrame.vue'),
        props: true,
        children: [
          { path: '', redirect: { name: 'read' } },
          { path: 'read', name: 'read', component: () => import('@/stations/read/BoardPage.vue') },
          {
            path: 'read/:measure',
            name: 'full-reading',
            component: () => import('@/stations/read/FullReadingPage.vue'),
            props: true,
          },
        ],
      },
      { path: '/:rest(.*)*', name: 'nowhere', component: () => import('./NowherePage.vue') },
    ],
  })
  router.beforeEach(async (to) => {
    if (to.meta.open) return true
    const session = await fetchSession()
    return session ? true : { name: 'sign-in', query: { then: to.fullPath } }
  })
  return router
}
