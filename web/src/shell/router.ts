import { createRouter, createWebHistory } from 'vue-router'

import { fetchSession } from '@/api/queries'

import { watchPages } from './failedPage'

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
      { path: '/day-list', name: 'day-list', component: () => import('@/calendar/DayListPage.vue') },
      { path: '/new', name: 'new', component: () => import('@/stations/ask/NewTrialPage.vue') },
      { path: '/species', name: 'species', component: () => import('@/species/GuidePage.vue') },
      { path: '/bring', name: 'bring', component: () => import('@/stations/bring/BringPage.vue') },
      {
        path: '/trials/:trial',
        component: () => import('./TrialFrame.vue'),
        props: true,
        children: [
          { path: '', redirect: { name: 'read' } },
          { path: 'ask', name: 'ask', component: () => import('@/stations/ask/AskPage.vue') },
          { path: 'plan', name: 'plan', component: () => import('@/stations/plan/PlanPage.vue') },
          { path: 'layout', name: 'layout', component: () => import('@/stations/layout/LayoutPage.vue') },
          { path: 'sow', name: 'sow', component: () => import('@/stations/sow/SowPage.vue') },
          { path: 'season', name: 'season', component: () => import('@/stations/season/SeasonPage.vue') },
          {
            path: 'season/weather',
            name: 'weather',
            component: () => import('@/stations/season/weather/WeatherPage.vue'),
          },
          {
            path: 'season/kill',
            name: 'kill',
            component: () => import('@/stations/season/kill/KillWindowPage.vue'),
          },
          {
            path: 'season/log',
            name: 'log',
            component: () => import('@/stations/season/log/LogPage.vue'),
          },
          {
            path: 'season/stages',
            name: 'stages',
            component: () => import('@/stations/season/stages/StagesPage.vue'),
          },
          { path: 'walk', name: 'walk', component: () => import('@/stations/walk/WalkPage.vue') },
          {
            path: 'walk/:visit',
            name: 'visit',
            component: () => import('@/stations/walk/VisitPage.vue'),
            props: true,
          },
          {
            path: 'walk/:visit/photographs',
            name: 'photo-sheet',
            component: () => import('@/stations/walk/photographs/PhotoSheet.vue'),
            props: true,
          },
          { path: 'tell', name: 'tell', component: () => import('@/stations/tell/TellPage.vue') },
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
  watchPages(router)
  return router
}
