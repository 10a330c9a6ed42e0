import { ref, shallowRef } from 'vue'

import { changedMeanwhile } from '@/api/client'

/**
 * Saves a form under the ETag that it was opened with. Where somebody else has changed the same meanwhile, the save is
 * refused, `theirs` holds what stands there now, and the next save is made from that: a person has seen it then.
 * `pick`: finds the form's part in what the server answers.
 */
export function useMeanwhile<T extends { etag: string }>(pick: (current: unknown) => T | undefined) {
  const etag = ref('')
  const theirs = shallowRef<T | null>(null)

  function opened(now?: { etag?: string } | null) {
    etag.value = now?.etag ?? ''
    theirs.value = null
  }
  async function save<R>(act: (etag: string) => Promise<R>): Promise<R> {
    try {
      const done = await act(etag.value)
      theirs.value = null
      return done
    } catch (problem) {
      const current = changedMeanwhile(problem)
      const now = current === null ? undefined : pick(current)
      if (now) {
        etag.value = now.etag
        theirs.value = now
      }
      throw problem
    }
  }
  return { theirs, opened, save }
}
