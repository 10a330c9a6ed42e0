import { ref, watch, type Ref } from 'vue'

import type { AskDraft } from './draft'

const PREFIX = 'apercu.ask.'

/**
 * The page of Ask, kept on this device with every key until it is sent, so that a closed tab loses nothing. `restored`:
 * what is shown was typed before and not sent.
 */
export function useKeptDraft(trial: string, fresh: () => AskDraft) {
  const key = PREFIX + trial
  const kept = read(key)
  const draft = ref(kept ?? fresh()) as Ref<AskDraft>
  const restored = ref(kept !== null)
  const stop = watch(draft, (now) => localStorage.setItem(key, JSON.stringify(now)), { deep: true })

  /** What was typed is at the server. */
  function sent() {
    stop()
    localStorage.removeItem(key)
    restored.value = false
  }
  function startOver() {
    draft.value = fresh()
    restored.value = false
    // The watcher runs after this; what it writes is what anybody would see without it.
    queueMicrotask(() => localStorage.removeItem(key))
  }
  return { draft, restored, sent, startOver }
}

function read(key: string): AskDraft | null {
  try {
    const found = JSON.parse(localStorage.getItem(key) ?? 'null') as AskDraft | null
    return found &&
      Array.isArray(found.treatments) &&
      Array.isArray(found.measures) &&
      Array.isArray(found.factors) &&
      found.site
      ? found
      : null
  } catch {
    return null
  }
}

/** Signing out leaves nothing of one person's drafts to the next. */
export function forgetDrafts() {
  for (const key of Object.keys(localStorage)) if (key.startsWith(PREFIX)) localStorage.removeItem(key)
}
