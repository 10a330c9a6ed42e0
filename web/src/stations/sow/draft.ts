import type { SeedPlanIn, Sow } from '@/api/sow'
import { plain } from '@/texts/format'

/** Numbers of a lot that a label says, in the order in which they are asked; the first ones are always in view. */
export const LABEL = ['germination_percent', 'purity_percent', 'tkw_g', 'emergence_percent'] as const
export const MORE = ['hard_seed_percent', 'coat_percent', 'bag_kg', 'price_per_kg', 'bushel_lb'] as const
export type LotField = (typeof LABEL)[number] | (typeof MORE)[number]

export type LotDraft = Record<LotField, string> & {
  key: string
  count_hard_seed: boolean
  coat_counted: boolean
}
export interface RateDraft {
  treatment: string
  lot: string
  way: string
  value: string
  here: boolean
}
/** The page of seed as it is typed. `etag`: of what it was opened with, so that a draft from before saves over nothing unseen. */
export interface SeedDraft {
  etag: string
  lots: LotDraft[]
  rates: RateDraft[]
  allowance: string
  spare: string
  filling: 'by_treatment' | 'by_plot'
  currency: string
}

const typed = (value: unknown): string => (typeof value === 'number' ? plain(value).replace('−', '-') : '')

export function draftOf(sow: Sow): SeedDraft {
  return {
    etag: sow.etag,
    lots: sow.lots.map(({ key, typed: said }) => ({
      key,
      count_hard_seed: said.count_hard_seed ?? false,
      coat_counted: said.coat_counted ?? false,
      ...(Object.fromEntries([...LABEL, ...MORE].map((field) => [field, typed(said[field])])) as Record<
        LotField,
        string
      >),
    })),
    rates: sow.treatments.flatMap(({ id, parts }) =>
      parts.map((part) => ({
        treatment: id, lot: part.lot, way: part.way, value: typed(part.value), here: part.here,
      })),
    ),
    allowance: typed(sow.allowance),
    spare: typed(sow.spare_percent),
    filling: sow.filling as SeedDraft['filling'],
    currency: sow.currency,
  } // prettier-ignore
}

/** What is sent: rates that Ask says are left to Ask, so that a change there goes on counting. */
export function planOf(draft: SeedDraft): SeedPlanIn {
  return {
    lots: draft.lots as SeedPlanIn['lots'],
    rates: draft.rates
      .filter((rate) => rate.here)
      .map(({ treatment, lot, way, value }) => ({ treatment, lot, way, value })) as SeedPlanIn['rates'],
    allowance_g: draft.allowance || '0',
    spare_percent: draft.spare || '0',
    filling: draft.filling,
    currency: draft.currency,
  }
}

/** Whether two pages say the same, whenever they were opened. */
export const alike = (a: SeedDraft, b: SeedDraft): boolean =>
  JSON.stringify({ ...a, etag: '' }) === JSON.stringify({ ...b, etag: '' })

/** Whether what was kept on the device fits the lots and treatments of today. */
export function fits(draft: SeedDraft, sow: Sow): boolean {
  const now = draftOf(sow)
  const keys = (one: SeedDraft) =>
    JSON.stringify([one.lots.map((lot) => lot.key), one.rates.map((rate) => [rate.treatment, rate.lot])])
  return keys(draft) === keys(now)
}
