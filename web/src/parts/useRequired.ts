import { computed, ref, watch, type Ref } from 'vue'

import type { PlaceOnPage } from './places'

/**
 * Required entries of a form: what is `empty` is said once somebody has tried to send it, until it is there. A form that
 * opens (`open`) again starts without that.
 */
export function useRequired(empty: () => PlaceOnPage[], open?: Ref<boolean>) {
  const tried = ref(false)
  const missing = computed(() => (tried.value ? empty() : []))
  const missingAt = (where: string) =>
    missing.value.filter((one) => one.where === where).map((one) => one.what)
  /** Tried, and whether the form may be sent. */
  function complete() {
    tried.value = true
    return !missing.value.length
  }
  if (open) watch(open, () => (tried.value = false))
  return { missing, missingAt, complete }
}
