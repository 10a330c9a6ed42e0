import { ref, watch, type Ref } from 'vue'

const PREFIX = 'apercu.draft.'

/**
 * What is being typed, kept on this device with every key until it is sent, so that a closed tab loses nothing.
 * `restored`: what is shown was typed before and not sent. `whole`: whether what was kept has the shape of today.
 */
export function useKeptDraft<T>(name: string, fresh: () => T, whole: (kept: T) => unknown) {
  const key = PREFIX + name
  const kept = read(key, whole)
  const draft = ref(kept ?? fresh()) as Ref<T>
  const restored = ref(kept !== null)
  const stop = watch(draft, (now) => localStorage.setItem(key, JSON.stringify(now)), { deep: true })

  /** What was typed is at the server. */
  function sent() {
    stop()
    localStorage.removeItem(key)
    restored.value = false
  }
  /** Keep it as it is, though nobody changed it. */
  function keep() {
    localStorage.setItem(key, JSON.stringify(draft.value))
  }
  function startOver() {
    draft.value = fresh()
    restored.value = false
    // The watcher runs after this; what it writes is what anybody would see without it.
    queueMicrotask(() => localStorage.removeItem(key))
  }
  return { draft, restored, sent, startOver, keep }
}

function read<T>(key: string, whole: (kept: T) => unknown): T | null {
  try {
    const found = JSON.parse(localStorage.getItem(key) ?? 'null') as T | null
    return found && whole(found) ? found : null
  } catch {
    return null
  }
}

/** Whether something of this name is kept on this device. */
export const isKept = (name: string): boolean => localStorage.getItem(PREFIX + name) !== null

/** Signing out leaves nothing of one person's drafts to the next. */
export function forgetDrafts() {
  for (const key of Object.keys(localStorage)) if (key.startsWith(PREFIX)) localStorage.removeItem(key)
}
