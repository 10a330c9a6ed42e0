import { shallowRef, watch, type Ref } from 'vue'

/** The last answer that there was: what is on the page stays there while the next question can't be read. */
export function useLast<T>(answer: Ref<T | undefined>): Ref<T | undefined> {
  const last = shallowRef<T | undefined>(answer.value)
  watch(answer, (now) => {
    if (now !== undefined) last.value = now
  })
  return last
}
