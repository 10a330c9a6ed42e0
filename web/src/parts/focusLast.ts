import { nextTick } from 'vue'

/** The keyboard goes to the first field of the row that was just added. */
export async function focusLast(rows: () => HTMLElement | null | undefined) {
  await nextTick()
  rows()?.lastElementChild?.querySelector<HTMLElement>('input:not([type=hidden]), textarea')?.focus()
}
