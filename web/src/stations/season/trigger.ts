import type { Season } from '@/api/queries'
import type { ClosingIn, TriggerIn } from '@/api/stages'

/** What brings an operation on, or closes it, as it is typed. */
export interface TriggerDraft {
  kind: string
  value: string
  plant: string
  base: string
  cap: string
  colder: boolean
  days: string
  day: string
  operation: string | null
  daysAfter: string
}

/** What a form begins with beside what the operation has: a date, days after another one, or a trigger. */
export interface Preset {
  kind?: string
  name?: string
  treatments?: string[]
  after?: string
  days?: string
  trigger?: TriggerDraft
}

type Operation = Season['operations'][number]
type Shown = Operation['trigger'] | Operation['closes']

/** Kinds that hang on a date alone. */
export const BY_DATE = ['none', 'date', 'day', 'after']
export const TRIGGERS = ['stage', 'degree_days', 'height', 'biomass', 'soil_temperature'] as const

export const emptyTrigger = (kind: string): TriggerDraft => ({
  kind, value: '', plant: '', base: '', cap: '', colder: false, days: '3', day: '', operation: null, daysAfter: '',
}) // prettier-ignore

const text = (value: number | null | undefined) => (value == null ? '' : String(value))

/** What is shown, as it would be typed. */
export function draftOf(shown: Shown, otherwise: string): TriggerDraft {
  if (!shown) return emptyTrigger(otherwise)
  const closing = 'day' in shown ? shown : null
  return {
    kind: shown.kind, value: text(shown.value), plant: shown.plant, base: text(shown.base), cap: text(shown.cap),
    colder: shown.colder, days: String(shown.days), day: closing?.day ?? '', operation: closing?.operation ?? null,
    daysAfter: text(closing?.days_after),
  } // prettier-ignore
}

export function triggerBody(draft: TriggerDraft): TriggerIn | null {
  if (BY_DATE.includes(draft.kind)) return null
  const { value, plant, base, cap, colder, days } = draft
  return { kind: draft.kind as TriggerIn['kind'], value, plant, base, cap, colder, days: days || '3' }
}

export function closingBody(draft: TriggerDraft): ClosingIn | null {
  if (draft.kind === 'none') return null
  const { value, plant, base, cap, colder, days } = draft
  return {
    kind: draft.kind as ClosingIn['kind'], value, plant, base, cap, colder, days: days || '3',
    day: draft.day || null, operation: draft.operation, days_after: draft.daysAfter || '0',
  } // prettier-ignore
}
