import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

/** A file dropped on one page and read on the next. */
export const useBroughtFile = defineStore('brought-file', () => {
  const file = shallowRef<File | null>(null)
  function hold(given: File) {
    file.value = given
  }
  function take(): File | null {
    const held = file.value
    file.value = null
    return held
  }
  return { hold, take }
})
