import { readFileSync } from 'node:fs'

import type { DeviceRules, Expected, Rules } from '@/rules/checking'
import type { Beside, Units } from '@/rules/standing'

export type Answer = {
  typed: Record<string, string>
  state: string
  message?: string
  value?: number
  derived?: object
}
/** The core’s rules, and entries with what it says of them (`tests/rules/vectors.py`). */
export const {
  rules,
  measures: vectors,
  standing: stands,
} = JSON.parse(readFileSync('../tests/rules/entries.json', 'utf-8')) as {
  rules: Rules
  measures: { measure: DeviceRules; expected: Expected | null; entries: Answer[] }[]
  standing: { rule: 'threshold' | 'sown'; given: Beside; units: Units; each: string; said: string }[]
}
export const sheetOf = (key: string) => rules.sheets.find((one) => one.key === key)!
export const rulesOf = (sheet: string): DeviceRules => ({
  ...vectors.find(({ measure }) => measure.sheet === sheet)!.measure,
  hash: rules.hash,
})
