import { describe, expect, it } from 'vitest'

import { airyScale, differenceScale } from '@/figures/axis'
import { toneOfCell } from '@/figures/verdicts'
import type { Cell } from '@/api/queries'
import rounded from '../../tests/numbers/rounded.json'

import { day, figure, found, plain, pValue, saidIn, shownIn, signed } from '@/texts/format'

describe('numbers as people read them', () => {
  it('has a real minus, no negative zero, and a plus for differences', () => {
    expect(figure(-3.14, 1)).toBe('−3.1')
    expect([found(264, -1), found(4.26, 1)]).toEqual(['264', '4.3'])
    expect(figure(-0.04, 1)).toBe('0.0')
    expect(signed(0.04, 1)).toBe('0.0')
    expect(signed(2, 1)).toBe('+2.0')
    expect(figure(null, 1)).toBe('–')
    expect(plain(2.5)).toBe('2.5')
  })
  it('are shown in the reader’s unit as the server shows them, which knows them again', () => {
    const feet = 3.280839895
    const metres = [3, 9.144, 3.048, 149.352, 0.125, 5000]
    expect(metres.map((one) => shownIn(feet, one))).toEqual(['9.843', '30', '10', '490', '0.4101', '16404'])
    expect([shownIn(1, 12.375), shownIn(1, 0.560425), saidIn(feet, 150), saidIn(1, 12.25)]).toEqual([
      '12.375',
      '0.560425',
      '492',
      '12.25',
    ])
  })
  it('gives p as many digits as it needs', () => {
    expect([pValue(0.00004), pValue(0.0123), pValue(0.456), pValue(null)]).toEqual([
      'p < 0.001',
      'p = 0.012',
      'p = 0.46',
      '–',
    ])
  })
  it('rounds as the core does', () => {
    for (const one of rounded) expect(figure(one.value, one.decimals)).toBe(one.text)
  })
  it('writes dates with the month in words', () => expect(day('2026-10-06')).toBe('6 Oct 2026'))
})

describe('scales', () => {
  it('holds every interval, zero and the margin of a measure', () => {
    const scale = differenceScale(
      [
        { lower: 3, upper: 5 },
        { lower: null, upper: null },
      ],
      { low: -2, high: 2 },
      100,
    )
    for (const value of [-2, 0, 2, 3, 5]) {
      expect(scale(value)).toBeGreaterThan(1)
      expect(scale(value)).toBeLessThan(99)
    }
    expect(scale(0) - scale(-2)).toBeCloseTo(scale(2) - scale(0))
  })
  it('survives values that are all the same', () => {
    const scale = airyScale([7, 7, null], [100, 0])
    expect(scale.at(7)).toBeCloseTo(50)
  })
})

describe('the colour of a cell', () => {
  const cell = (verdict: Cell['verdict'], estimate: number) => ({ verdict, estimate }) as Cell
  it('shows a real difference of the unwanted kind as a loss', () => {
    expect(toneOfCell(cell('real-size-unsettled', 3), 'higher')).toBe('gain')
    expect(toneOfCell(cell('real-size-unsettled', -3), 'higher')).toBe('loss')
    expect(toneOfCell(cell('real-size-unsettled', -3), 'lower')).toBe('gain')
    expect(toneOfCell(cell('real-size-unsettled', 3), 'none')).toBe('neutral')
    expect(toneOfCell(cell('not-settled', 3), 'higher')).toBe('unsettled')
  })
})
