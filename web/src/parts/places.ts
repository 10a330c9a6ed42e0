import { nextTick } from 'vue'

/** What is missing or wrong, and where: fields carry the same `where` as `data-where`. */
export interface PlaceOnPage {
  where: string
  what: string
}

/** Vuetify puts `data-` on the field around the input. */
function fieldOf(where: string): HTMLInputElement | null {
  const around = document.querySelector<HTMLElement>(`[data-where="${CSS.escape(where)}"]`)
  return around?.querySelector('input, textarea, select') ?? (around as HTMLInputElement | null)
}

/** The field's own label, so that a list of places can name it. */
export function labelOf(where: string): string {
  const field = fieldOf(where)
  return field?.labels?.[0]?.textContent?.trim() ?? field?.getAttribute('aria-label') ?? ''
}

/** Takes the reader to the field, out of whatever is folded over it. */
export async function goTo(where: string) {
  const field = fieldOf(where)
  for (let at = field?.parentElement; at; at = at.parentElement)
    if (at instanceof HTMLDetailsElement) at.open = true
  await nextTick()
  field?.scrollIntoView({ block: 'center' })
  field?.focus()
}
