import { describe, expect, it } from 'vitest'

import {
  askOf,
  emptyDraft,
  emptyTreatment,
  faultsOf,
  measureFrom,
  measureFromOwn,
} from '@/stations/ask/draft'
import { emptyOwn, emptyOwnField, ownDraftOf, ownFaults, ownOf } from '@/stations/ask/own'

const catalogue = { measures: [], sheets: [{ key: 'figure', settings: [] }] } as never
const kept = {
  kind: 'continuous', formula: 'Mass / Area', parts: '', samples: 2, over_visits: 'last', zero_when_failed: true,
  fields: [{ name: 'Mass', kind: 'number', unit: 'g', least: '0', most: null, grades: '', optional: false }],
  numbers: [{ name: 'Area', value: '0.5', unit: 'm²' }],
  usual_from: '1', usual_to: '9', possible_from: null, possible_to: null,
} as const // prettier-ignore

describe('a measure of one’s own', () => {
  it('is taken from another trial with all that it is made of', () => {
    const own = ownDraftOf(kept as never)
    expect(own).toMatchObject({ samples: '2', usual_to: '9', possible_to: '', zero_when_failed: true })
    const m = measureFromOwn(catalogue, { name: 'Ears', unit: 'g/m²', own: kept as never })
    expect(m).toMatchObject({ name: 'Ears', shown_unit: 'g/m²', sheet: 'own', direction: '', own })
    const draft = { ...emptyDraft(), treatments: [{ ...emptyTreatment(true), name: 'Bare' }], measures: [m] }
    expect(askOf(draft, 'w').measures[0]!.own).toEqual(ownOf(own))
    const other = { ...draft, measures: [{ ...m, sheet: 'figure' }] }
    expect(askOf(other, 'w').measures[0]!.own).toBeNull()
  })

  it('sends no empty rows and still shows what is wrong at the row where it stands', () => {
    const mass = { ...emptyOwnField(), name: 'Mass' }
    const own = { ...emptyOwn(), fields: [emptyOwnField(), mass, { ...emptyOwnField(), name: 'Area' }] }
    expect(ownOf(own).fields.map((one) => one.name)).toEqual(['Mass', 'Area'])
    expect(ownFaults(own, [{ where: 'fields.1.name', what: 'twice' }])).toEqual({ 'fields.2.name': 'twice' })
    const unnamed = measureFrom(catalogue, '')
    const draft = { ...emptyDraft(), measures: [unnamed, { ...unnamed, name: 'Ears', sheet: 'own', own }] }
    const places = [{ where: 'measures.0.own.fields.1.name', what: 'twice' }]
    expect(faultsOf(draft, places)).toEqual({ 'measures.1.own.fields.1.name': 'twice' })
  })
})
