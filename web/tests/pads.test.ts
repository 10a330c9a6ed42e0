import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, reactive } from 'vue'

import type { Plot, SheetMeasure, Trial, Visit } from '@/api/queries'
import { emptyCell, WHOLE, type Step } from '@/offline/cells'
import { squaresIn, squaresSaid } from '@/rules/squares'
import DrawnArea from '@/stations/walk/plot/DrawnArea.vue'
import { failedGround } from '@/stations/walk/plot/failedGround'
import ReadingsPad from '@/stations/walk/plot/ReadingsPad.vue'
import StopWatch from '@/stations/walk/plot/StopWatch.vue'
import type { Sheet } from '@/stations/walk/useSheet'

import { show } from './mounting'
import { rulesOf } from './rules'
import { trial } from './samples'

const step: Step = { unit: 'p', measure: 'm', zone: '', sample: 1, field: 'first', ...WHOLE }
/** A sheet with one entry, of which only the typed text matters. */
function sheetWith(field: string, text = '') {
  const cell = reactive(emptyCell(step))
  cell.fields[field] = text
  const finish = vi.fn()
  const sheet = {
    cell: () => cell,
    type: (_: Step, typed: string) => ((cell.fields[field] = typed), (cell.status = 'draft')),
    finish,
  }
  return { sheet: sheet as unknown as Sheet, text: () => cell.fields[field], finish }
}

describe('several readings in one field', () => {
  const depths = { first: 5, step: 5, unit: 'cm', limit: 2 }
  const field = (own: object = {}) => ({
    key: 'first', name: 'First profile', unit: 'MPa', kind: 'readings' as const, optional: false, choices: [],
    timed: false, depths: null, ...own,
  }) // prettier-ignore
  function open(own: object = {}, text = '') {
    const { sheet, ...rest } = sheetWith('first', text)
    const page = show(ReadingsPad, { step, sheet, label: 'Plot 101', disabled: false, field: field(own) })
    const type = async (one: string) => {
      await page.find('input').setValue(one)
      await page.find('.tap').trigger('click')
    }
    return { page, type, ...rest }
  }
  it('are typed one after the other, each said with its depth, and drawn against the limit', async () => {
    const { page, type, text } = open({ depths })
    expect(page.find('input').attributes('aria-label')).toBe('Plot 101, 5 cm')
    for (const one of ['0,8', '1.4', '2.3']) await type(one)
    expect(text()).toBe('0,8; 1.4; 2.3')
    expect(page.findAll('.reading').map((one) => one.text())).toEqual(['5 cm 0,8', '10 cm 1.4', '15 cm 2.3'])
    expect(page.find('input').attributes('aria-label')).toBe('Plot 101, 20 cm')
    expect(page.findAll('circle').map((one) => one.classes('above'))).toEqual([false, false, true])
    expect(page.find('svg').text()).toContain('limit 2 MPa')
  })
  it('are changed where they stand, and a list that was typed in one go is taken apart', async () => {
    const { page, type, text } = open({}, '31 28 33')
    await page.findAll('.reading')[1]!.trigger('click')
    expect(page.find('input').element.value).toBe('28')
    await type('29')
    expect(text()).toBe('31; 29; 33')
    // key by key, as a backspace empties it: what follows doesn’t slip into the field
    await page.findAll('.reading')[0]!.trigger('click')
    for (const one of ['3', '', '4', '40']) await page.find('input').setValue(one)
    expect(text()).toBe('40; 29; 33')
    await page.find('input').setValue('')
    await page.findAll('.reading')[1]!.trigger('click') // gone on from an emptied one: it is removed
    expect(text()).toBe('29; 33')
    expect(page.find('input').element.value).toBe('33')
    await type('35 36')
    expect(text()).toBe('29; 35; 36')
  })
  it('keep a unit that is typed along', async () => {
    const { page, type, text } = open({}, '12 cm; 31 cm')
    await page.findAll('.reading')[0]!.trigger('click')
    for (const one of ['12 c', '13 cm']) await type(one)
    expect(text()).toBe('12 c; 13 cm')
  })
  it('go on to the next with Enter, which leaves the field only where nothing is typed', async () => {
    const { page, text } = open()
    await page.find('input').setValue('7')
    await page.find('input').trigger('keydown', { key: 'Enter' })
    expect(page.emitted('key')).toBeUndefined()
    expect(page.find('input').element.value).toBe('')
    await page.find('input').trigger('keydown', { key: 'Enter' })
    expect(page.emitted('key')).toHaveLength(1)
    expect(text()).toBe('7')
  })
})

describe('an area drawn on a plot', () => {
  const plot = { ...trial.plots[0]!, x: 10, y: 20, width: 3, length: 12 } as Plot
  const measure = {
    id: 'm',
    rules: { ...rulesOf('failed-area'), settings: { across: 3, along: 4 } },
  } as unknown as SheetMeasure
  async function open(text = '') {
    const props = {
      trial: trial as unknown as Trial,
      plot,
      measure,
      corner: 'the south-west corner',
      text,
      disabled: false,
    }
    const page = show(DrawnArea, props)
    const picture = page.find('svg')
    picture.element.getBoundingClientRect = () => ({ left: 0, top: 0, width: 30, height: 40 }) as DOMRect
    const now = () => (page.emitted('drawn') ?? []).at(-1)?.[0] as string
    const at = async (kind: string, x: number, y: number) => {
      await picture.trigger(kind, { clientX: x, clientY: y, pointerId: 1 })
      if (now() !== undefined) await page.setProps({ text: now() })
    }
    return { page, at, now }
  }
  it('is marked by a stroke, counted from the corner, and cleared by a stroke that begins in it', async () => {
    const { page, at, now } = await open()
    expect(page.text()).toContain('A square is 1 m × 3 m. The dot is the south-west corner.')
    await at('pointerdown', 5, 35) // lower left
    await at('pointermove', 15, 35)
    await at('pointermove', 15, 25)
    await at('pointerup', 15, 25)
    await at('pointermove', 25, 5) // no finger on the picture
    expect(now()).toBe('1 2 5')
    expect(page.text()).toContain('3 of 12 squares failed: 25 %')
    await at('pointerdown', 15, 35)
    await at('pointermove', 25, 35) // wasn’t marked
    await at('pointerup', 25, 35)
    expect(now()).toBe('1 5')
  })
  it('is said to be none, which is a value, or drawn again', async () => {
    const { page, now } = await open('3-5')
    const press = (said: string) =>
      page
        .findAll('button')
        .find((b) => b.text() === said)!
        .trigger('click')
    await press('Enter no failed area')
    expect(now()).toBe('0')
    await press('Draw again')
    expect(now()).toBe('')
    expect(page.emitted('left')).toBeUndefined()
    page.unmount()
    expect(page.emitted('left')).toHaveLength(1)
  })
  it('says no size of its squares where nobody has measured the plots', async () => {
    const { page } = await open()
    await page.setProps({ trial: { ...trial, schematic: true } as unknown as Trial })
    expect(page.text()).not.toContain('A square is')
    expect(page.text()).toContain('The dot is the south-west corner.')
  })
  it('lies on the map where it was drawn', () => {
    const { sheet } = sheetWith('squares', '1 6')
    const visit = {
      order: [plot.id], zones: {},
      measures: [{ ...measure, samples: 1, samples_due: 1, sample_name: 'frame', part_kind: '', parts: [], zones: [], fields: [{ key: 'squares', kind: 'squares' }] }],
    } as unknown as Visit // prettier-ignore
    expect(failedGround([plot], visit, sheet)).toEqual([
      [10, 20, 1, 3],
      [12, 23, 1, 3],
    ])
  })
  it('is kept in few letters, and what isn’t a square is left to the server', () => {
    expect(squaresSaid([14, 3, 4, 5, 9, 8])).toBe('3-5 8 9 14')
    expect(squaresIn('3-5 8 9 14', 50)).toEqual([3, 4, 5, 8, 9, 14])
    expect([squaresIn('9-3', 50), squaresIn('51', 50), squaresIn('some', 50)]).toEqual([null, null, null])
  })
})

describe('a stop watch', () => {
  beforeEach(() => localStorage.clear())
  const press = (page: ReturnType<typeof show>) => page.find('button').trigger('click')
  it('says when the time that one watches for is over, also after the page was closed', async () => {
    vi.useFakeTimers({ now: 1_000 })
    const props = { place: 'here', disabled: false, limit: 300 }
    const first = show(StopWatch, props)
    expect(first.text()).toBe('Start watching for 5 min')
    await press(first)
    first.unmount()
    vi.setSystemTime(291_000)
    const again = show(StopWatch, props)
    expect(again.find('output').text()).toBe('0:10')
    vi.advanceTimersByTime(10_000)
    await nextTick()
    expect(again.text()).toContain('Time is up.')
    await press(again)
    expect(again.text()).toBe('Start watching for 5 min')
    vi.useRealTimers()
  })
})
