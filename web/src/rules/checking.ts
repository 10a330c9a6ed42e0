import type { Shapes } from '@/api/client'
import { threeDigits } from '@/texts/format'

import { numberOf, truthOf, type Given } from './expressions'
import { squaresIn } from './squares'

export type Rules = Shapes['RulesOut']
export type DeviceRules = Shapes['DeviceRulesOut']
/** Between which values nothing is asked, by what stands beside. */
export type Expected = Pick<Shapes['ExpectedOut'], 'which' | 'low' | 'high' | 'seen'>
type SheetField = Shapes['SheetField']

/**
 * What the rules say of an entry; `unknown`: only the server can say. Values are in the measure’s stored unit. `bound`:
 * there is no value, for it lies beyond what was measured, and this is the end that is known of it.
 */
export type Checked =
  | { state: 'fine'; value: number | null; bound?: number; derived: Record<string, number> }
  | { state: 'question'; value: number; derived: Record<string, number>; message: string }
  | { state: 'refused'; message: string }
  | { state: 'unknown' }

const UNKNOWN: Checked = { state: 'unknown' }
class Refusal extends Error {}
class NotHere extends Error {}

/**
 * Checks an entry by the rules that the server sent as data. Nothing of the job is decided here: fields, limits,
 * formulas, ranges and messages stand in the bundle.
 */
export async function checkEntry(
  rules: Rules,
  measure: DeviceRules,
  typed: Record<string, string>,
  expected?: Expected,
): Promise<Checked> {
  const sheet = measure.own ?? rules.sheets.find((one) => one.key === measure.sheet)
  if (!sheet || measure.made === null) return UNKNOWN
  const { messages } = rules
  try {
    const given: Given = { ...measure.settings }
    for (const field of sheet.fields) {
      if (field.optional && !(typed[field.key] ?? '').trim()) continue
      given[field.key] = read(rules, field, measure.fields[field.key]!, typed[field.key] ?? '')
    }
    for (const check of sheet.checks)
      if (await truthOf(check.wrong, given)) throw new Refusal(filled(check.say, given))
    const beyond = sheet.beyond && (await truthOf(sheet.beyond.when, given)) ? sheet.beyond : null
    const made = await numberOf(beyond ? beyond.bound : sheet.formula, given)
    if (made === null) throw new Refusal(messages.no_value)
    const value = made * measure.made
    const said = (which: string, [low, high]: number[]) =>
      filled(messages[which]!, {
        said: shown(value, measure.shown),
        low: threeDigits(low! * measure.shown.factor),
        high: shown(high!, measure.shown),
      })
    const outside = (ends: number[] | null) => !!ends && !(ends[0]! <= value && value <= ends[1]!)
    if (outside(measure.possible)) throw new Refusal(said('possible', measure.possible!))
    if (beyond) return { state: 'fine', value: null, bound: value, derived: {} }
    const derived: Record<string, number> = {}
    for (const one of sheet.derived) {
      const found = await numberOf(one.formula, given)
      if (found !== null) derived[one.key] = found
    }
    const question = (message: string): Checked => ({ state: 'question', value, derived, message })
    if (outside(measure.plausible)) return question(said('plausible', measure.plausible!))
    if (expected && outside([expected.low, expected.high]))
      return question(said(expected.which, [...expected.seen]))
    return { state: 'fine', value, derived }
  } catch (thrown) {
    if (thrown instanceof Refusal) return { state: 'refused', message: thrown.message }
    if (thrown instanceof NotHere) return UNKNOWN
    throw thrown
  }
}

function read(rules: Rules, field: SheetField, unit: Shapes['ShownUnit'], text: string): Given[string] {
  const { messages } = rules
  if (!text.trim()) throw new Refusal(filled(messages.empty!, { field: field.name }))
  if (field.kind === 'text') return text.trim()
  if (field.kind === 'choice') {
    const typed = text.trim().toLowerCase()
    const begun = field.choices.filter((one) => one.toLowerCase().startsWith(`${typed} `))
    const chosen =
      field.choices.find((one) => one.toLowerCase() === typed) ?? (begun.length === 1 ? begun[0] : undefined)
    if (!chosen) throw new NotHere()
    return chosen
  }
  if (field.kind === 'moment') throw new NotHere()
  if (field.kind === 'readings')
    return text
      .split(text.includes(';') ? ';' : /\s+/)
      .map((one) => one.trim())
      .filter(Boolean)
      .map((one) => number(rules, field, unit, one))
  if (field.kind === 'squares') {
    const found = squaresIn(text, field.most ?? 0)
    if (!found) throw new NotHere()
    return found
  }
  return number(rules, field, unit, text.trim())
}

function number(rules: Rules, field: SheetField, unit: Shapes['ShownUnit'], text: string): number {
  if (!new RegExp(rules.number).test(text)) throw new NotHere()
  const value = Number(text.replace(',', '.').replace('−', '-')) / unit.factor
  const said = `${field.name}: ${shown(value, unit)}`
  const refuse = (which: string, end = 0) => {
    throw new Refusal(filled(rules.messages[which]!, { said, end: end * unit.factor }))
  }
  if (field.kind === 'whole' && !Number.isInteger(value)) refuse('whole')
  if (field.least !== null && field.above && value <= field.least) refuse('above', field.least)
  if (field.least !== null && value < field.least) refuse('least', field.least)
  if (field.most !== null && value > field.most) refuse('most', field.most)
  return value
}

const shown = (value: number, { unit, factor }: Shapes['ShownUnit']) =>
  `${threeDigits(value * factor)} ${unit}`.trim()

/** A message with the values that its braces name. */
export const filled = (message: string, given: Given) =>
  message.replace(/\{(\w+)\}/g, (_, key: string) => {
    const value = given[key]
    return typeof value === 'number' ? threeDigits(value) : String(value)
  })
