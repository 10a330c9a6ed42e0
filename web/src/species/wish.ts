import type { MixIn, Wish } from '@/api/queries'

/** What is wanted of a cover while it is being typed, and the mix that is being made: figures are text. */
export interface WishDraft {
  weights: Record<string, number>
  sown: string
  first_frost: string
  last_frost: string
  mild_winter: string
  harsh_winter: string
  soil: string
  winter: '' | 'dies' | 'lives'
  ways: ('drilled' | 'broadcast' | 'frost_seeded')[]
  days: string
  wet: boolean
  saline: boolean
  shaded: boolean
  grazed: boolean
  before: string
  after: string
}
export interface PartDraft {
  key: string
  share: string
  full: string
  tkw: string
}
export interface MixDraft {
  parts: PartDraft[]
  way: NonNullable<MixIn['way']>
  total: string
  broadcast: boolean
  stage: NonNullable<MixIn['stage']>
}
export interface GuideDraft {
  wish: WishDraft
  mix: MixDraft
}

export function emptyGuide(): GuideDraft {
  return {
    wish: {
      weights: { weeds: 2, nitrogen_supply: 1 }, sown: '', first_frost: '', last_frost: '', mild_winter: '',
      harsh_winter: '', soil: '', winter: '', ways: [], days: '', wet: false, saline: false, shaded: false, grazed: false, before: '', after: '',
    },
    mix: { parts: [], way: 'of_full', total: '', broadcast: false, stage: 'cn_flower' },
  } // prettier-ignore
}
export function guideIsWhole(kept: GuideDraft): boolean {
  return Boolean(kept.wish?.weights && Array.isArray(kept.wish.ways) && Array.isArray(kept.mix?.parts))
}

/** Which temperature is still to be said so that the winter that is asked for can be judged. */
export function winterMissing(wish: WishDraft): 'mild_winter' | 'harsh_winter' | null {
  const field = ({ dies: 'mild_winter', lives: 'harsh_winter', '': null } as const)[wish.winter]
  return field && !wish[field].trim() ? field : null
}

const DAY = /^\d{2}-\d{2}$/

export function wishOf(draft: WishDraft): Wish {
  return {
    ...draft,
    sown: draft.sown || null,
    first_frost: DAY.test(draft.first_frost.trim()) ? draft.first_frost.trim() : '',
    last_frost: DAY.test(draft.last_frost.trim()) ? draft.last_frost.trim() : '',
  }
}

export function mixOf(draft: MixDraft, weights: Record<string, number>): MixIn {
  return {
    way: draft.way,
    broadcast: draft.broadcast,
    stage: draft.stage,
    weights,
    total: draft.total,
    steps: 5,
    parts: draft.parts.map((part) => ({
      key: part.key,
      share: part.share,
      full: part.full,
      tkw: part.tkw,
    })),
  }
}

/** A cover that goes on to a new trial: its name as a treatment, and what is sown, rates with their unit. */
export interface SownCover {
  name: string
  parts: { species: string; name: string; rate: string }[]
}
