import type { Offer } from '@/api/queries'
import { newId } from '@/parts/newId'

import type { DetailsDraft } from './described'
import type { TreatmentDraft } from './draft'

const copied = (details: DetailsDraft): DetailsDraft => ({
  ...details,
  components: details.components.map((one) => ({ ...one })),
  said: { ...details.said },
})

/** `to` with one aspect as in `from`; what is sown comes with its seed. */
function takeOver(to: DetailsDraft, from: DetailsDraft, aspect: string, value: string): DetailsDraft {
  const out = copied(to)
  if (aspect === 'species') out.components = copied(from).components
  else if (aspect === 'cultivar' || aspect === 'rate')
    out.components.forEach((one, i) => {
      const like = from.components[i]
      if (like) one[aspect] = like[aspect]
    })
  else if (value) out.said[aspect] = value
  else delete out.said[aspect]
  return out
}

/** The treatments once an offer is taken: one more, or one that holds constant what the other has. */
export function withOffer(treatments: TreatmentDraft[], offer: Offer): TreatmentDraft[] {
  const like = treatments.find((one) => one.id === offer.like)
  const other = treatments.find((one) => one.id === offer.other)
  if (!like || !other) return treatments
  if (offer.kind === 'share') {
    const details = copied(other.details)
    const sown = details.components.filter((one) => one.name.trim())
    sown.forEach((one, i) => (one.rate = offer.rates[i] ?? one.rate))
    return treatments.map((one) => (one === other ? { ...one, details } : one))
  }
  if (offer.kind === 'hold')
    return treatments.map((one) =>
      one === other
        ? { ...one, details: takeOver(one.details, like.details, offer.aspect, offer.value) }
        : one,
    )
  const value =
    offer.aspect === 'species'
      ? other.details.components.map((one) => one.name).join(' + ')
      : offer.value || other.name
  const made: TreatmentDraft = {
    ...like,
    id: newId(),
    name: `${like.name}, ${value}`.slice(0, 160),
    code: '',
    is_control: false,
    details: takeOver(like.details, other.details, offer.aspect, offer.value),
  }
  const at = treatments.indexOf(like)
  return [...treatments.slice(0, at + 1), made, ...treatments.slice(at + 1)]
}
