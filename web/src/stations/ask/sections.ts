import type { SectionState } from '@/parts/PageSections.vue'
import type { PlaceOnPage } from '@/parts/places'

import type { AskDraft } from './draft'

export const SECTIONS = ['question', 'treatments', 'measures', 'site'] as const
export type Section = (typeof SECTIONS)[number]

/** Required entries that are still empty, by the `data-where` of their field; texts are keys of the catalogue. */
export function emptyRequired(draft: AskDraft): (PlaceOnPage & { section: Section })[] {
  const found: (PlaceOnPage & { section: Section })[] = []
  if (!draft.name.trim()) found.push({ section: 'question', where: 'name', what: 'missing.name' })
  const empty = draft.treatments.find((one) => !one.name.trim())
  if (draft.treatments.filter((one) => one.name.trim()).length < 2 && !draft.factors.length && empty)
    found.push({ section: 'treatments', where: `treatments.${empty.id}.name`, what: 'missing.treatments' })
  draft.sites.forEach((one, at) => {
    if (!one.site.name.trim())
      found.push({ section: 'site', where: `sites.${at}.name`, what: 'missing.name' })
  })
  return found
}

const SECTION_OF: Record<string, Section> = { treatments: 'treatments', measures: 'measures', sites: 'site' }

/** How far each section is. `attention`: sections that something is wrong with or doubtful in, besides `faults`. */
export function statesOf(
  draft: AskDraft,
  faults: string[],
  attention: Partial<Record<Section, boolean>>,
): Record<Section, SectionState> {
  const empty = new Set(emptyRequired(draft).map((one) => one.section))
  const wrong = new Set(faults.map((where) => SECTION_OF[where.split('.')[0]!] ?? 'question'))
  const begun: Record<Section, boolean> = {
    question: Boolean(draft.question.trim()),
    treatments: draft.treatments.filter((one) => one.name.trim()).length > 1,
    measures: draft.measures.some((one) => one.name.trim()),
    site: Boolean(draft.starts && draft.ends),
  }
  const stateOf = (one: Section): SectionState =>
    wrong.has(one) || attention[one] ? 'check' : empty.has(one) || !begun[one] ? 'todo' : 'done'
  return Object.fromEntries(SECTIONS.map((one) => [one, stateOf(one)])) as Record<Section, SectionState>
}
