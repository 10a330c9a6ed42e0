import { reactive } from 'vue'

const KEPT = 'apercu.sites'

/** Trial → which of its sites this device looks at. */
const looked = reactive<Record<string, string>>(read())

function read(): Record<string, string> {
  try {
    return (JSON.parse(localStorage.getItem(KEPT) ?? '{}') ?? {}) as Record<string, string>
  } catch {
    return {}
  }
}

/** The site that was chosen; undefined for a trial's first. */
export const siteOf = (trial: string): string | undefined => looked[trial]

export function chooseSite(trial: string, site: string | null) {
  if (site === null) delete looked[trial]
  else looked[trial] = site
  localStorage.setItem(KEPT, JSON.stringify(looked))
}

/** Where a request about a trial goes: its path, and the site that is looked at. */
export const atSite = (id: string, although = false) => ({
  path: { id },
  query: { site: siteOf(id), ...knowing(although).query },
})

/** The same with further ids in the path. */
export const at = <T extends Record<string, string>>(id: string, more: T) => ({
  path: { id, ...more },
  query: atSite(id).query,
})

/** Says that the map may change although somebody has printed or exported it. */
export const knowing = (although: boolean) => ({ query: although ? { although_taken_out: true } : {} })

/** The address of one of the trial's files, at the site that is looked at. */
export function fileOf(id: string, name: string, asked: Record<string, unknown> = {}): string {
  const query = new URLSearchParams(Object.entries(asked).map(([key, value]) => [key, String(value)]))
  const site = siteOf(id)
  if (site) query.set('site', site)
  return `/api/v1/trials/${id}/${name}${query.size ? `?${query}` : ''}`
}
