import { onBeforeUnmount, ref, shallowRef } from 'vue'

import { Problem } from '@/api/client'
import { api, type Job } from '@/api/queries'

const SOON = 80
const SELDOM = 800

/** Follows long work until it ends. A page that is left doesn’t stop it; `stop` does. */
export function useJob() {
  const job = shallowRef<Job | null>(null)
  const lost = ref(false)
  let left = false
  onBeforeUnmount(() => (left = true))

  /** True once it is done, false where somebody has stopped it. Raises what went wrong with it. */
  async function follow(id: string): Promise<boolean> {
    lost.value = false
    for (let wait = SOON; !left; wait = Math.min(1.5 * wait, SELDOM)) {
      try {
        job.value = await api.job(id)
        lost.value = false
      } catch (error) {
        if (!(error instanceof Problem) || (error.status !== 0 && error.status < 500)) throw error
        lost.value = true // it goes on without us
      }
      const now = job.value
      if (now && !['queued', 'running'].includes(now.state)) {
        job.value = null
        if (now.error) throw new Problem(422, now.error.code, now.error.detail, now.error.errors)
        return now.state === 'done'
      }
      await new Promise((resolve) => setTimeout(resolve, wait))
    }
    return false
  }
  const stop = async () => job.value && void (await api.stopJob(job.value.id))
  return { job, lost, follow, stop }
}
