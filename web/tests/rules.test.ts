import { describe, expect, it } from 'vitest'

import { checkEntry } from '@/rules/checking'
import { standingSaid } from '@/rules/standing'

import { rules, stands, vectors } from './rules'

describe('the rules on a device', () => {
  it.each(
    vectors.map((one) => [`${one.measure.sheet} in ${one.measure.shown.unit || 'no unit'}`, one] as const),
  )('answer as the server does, or leave it to the server: %s', async (_, { measure, expected, entries }) => {
    let answered = 0
    for (const { typed, ...wanted } of entries) {
      const found = await checkEntry(rules, measure, typed, expected ?? undefined)
      if (found.state === 'unknown') continue
      answered += 1
      expect({ typed, ...found }).toEqual({
        typed,
        ...wanted,
        ...('value' in found &&
          found.value !== null && { value: expect.closeTo(wanted.value!, 9) as number }),
      })
    }
    expect(answered).toBeGreaterThanOrEqual(Math.ceil(0.6 * entries.length))
  })
  it('leave what isn’t plainly a number to the server', async () => {
    const { measure } = vectors.find((one) => one.measure.sheet === 'figure')!
    for (const text of ['7 in', '1 200', '1e3', 'soon', '1,234.5'])
      expect(await checkEntry(rules, measure, { value: text })).toEqual({ state: 'unknown' })
    expect(await checkEntry(rules, { ...measure, made: null }, { value: '5' })).toEqual({ state: 'unknown' })
    expect(await checkEntry(rules, { ...measure, sheet: 'not-known' }, { value: '5' })).toEqual({
      state: 'unknown',
    })
  })
})

describe('what counts come to, on a device', () => {
  it.each(stands.map((one) => [one.said || 'nothing', one] as const))('says: %s', async (_, one) => {
    expect(await standingSaid(rules, one.rule, one.given, one.units, one.each)).toBe(one.said)
  })
})
