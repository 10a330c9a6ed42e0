import { readFileSync } from 'node:fs'

import type { DeviceRules, Expected, Rules } from '@/rules/checking'

export type Answer = {
  typed: Record<string, string>
  state: string
  message?: string
  value?: number
  derived?: object
}
/** The core’s rules, and entries with what it says of them (`tests/rules/vectors.py`). */
export const { rules, measures: vectors } = JSON.parse(
  readFileSync('../tests/rules/entries.json', 'utf-8'),
) as {
  rules: Rules
  measures: { measure: DeviceRules; expected: Expected | null; entries: Answer[] }[]
}
export const sheetOf = (key: string) => rules.sheets.find((one) => one.key === key)!
export const rulesOf = (sheet: string): DeviceRules => ({
  ...vectors.find(({ measure }) => measure.sheet === sheet)!.measure,
  hash: rules.hash,
})
