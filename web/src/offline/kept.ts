import { shallowRef } from 'vue'

const DATA = 'apercu-data'
const OF = 'apercu.kept-for'
const ALONG = 'apercu.along-of:'

/** When what shows was answered, if the server can’t be reached and this device showed what it kept; else null. */
export const keptSince = shallowRef<string | null>(null)

export function noteAge(response: Response) {
  const at = response.headers.get('X-Kept-At')
  if (!at) keptSince.value = null
  else if (!keptSince.value || at < keptSince.value) keptSince.value = at
}

/** Lets the application open without a network from now on. */
export function keepApplication() {
  if (import.meta.env.PROD && 'serviceWorker' in navigator)
    void navigator.serviceWorker.register('/sw.js').catch(() => undefined) // without it, pages need the network
}

/** What was kept belongs to one person: another one, or nobody, finds nothing of it. */
export async function keepFor(person: string) {
  if (localStorage.getItem(OF) === person) return
  localStorage.removeItem(ALONG + (localStorage.getItem(OF) ?? ''))
  if (localStorage.getItem(OF)) await globalThis.caches?.delete(DATA).catch(() => false)
  if (person) localStorage.setItem(OF, person)
  else localStorage.removeItem(OF)
}
