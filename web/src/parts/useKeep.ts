import { useQueryClient } from '@tanstack/vue-query'
import { shallowRef, watch, type Ref } from 'vue'

/**
 * What a small form does when it is sent: the act, then everything that shows the trial is asked for again and the form
 * closes. If the act fails, or gives false back, the form stays as it is; opening it again starts without a reason.
 */
export function useKeep(open: Ref<boolean>, act: () => Promise<unknown>) {
  const queries = useQueryClient()
  const problem = shallowRef<Error | null>(null)
  watch(open, (now) => {
    if (now) problem.value = null
  })
  async function keep() {
    try {
      if ((await act()) === false) return // there is a question first
      await queries.invalidateQueries({ queryKey: ['trials'] })
      open.value = false
    } catch (thrown) {
      problem.value = thrown as Error
    }
  }
  return { problem, keep }
}
