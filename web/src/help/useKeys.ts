import { onBeforeUnmount, shallowReactive } from 'vue'

/** A key and what it does, in words. */
export type Keys = [key: string, does: string][]

const stack = shallowReactive<(() => Keys)[]>([])

/** The screen says which keys it has, as long as it is shown. */
export function useKeys(keys: () => Keys) {
  stack.push(keys)
  onBeforeUnmount(() => stack.splice(stack.indexOf(keys), 1))
}
export function keysOfThisScreen(): Keys {
  return stack.flatMap((keys) => keys())
}
