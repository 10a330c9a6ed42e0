import type { OperationIn, Season } from '@/api/queries'

type Operation = Season['operations'][number]

/** Kinds of waiting times, as the server names them. */
export const WAITS = [
  'reentry_hours',
  'preharvest_days',
  'plantback_days',
  'grazing_days',
  'manure_days',
] as const
const PLANTING = ['depth_cm', 'residue_percent', 'hairpinned_percent', 'open_percent', 'places'] as const
const GRAZING = [
  'head',
  'days',
  'area_ha',
  'before_kg_ha',
  'after_kg_ha',
  'caged_kg_ha',
  'dung_kg_ha',
] as const

/** What is typed of an operation beside when and where. */
export interface OperationDetails {
  amount: string
  machine: string
  setting: string
  operator: string
  hours: string
  cost: string
  exempt: string[]
  exempt_quadrats: string
  intervals: Record<(typeof WAITS)[number], string>
  grazing: Record<(typeof GRAZING)[number], string>
  planting: Record<(typeof PLANTING)[number], string>
  zones: string[]
  lot: { name: string; rate: string; rate_unit: string; analysis: { nutrient: string; content: string }[] }
}

const text = (value: unknown) => (value == null ? '' : String(value))
const each = <K extends string>(keys: readonly K[], of: (key: K) => string) =>
  Object.fromEntries(keys.map((key) => [key, of(key)])) as Record<K, string>

/** What an operation has, as it would be typed; empty where it has nothing. */
export function detailsOf(was: Operation | null): OperationDetails {
  return {
    amount: was?.amount ?? '', machine: was?.machine ?? '', setting: was?.setting ?? '', operator: was?.operator ?? '',
    hours: text(was?.hours), cost: text(was?.cost), exempt: [...(was?.exempt ?? [])],
    exempt_quadrats: was?.exempt_quadrats ?? '',
    intervals: each(WAITS, (key) => text(was?.intervals[key])),
    grazing: each(GRAZING, (key) => text(was?.grazing?.[key])),
    planting: each(PLANTING, (key) => text(was?.planting?.[key])),
    zones: [...(was?.zones ?? [])],
    lot: {
      name: was?.lot?.name ?? '', rate: text(was?.lot?.rate), rate_unit: was?.lot?.rate_unit ?? 't/ha',
      analysis: (was?.lot?.analysis ?? []).map((one) => ({ nutrient: one.nutrient, content: String(one.content) })),
    },
  } // prettier-ignore
}

const any = (typed: Record<string, string>) => Object.values(typed).some((one) => one.trim())

/** The same as it is sent: grazing and a lot only where something of them was typed. */
export function detailsBody(said: OperationDetails, kind: string) {
  const grazing = any(said.grazing)
  const lot = said.lot.rate.trim() || said.lot.name.trim()
  return {
    amount: said.amount, machine: said.machine, setting: said.setting, operator: said.operator, hours: said.hours,
    cost: said.cost.replace(',', '.') || null, exempt: said.exempt, exempt_quadrats: said.exempt_quadrats,
    intervals: said.intervals,
    planting: any(said.planting) && ['plant', 'sow'].includes(kind) ? said.planting : null,
    zones: said.zones,
    grazing: grazing && kind.startsWith('graze') ? said.grazing : null,
    lot: lot && kind === 'fertilise'
      ? { ...said.lot, analysis: said.lot.analysis.filter((one) => one.content.trim()) } as OperationIn['lot']
      : null,
  } // prettier-ignore
}
