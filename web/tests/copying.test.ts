import { flushPromises } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'

import type { Site, Trial } from '@/api/queries'
import CopyTrial from '@/stations/ask/CopyTrial.vue'
import { emptyDraft, emptySite, takeTemplate } from '@/stations/ask/draft'
import GroundHistory from '@/stations/ask/GroundHistory.vue'

import { show } from './mounting'
import { trial } from './samples'
import { answers, sent } from './server'
import { openStation } from './station'

const COPY = 'POST /api/v1/trials/t/copy'
const LEFT = 'GET /api/v1/trials/t/carry-over'
const left = {
  read: true,
  differ: ['Biomass: Vetch had 1.2 t/ha more than Bare (0.8 to 1.6).'],
  open: ['Weeds'],
  even: [],
}

async function open(changes: Partial<Trial> = {}) {
  answers[COPY] = [201, trial]
  const { page, router } = await openStation(CopyTrial, { trial: { ...trial, ...changes } }, '/ask/t')
  const layout = () => page.findComponent({ name: 'VSelect' })
  const take = async (value: string) => {
    layout().vm.$emit('update:modelValue', value)
    await flushPromises()
  }
  const copy = async () => {
    await page.find('form').trigger('submit')
    await flushPromises()
    return sent.filter((one) => one.url.endsWith('/copy')).at(-1)?.body as Record<string, unknown>
  }
  const type = async (label: string, text: string) => {
    const field = page
      .findAllComponents({ name: 'VTextField' })
      .find((f) => f.props('label') === `${label} (required)`)!
    await field.find('input').setValue(text)
  }
  return { page, router, layout, take, copy, type }
}

describe('a trial for the year after', () => {
  it('is copied without its plots under one id however often it is sent, and opened at Ask', async () => {
    const { router, copy } = await open()
    const first = await copy()
    expect(first).toMatchObject({ name: 'Covers, again', layout: 'none', factor: null })
    expect((await copy()).id).toBe(first.id)
    expect(router.currentRoute.value.fullPath).toBe(`/ask/${first.id as string}`)
  })
  it('can keep a layout only where there are plots', async () => {
    const shut = async (plots: Trial['plots']) =>
      ((await open({ plots })).layout().props('items') as { props: { disabled: boolean } }[]).map(
        (one) => one.props.disabled,
      )
    expect(await shut(trial.plots)).toEqual([false, false, false, false])
    expect(await shut([])).toEqual([false, true, true, true])
  })
  it('goes on on the same plots only after what was left there is told', async () => {
    answers[LEFT] = [200, left]
    const { page, take } = await open()
    expect(sent.some((one) => one.url.endsWith('/carry-over'))).toBe(false)
    await take('same-plots')
    const said = page.find('.left').text()
    expect(said).toContain('Biomass: Vetch had 1.2 t/ha more than Bare')
    expect(said).toContain('Not settled, so plots may differ: Weeds.')
    await take('copied')
    expect(page.find('.left').exists()).toBe(false)
  })
  it('says so where nobody has read the trial', async () => {
    answers[LEFT] = [200, { read: false, differ: [], open: [], even: [] }]
    const { page, take } = await open()
    await take('crossed')
    expect(page.find('.left').text()).toContain('Nobody has opened the results of this trial')
  })
  it('is crossed with a new factor and its levels, and says what is wrong with them', async () => {
    answers[LEFT] = [200, left]
    const { page, take, type, copy } = await open()
    await take('crossed')
    await type('New factor', 'nitrogen')
    await type('Levels, separated by commas', '0 kg N; 50 kg N')
    expect((await copy()).factor).toMatchObject({ name: 'nitrogen', levels: ['0 kg N', '50 kg N'] })
    answers[COPY] = [422, { code: 'bad-design', detail: 'A new factor needs at least two levels.' }]
    await copy()
    expect(page.find('.problem').text()).toContain('at least two levels')
  })
})

describe('what the ground has seen', () => {
  async function history(changes: Partial<Site> = {}, earlier: string[] = []) {
    const site = ref<Site>({ ...emptySite(), ...changes })
    const Frame = defineComponent(() => () => h(GroundHistory, { modelValue: site.value, earlier }))
    const page = show(Frame, {})
    await flushPromises()
    const press = (text: string) =>
      page
        .findAll('button')
        .find((b) => b.text() === text)!
        .trigger('click')
    return { page, site, press }
  }
  it('takes years with crop, cover and tillage, and takes them away', async () => {
    const { page, site, press } = await history()
    expect(page.find('details').attributes('open')).toBeUndefined()
    await press('Add year')
    await press('Add year')
    const fields = page.findAll('.year input')
    await fields[1]!.setValue('malting barley')
    await fields[4]!.setValue('2024')
    expect(site.value.grown!.map((one) => [one.year, one.crop])).toEqual([
      ['', 'malting barley'],
      ['2024', ''],
    ])
    await press('Remove')
    expect(site.value.grown!.map((one) => one.year)).toEqual(['2024'])
  })
  it('asks what earlier trials on the ground have left, and is open where something is known', async () => {
    const label = 'Possible carry-over and its treatment'
    const asks = async (changes: Partial<Site>, earlier: string[]) => {
      const { page } = await history(changes, earlier)
      return [
        page.find('details').attributes('open') !== undefined,
        page.findAllComponents({ name: 'VTextField' }).some((f) => f.props('label') === label),
      ]
    }
    expect(await asks({}, ['Covers 2024'])).toEqual([true, true])
    expect(await asks({ weeds: 'blackgrass, resists' }, [])).toEqual([true, false])
    expect(await asks({}, [])).toEqual([false, false])
  })
})

describe('a common trial', () => {
  it('fills in factors, treatments and measures, and leaves the name, the site and the dates', () => {
    const draft = { ...emptyDraft(), name: 'Mine', starts: '2026-08-20' }
    const template = {
      key: 'k', name: 'Kill timing', what: '', question: 'When?', measures: ['weeds'],
      factors: [{ name: 'kill', levels: ['early', 'late'], whole_strips: true, kind: 'kill_timing' as const, control: '' }],
      removed: [{ levels: { kill: 'late' }, why: 'frost' }],
      treatments: [{ name: 'No cover', is_control: true, levels: {} }],
    } // prettier-ignore
    const filled = takeTemplate(draft, template, { measures: [], sheets: [] } as never)
    expect([filled.name, filled.question, filled.starts]).toEqual(['Mine', 'When?', '2026-08-20'])
    expect(filled.factors[0]).toMatchObject({
      levels: 'early, late',
      whole_strips: true,
      kind: 'kill_timing',
    })
    expect(filled.treatments[0]).toMatchObject({
      name: 'No cover',
      is_control: true,
      details: { components: [] },
    })
    expect([filled.removed, filled.measures.length]).toEqual([template.removed, 1])
  })
})
