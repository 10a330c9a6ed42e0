import { api } from '@/api/queries'

import type { Checked, DeviceRules, Expected, Rules } from './checking'
import type { Beside, Units } from './standing'

const KEPT = 'apercu-rules'
let standing: Promise<typeof import('./standing')> | undefined
let loaded: Promise<Rules | null> | undefined
let checking: Promise<typeof import('./checking')> | undefined

/** Brings the rules to this device while there is a network; without one the kept ones serve. */
export function bringRules(): Promise<Rules | null> {
  checking ??= import('./checking')
  checking.catch(() => (checking = undefined)) // the network went before it was here; the server will check
  loaded ??= api
    .rules()
    .then((rules) => {
      localStorage.setItem(KEPT, JSON.stringify(rules))
      return rules
    })
    .catch(() => {
      loaded = undefined
      return kept()
    })
  return loaded
}

function kept(): Rules | null {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? 'null') as Rules | null
  } catch {
    return null
  }
}

/** What the rules on this device say; `unknown` where it hasn’t those that the sheet was made with. */
export async function checkHere(
  measure: DeviceRules,
  typed: Record<string, string>,
  expected?: Expected,
): Promise<Checked> {
  const rules = await bringRules()
  const module = await checking?.catch(() => null)
  if (!rules || rules.hash !== measure.hash || !module) return { state: 'unknown' }
  return module.checkEntry(rules, measure, typed, expected)
}

/** What the rules say of counts (`standingSaid`); empty where this device hasn’t the rules. */
export async function standingHere(
  rule: 'threshold' | 'sown',
  beside: Beside,
  units: Units,
  each: string,
): Promise<string> {
  const rules = await bringRules()
  standing ??= import('./standing')
  const module = await standing.catch(() => (standing = undefined))
  return rules?.standing && module ? module.standingSaid(rules, rule, beside, units, each) : ''
}
