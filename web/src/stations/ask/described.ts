import type { Details } from '@/api/queries'
import { plain } from '@/texts/format'

/** One species of a cover while it is being typed: figures are text. */
export interface ComponentDraft {
  species: string
  name: string
  cultivar: string
  rate: string
  lot: string
  purity: string
  germination: string
  tkw: string
}
export interface DetailsDraft {
  components: ComponentDraft[]
  seed_set: NonNullable<Details['seed_set']>
  said: Record<string, string>
}

export const FIGURES = ['purity', 'germination', 'tkw'] as const
/** A number as it is shown in a field; what is text already stays as it was typed. */
export const text = (value: number | string | null | undefined) =>
  value === null || value === undefined ? '' : typeof value === 'string' ? value : plain(value)

export function emptyComponent(): ComponentDraft {
  return { species: '', name: '', cultivar: '', rate: '', lot: '', purity: '', germination: '', tkw: '' }
}
export function emptyDetails(): DetailsDraft {
  return { components: [], seed_set: '', said: {} }
}
export function detailsDraftOf(details: Details): DetailsDraft {
  return {
    components: (details.components ?? []).map((one) => ({
      species: one.species ?? '', name: one.name, cultivar: one.cultivar ?? '', rate: one.rate ?? '', lot: one.lot ?? '',
      purity: text(one.purity_percent), germination: text(one.germination_percent), tkw: text(one.tkw_g),
    })), // prettier-ignore
    seed_set: details.seed_set ?? '',
    said: { ...details.said },
  }
}
/** As it is sent: numbers as they were typed. */
export function detailsOf(draft: DetailsDraft): Details {
  return {
    components: draft.components
      .filter((one) => one.name.trim())
      .map(({ purity, germination, tkw, ...rest }) => ({
        ...rest,
        purity_percent: purity.trim() || null,
        germination_percent: germination.trim() || null,
        tkw_g: tkw.trim() || null,
      })),
    seed_set: draft.seed_set,
    said: draft.said,
  }
}
export const isDescribed = (details: DetailsDraft) =>
  details.components.some((one) => one.name.trim()) || Object.values(details.said).some((said) => said.trim())
