import { onBeforeUnmount, readonly, ref } from 'vue'

/** Whether the screen is a phone's, kept up when it turns. */
export function useSmallScreen() {
  const query = matchMedia('(max-width: 720px)')
  const small = ref(query.matches)
  const changed = () => (small.value = query.matches)
  query.addEventListener('change', changed)
  onBeforeUnmount(() => query.removeEventListener('change', changed))
  return readonly(small)
}
