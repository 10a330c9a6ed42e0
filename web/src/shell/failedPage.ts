import { shallowRef } from 'vue'
import { START_LOCATION, type Router } from 'vue-router'

import { Problem } from '@/api/client'

/**
 * The page that was asked for and didn't come; null while none is missing. `problem`: what the server said, null if a
 * part of the application didn't come. `first`: nothing else is shown, and it is tried again by itself.
 */
export const failedPage = shallowRef<{ to: string; problem: Problem | null; first: boolean } | null>(null)

/** How long a page that couldn't open waits before it tries again, ms. */
export const AGAIN_AFTER = 5_000

/** Says that a page didn't come, which the router itself keeps to itself, until one comes. */
export function watchPages(router: Router) {
  const nothingShown = () => router.currentRoute.value === START_LOCATION
  router.onError((error, to) => {
    const problem = error instanceof Problem ? error : null
    failedPage.value = { to: to.fullPath, problem, first: nothingShown() }
    if (nothingShown())
      setTimeout(() => nothingShown() && void router.replace(to.fullPath).catch(() => undefined), AGAIN_AFTER)
  })
  router.afterEach((_to, _from, failure) => {
    if (!failure) failedPage.value = null
  })
}
