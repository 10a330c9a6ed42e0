import { threeDigits } from '@/texts/format'

import { filled, type Rules } from './checking'
import { namedIn, type Given } from './expressions'

/** What is known beside the counts; what isn’t known is left out. */
export type Beside = Record<string, number | number[] | boolean | null>
/** How values of a unit are shown: its name, and the factor from the stored unit. */
export type Units = Record<string, { unit: string; factor: number }>

/**
 * The sentence that the rules make of counts; empty where they have nothing to say. `rule`: which of them; `units`: how
 * the values that it names are shown; `each`: what one count is of.
 */
export async function standingSaid(
  { standing }: Rules,
  rule: 'threshold' | 'sown',
  beside: Beside,
  units: Units,
  each: string,
): Promise<string> {
  const known = Object.entries(beside).filter(([, value]) => value !== null)
  const given = { ...standing.given, ...Object.fromEntries(known) } as Given
  const found = await namedIn(standing[rule], given)
  const messages = [found.say, found.also].flatMap((key) => standing.messages[String(key)] ?? [])
  const texts: Record<string, string> = { each }
  for (const [name, value] of named(found.plain)) texts[name] = threeDigits(value)
  for (const [key, { unit, factor }] of Object.entries(units))
    for (const [name, value] of named(found[key]))
      texts[name] = `${threeDigits(value * factor)} ${unit}`.trim()
  return filled(messages.join(' '), texts)
}
const named = (values: unknown) => Object.entries((values ?? {}) as Record<string, number>)
