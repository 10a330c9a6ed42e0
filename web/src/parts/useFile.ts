import { computed, ref } from 'vue'

import { api, type FileAsked } from '@/api/queries'

import { useJob } from './useJob'

/** A file that the server makes by a job and the browser then fetches. */
export function useFile(trial: () => string, asked: () => FileAsked) {
  const { job, lost, follow, stop } = useJob()
  const busy = ref(false)
  const address = ref('')
  const problem = ref<Error | null>(null)

  async function make() {
    busy.value = true
    address.value = ''
    problem.value = null
    try {
      const { id } = await api.makeFile(trial(), asked())
      if (!(await follow(id))) return
      address.value = `/api/v1/jobs/${id}/file`
      const link = document.createElement('a')
      link.href = address.value
      link.download = ''
      link.click()
    } catch (thrown) {
      problem.value = thrown as Error
    } finally {
      busy.value = false
    }
  }
  return { busy, queued: computed(() => job.value?.state === 'queued'), lost, address, problem, make, stop }
}
