import type { Details, Offer } from '@/api/queries'
import { newId } from '@/parts/newId'
import { plain, typedFigure } from '@/texts/format'

import type { TreatmentDraft } from './draft'

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
const text = (value: number | null | undefined) => (value === null || value === undefined ? '' : plain(value))

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
/** As it is sent. What isn't a figure is left out; `notFigures` says where it stands. */
export function detailsOf(draft: DetailsDraft): Details {
  const figure = (typed: string) => {
    const value = typedFigure(typed)
    return Number.isNaN(value) ? null : value
  }
  return {
    components: draft.components
      .filter((one) => one.name.trim())
      .map(({ purity, germination, tkw, ...rest }) => ({
        ...rest,
        purity_percent: figure(purity),
        germination_percent: figure(germination),
        tkw_g: figure(tkw),
      })),
    seed_set: draft.seed_set,
    said: draft.said,
  }
}
export const isDescribed = (details: DetailsDraft) =>
  details.components.some((one) => one.name.trim()) || Object.values(details.said).some((said) => said.trim())

const copied = (details: DetailsDraft): DetailsDraft => ({
  ...details,
  components: details.components.map((one) => ({ ...one })),
  said: { ...details.said },
})

/** `to` with one aspect as in `from`; what is sown comes with its seed. */
function takeOver(to: DetailsDraft, from: DetailsDraft, aspect: string): DetailsDraft {
  const out = copied(to)
  if (aspect === 'species') out.components = copied(from).components
  else if (aspect === 'cultivar' || aspect === 'rate')
    out.components.forEach((one, i) => {
      const like = from.components[i]
      if (like) one[aspect] = like[aspect]
    })
  else if (from.said[aspect]) out.said[aspect] = from.said[aspect]
  else delete out.said[aspect]
  return out
}

/** The treatments once an offer is taken: one more, or one that holds constant what the other has. */
export function withOffer(treatments: TreatmentDraft[], offer: Offer): TreatmentDraft[] {
  const like = treatments.find((one) => one.id === offer.like)
  const other = treatments.find((one) => one.id === offer.other)
  if (!like || !other) return treatments
  if (offer.kind === 'hold')
    return treatments.map((one) =>
      one === other ? { ...one, details: takeOver(one.details, like.details, offer.aspect) } : one,
    )
  const value =
    offer.aspect === 'species'
      ? other.details.components.map((one) => one.name).join(' + ')
      : (other.details.said[offer.aspect] ?? other.name)
  const made: TreatmentDraft = {
    ...like,
    id: newId(),
    name: `${like.name}, ${value}`.slice(0, 160),
    code: '',
    is_control: false,
    details: takeOver(like.details, other.details, offer.aspect),
  }
  const at = treatments.indexOf(like)
  return [...treatments.slice(0, at + 1), made, ...treatments.slice(at + 1)]
}
