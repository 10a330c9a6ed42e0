/** Sow in the browser: what is typed is kept and sent once, labels say what is missing, a wrong bag is shouted. */
import { flushPromises } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import type { Sow } from '@/api/sow'
import { draftOf, fits, planOf } from '@/stations/sow/draft'
import PackingList from '@/stations/sow/PackingList.vue'
import SeedForm from '@/stations/sow/SeedForm.vue'
import SpreaderPicture from '@/stations/sow/SpreaderPicture.vue'

import { trial } from './samples'
import { answers, sent } from './server'
import { openStation } from './station'
import { show } from './mounting'

const lot = {
  key: 'oat', name: 'Oat', cultivar: 'Sallow', lot: 'HF 1', assumed: { tkw_g: 'middle of the species guide' }, asked: ['germination_percent'], asks: {},
  used: { tkw_g: 20 },
  typed: { key: 'oat', purity_percent: 98, germination_percent: null, count_hard_seed: false, coat_counted: false },
} // prettier-ignore
const part = {
  lot: 'oat', way: 'kg_ha', value: 72, here: false, bulk: 72, live: null, seeds: 320, live_seeds: null, plants: null, per_row: 40, missing: ['germination'], assumed: [], total: 0.9,
} // prettier-ignore
const stop = (plot: string, treatment: string) => ({
  plot, treatment, clean: plot === '102', upwards: true, packed: false, placed: false, repack: false, total: 216,
}) // prettier-ignore
const sow = {
  etag: 'one', today: '2026-09-03', scaled: true, ways: [{ key: 'kg_ha', said: 'kg/ha' }, { key: 'plants_m2', said: 'plants/m² wanted' }],
  units: { seed: 'g', order: 'kg', rate: 'kg/ha', per_area: 'm²', row: 'm', area: 'ha', length: 'm', spacing: 'cm', volume: 'L', volume_rate: 'L/ha' },
  row_spacing: 12.5, allowance: 30, spare_percent: 10, filling: 'by_treatment', currency: '', lots: [lot], order: [], bare: [],
  treatments: [{ id: 'oat', name: 'Oat', code: 'OA', parts: [part], plots: [], warnings: ['Stir it.'], intended: 72 }],
  area: { gross: 0.1, sown: 0.1, fraction: 1, strips: {}, unplaced: false }, stops: [stop('101', 'oat'), stop('102', 'bare')], way: [], tests: [], checks: [], ahead: [], decisions: [], sowings: [],
} as unknown as Sow // prettier-ignore

describe('the page of seed', () => {
  it('leaves rates that Ask says to Ask, and sends what was typed', () => {
    const draft = draftOf(sow)
    expect(planOf(draft).rates).toEqual([])
    draft.rates[0]!.value = '130'
    draft.rates[0]!.way = 'plants_m2'
    draft.rates[0]!.here = true
    draft.lots[0]!.germination_percent = '9O'
    expect(planOf(draft)).toMatchObject({
      rates: [{ treatment: 'oat', lot: 'oat', way: 'plants_m2', value: '130' }],
      lots: [{ key: 'oat', purity_percent: '98', germination_percent: '9O' }],
      allowance_g: '30',
    })
  })
  it('doesn’t bring a kept draft back onto other lots', () => {
    expect(fits(draftOf(sow), sow)).toBe(true)
    expect(fits(draftOf(sow), { ...sow, lots: [{ ...lot, key: 'vetch' }] } as unknown as Sow)).toBe(false)
  })
  it('asks for what a rate needs, marks what is assumed, and keeps what was refused', async () => {
    const page = show(SeedForm, { trial, sow, mayRecord: true })
    await flushPromises()
    const text = page.text()
    expect(text).toContain('A rate needs this. Enter it from the label.')
    expect(text).toContain('assumed 20 g: middle of the species guide')
    expect(text).toContain('Germination is missing.')
    answers['PUT /api/v1/trials/t/sow'] = [
      422,
      {
        code: 'bad-value',
        detail: 'No.',
        errors: [{ where: 'lots.0.germination_percent', what: 'It is 104.' }],
      },
    ]
    await page.find('[data-where="lots.0.germination_percent"] input').setValue('104')
    await page.find('form').trigger('submit')
    await flushPromises()
    expect(page.text()).toContain('It is 104.')
    expect(page.find<HTMLInputElement>('[data-where="lots.0.germination_percent"] input').element.value).toBe(
      '104',
    )
    expect((sent.at(-1)!.body as { lots: object[] }).lots[0]).toMatchObject({ germination_percent: '104' })
  })
})

describe('packing', () => {
  const packing = async () => (await openStation(PackingList, { trial, sow, mayRecord: true })).page
  it('shouts a wrong bag, keeps its number, and names the plot that is next', async () => {
    const page = await packing()
    answers['PUT /api/v1/trials/t/sow/placed/101'] = [
      409,
      { code: 'wrong-bag', detail: 'STOP. Bag 102 holds BS.' },
    ]
    expect(page.find('.scan').text()).toContain('Bag for plot 101')
    await page.find('.scan input').setValue(' 102 ')
    await page.find('.scan').trigger('submit')
    await flushPromises()
    expect(sent.at(-1)!.body).toEqual({ bag: '102', placed: true })
    expect(page.find('.wrong').attributes('role')).toBe('alert')
    expect(page.find('.wrong').text()).toContain('STOP. Bag 102 holds BS.')
    expect(page.find('.right').exists()).toBe(false)
    await page.find('.scan input').setValue('101')
    expect(page.find('.wrong').exists()).toBe(false)
  })
  it('names the bags that hold something else than their plots need now', async () => {
    const stops = sow.stops.map((stop) => ({ ...stop, repack: stop.plot === '102' }))
    const { page } = await openStation(PackingList, { trial, sow: { ...sow, stops }, mayRecord: true })
    expect(page.find('.wrong').text()).toContain('Empty and pack again: 102.')
    expect(page.findAll('.stops li')[1]!.text()).toContain('pack again')
    expect(page.findAll('.stops li')[0]!.text()).not.toContain('pack again')
  })
  it('says where to clean, and ticks a bag', async () => {
    const page = await packing()
    expect(page.findAll('.clean')).toHaveLength(1)
    answers['PUT /api/v1/trials/t/sow/bags/101'] = [200, sow]
    await page.findAll('.stops input')[0]!.trigger('change')
    await flushPromises()
    expect(sent.at(-1)).toMatchObject({ method: 'PUT', body: { packed: true } })
  })
})

describe('a spreader’s picture', () => {
  it('moves the working width by keys, a tenth at a time', async () => {
    const widths = [{ width: 5, cv_percent: 4 }, { width: 12, cv_percent: 30 }] // prettier-ignore
    const pieces = [[0, 6, 2, 4], [6, 12, 4, 2]] // prettier-ignore
    const found = {
      positions: [-6, 0, 6], masses: [0, 4, 0], width: 8, cv_percent: 12, laps: { same_way: pieces, there_and_back: pieces },
      widths: { same_way: widths, there_and_back: widths },
    } // prettier-ignore
    const page = show(SpreaderPicture, { found, mode: 'same_way', width: 8, length: 'm', mass: 'g' })
    const slider = page.find('[role=slider]')
    expect(slider.attributes('aria-valuetext')).toBe('8 m')
    await slider.trigger('keydown', { key: 'ArrowRight' })
    expect(page.emitted('width')).toEqual([[8.1]])
  })
})
