import type { Shapes } from '@/api/client'

import { text } from './described'

type Shape = Shapes['OwnMeasureShape']
export type OwnKind = Shape['kind']
export type OwnFieldKind = Shapes['OwnFieldKindEnum']

/** A measure of one’s own while it is being typed: numbers are text until they are sent. */
export interface OwnFieldDraft {
  name: string
  kind: OwnFieldKind
  unit: string
  least: string
  most: string
  grades: string
  optional: boolean
}
export interface OwnNumberDraft {
  name: string
  value: string
  unit: string
}
export interface OwnDraft {
  kind: OwnKind
  fields: OwnFieldDraft[]
  numbers: OwnNumberDraft[]
  formula: string
  parts: Shape['parts']
  samples: string
  usual_from: string
  usual_to: string
  possible_from: string
  possible_to: string
  over_visits: Shape['over_visits']
  zero_when_failed: boolean
}

export const emptyOwnField = (): OwnFieldDraft => ({
  name: '', kind: 'number', unit: '', least: '0', most: '', grades: '', optional: false,
}) // prettier-ignore

export const emptyOwn = (): OwnDraft => ({
  kind: 'continuous', fields: [emptyOwnField()], numbers: [], formula: '', parts: '', samples: '1', usual_from: '',
  usual_to: '', possible_from: '', possible_to: '', over_visits: 'last', zero_when_failed: false,
}) // prettier-ignore

export function ownDraftOf(own: Shape): OwnDraft {
  return {
    kind: own.kind,
    fields: own.fields.map((one) => ({ ...one, least: text(one.least), most: text(one.most) })),
    numbers: (own.numbers ?? []).map((one) => ({ name: one.name, value: text(one.value), unit: one.unit })),
    formula: own.formula,
    parts: own.parts,
    samples: text(own.samples),
    usual_from: text(own.usual_from),
    usual_to: text(own.usual_to),
    possible_from: text(own.possible_from),
    possible_to: text(own.possible_to),
    over_visits: own.over_visits,
    zero_when_failed: own.zero_when_failed,
  }
}

/** As it is sent: rows that nobody has written anything into are left out, so that places in it count the others. */
export function ownOf(draft: OwnDraft): Shapes['OwnMeasureShapeRequest'] {
  return { ...draft, fields: draft.fields.filter(begunField), numbers: draft.numbers.filter(begunNumber) }
}
const begunField = (one: OwnFieldDraft) => Boolean(one.name.trim() || one.grades.trim())
const begunNumber = (one: OwnNumberDraft) => Boolean(one.name.trim() || one.value.trim())

/** What is wrong, by the place in the draft: `fields.0.name`; `places`: as the server counts rows. */
export function ownFaults(
  draft: OwnDraft,
  places: { where: string; what: string }[],
): Record<string, string> {
  const rows = {
    fields: draft.fields.flatMap((one, i) => (begunField(one) ? [i] : [])),
    numbers: draft.numbers.flatMap((one, i) => (begunNumber(one) ? [i] : [])),
  }
  return Object.fromEntries(
    places.map(({ where, what }) => {
      const [list, at, ...rest] = where.split('.')
      const known = rows[list as keyof typeof rows]
      return [known && at ? [list, known[Number(at)] ?? at, ...rest].join('.') : where, what]
    }),
  )
}
