import jsonata from 'jsonata'

export type Given = Record<string, number | string | boolean | number[]>

/** The language has no logarithm; the server adds the same one. */
function made(text: string): jsonata.Expression {
  const expression = jsonata(text)
  expression.registerFunction('ln', Math.log, '<n:n>')
  return expression
}
const parsed = new Map<string, jsonata.Expression>()
async function evaluated(text: string, given: Given): Promise<unknown> {
  let expression = parsed.get(text)
  if (!expression) parsed.set(text, (expression = made(text)))
  return expression.evaluate(given).catch(() => null)
}

/** The number that a formula makes of named values; null where it makes none. */
export async function numberOf(formula: string, given: Given): Promise<number | null> {
  const found = await evaluated(formula, given)
  return typeof found === 'number' && Number.isFinite(found) ? found : null
}

/** The named values that a formula makes of others; none where it makes none. */
export async function namedIn(formula: string, given: Given): Promise<Record<string, unknown>> {
  return ((await evaluated(formula, given)) ?? {}) as Record<string, unknown>
}

export async function truthOf(condition: string, given: Given): Promise<boolean> {
  return (await evaluated(condition, given)) === true
}
