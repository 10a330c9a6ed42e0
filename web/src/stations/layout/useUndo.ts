import { computed, ref, watch, type Ref } from 'vue'

const MOST_STEPS = 200

/**
 * Undo and redo of a draft. Each change is a step; typing on in one field is one step, however many keys it takes.
 */
export function useUndo<T extends object>(draft: Ref<T>) {
  const past = ref<string[]>([])
  const ahead = ref<string[]>([])
  let now = JSON.stringify(draft.value)
  let last = ''

  watch(
    draft,
    (value) => {
      const next = JSON.stringify(value)
      if (next === now) return
      const field = typedField(JSON.parse(now) as object, value)
      if (!field || field !== last) past.value = [...past.value.slice(1 - MOST_STEPS), now]
      last = field
      ahead.value = []
      now = next
    },
    { deep: true, flush: 'sync' },
  )

  function go(from: Ref<string[]>, to: Ref<string[]>) {
    const step = from.value.at(-1)
    if (step === undefined) return
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, now]
    now = step
    last = ''
    draft.value = JSON.parse(step) as T
  }
  /** What is there now is where one starts from. */
  function startHere() {
    now = JSON.stringify(draft.value)
    past.value = []
    ahead.value = []
    last = ''
  }
  const undo = () => go(past, ahead)
  const redo = () => go(ahead, past)
  /** Ctrl Z and Ctrl Shift Z belong to the draft that the keyboard is in. */
  function key(event: KeyboardEvent) {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return
    if (event.shiftKey) redo()
    else undo()
    event.preventDefault()
    event.stopPropagation()
  }
  return {
    undo,
    redo,
    key,
    startHere,
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => ahead.value.length > 0),
  }
}

/** The path of the one text that differs, or nothing if anything else does. */
function typedField(before: object, after: object, path = ''): string {
  let found = ''
  for (const key of new Set([...Object.keys(before), ...Object.keys(after)])) {
    const [a, b] = [(before as never)[key] as unknown, (after as never)[key] as unknown]
    if (JSON.stringify(a) === JSON.stringify(b)) continue
    if (found) return ''
    if (typeof a === 'string' && typeof b === 'string') found = `${path}.${key}`
    else if (a && b && typeof a === 'object' && typeof b === 'object') {
      found = typedField(a, b, `${path}.${key}`)
      if (!found) return ''
    } else return ''
  }
  return found
}
