import { computed, ref } from 'vue'

import { api, type Rehearsal } from '@/api/queries'
import { useJob } from '@/parts/useJob'

export interface Truth {
  margins: Record<string, string>
  lost: string[]
  whole_share: string
}

/** Seasons invented and read by a job; one that is stopped shows the seasons that it has read. */
export function useRehearsal(trial: () => string) {
  const { job, lost, follow, stop } = useJob()
  const done = ref<Rehearsal | null>(null)
  const wanted = ref(0)
  const busy = ref(false)
  const problem = ref<Error | null>(null)

  async function rehearse(truth: Truth, seasons: number) {
    busy.value = true
    problem.value = null
    done.value = null
    wanted.value = seasons
    const seed = Math.floor(Math.random() * 1e9)
    try {
      const { id } = await api.rehearse(trial(), { ...truth, seasons, seed })
      if (await follow(id)) done.value = await api.rehearsed(id)
    } catch (thrown) {
      problem.value = thrown as Error
    } finally {
      busy.value = false
    }
  }
  const ran = computed(() => done.value?.seasons ?? job.value?.done ?? 0)
  return { done, wanted, busy, lost, problem, ran, rehearse, stop }
}
