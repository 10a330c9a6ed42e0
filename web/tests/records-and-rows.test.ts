import { flushPromises } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'

import type { Guide, Species } from '@/api/queries'
import SpeciesRecord from '@/species/SpeciesRecord.vue'
import { emptyTreatment, type TreatmentDraft } from '@/stations/ask/draft'
import TreatmentRows from '@/stations/ask/TreatmentRows.vue'
import FieldFiles from '@/stations/plan/FieldFiles.vue'

import { show } from './mounting'
import { trial } from './samples'
import { answers, sent } from './server'
import { dialogText, openStation, sendDialog, typeInDialog } from './station'

const guide = {
  fields: [
    { key: 'common', label: 'Name', group: 'Plant', kind: 'text', unit: '', choices: [] },
    {
      key: 'drilled',
      label: 'Full rate drilled',
      group: 'Sowing',
      kind: 'range',
      unit: 'kg/ha',
      choices: [],
    },
    { key: 'weeds', label: 'Weed suppression', group: 'Services', kind: 'rating', unit: '', choices: [] },
  ],
} as unknown as Guide
const fact = (field: string, text: string, source: string) => ({
  field,
  text,
  source,
  cited: `${source} 2007`,
  lines: [text],
})
const rye = {
  key: 'rye', name: 'Cereal rye', own: false,
  facts: [fact('common', 'Cereal rye', 'botany'), fact('drilled', '67 to 135', 'clark')],
} as unknown as Species // prettier-ignore

describe('a species record', () => {
  async function open(species: Species | null, mayPlan = true) {
    const shown = ref(false)
    const Frame = defineComponent(
      () => () =>
        h(SpeciesRecord, {
          guide, species, mayPlan, workspace: 'w', modelValue: shown.value,
          'onUpdate:modelValue': (now: boolean) => (shown.value = now),
        }), // prettier-ignore
    )
    show(Frame, {})
    shown.value = true
    await flushPromises()
    const press = async (text: string) => {
      ;[...document.querySelectorAll<HTMLButtonElement>('.v-overlay button')]
        .find((b) => b.textContent!.includes(text))!
        .click()
      await flushPromises()
    }
    return { shown, press }
  }
  it('tells each figure with its unit and source, and what nobody knows', async () => {
    await open(rye)
    expect(dialogText()).toContain('67 to 135 kg/ha')
    expect(dialogText()).toContain('clark 2007')
    const ratings = [...document.querySelectorAll('.v-overlay dl div')].find((d) =>
      d.textContent!.includes('Weed'),
    )!
    expect(ratings.textContent).toMatch(/unknown/i)
  })
  it('becomes one’s own by changing it, with the source of the figure that was changed', async () => {
    answers['PUT /api/v1/workspaces/w/species/rye'] = [200, { ...rye, own: true }]
    const { shown, press } = await open(rye)
    await press('Edit a copy')
    await typeInDialog('Full rate drilled', '80 to 120')
    await sendDialog()
    const put = sent.find((one) => one.method === 'PUT')!.body as { cells: Record<string, string> }
    expect(put.cells).toMatchObject({ common: 'Cereal rye', drilled: '80 to 120', drilled_source: 'clark' })
    expect(shown.value).toBe(false)
  })
  it('stays open with all that was typed where a figure can’t be read', async () => {
    answers['PUT /api/v1/workspaces/w/species/fen-lentil'] = [
      422,
      { code: 'bad-value', detail: 'Some figures can’t be read.', errors: [{ where: 'Full rate drilled', what: '“much” isn’t a range.' }] },
    ] // prettier-ignore
    const { shown } = await open(null)
    await typeInDialog('Name', 'Fen lentil')
    await typeInDialog('Full rate drilled', 'much')
    await sendDialog()
    expect(sent.at(-1)!.url).toContain('/species/fen-lentil')
    expect(dialogText()).toContain('Full rate drilled: “much” isn’t a range.')
    expect(shown.value).toBe(true)
  })
  it('is only looked at by those who may not plan', async () => {
    await open(rye, false)
    expect(
      [...document.querySelectorAll('.v-overlay button')].some((b) => b.textContent!.includes('Edit a copy')),
    ).toBe(false)
  })
})

describe('the rows of treatments', () => {
  async function open(rows: TreatmentDraft[], crossed = false) {
    answers['GET /api/v1/aspects'] = [200, []]
    const kept = ref(rows)
    const out: object[] = []
    const Frame = defineComponent(
      () => () =>
        h(TreatmentRows, {
          modelValue: kept.value, crossed, workspace: 'w', mayPlan: true,
          onCannotBe: (levels: object) => out.push(levels),
        }), // prettier-ignore
    )
    const page = show(Frame, {})
    await flushPromises()
    const row = (n: number) => page.find(`[aria-label="treatment ${n}"]`)
    return { page, kept, row, out }
  }
  const named = (...names: string[]) => names.map((name) => ({ ...emptyTreatment(), id: name, name }))
  it('may have several controls, which wear the first colours in their order', async () => {
    const { kept, row, page } = await open(named('Oat', 'Bare', 'Fallow'))
    await row(2).find('input[type=checkbox]').setValue(true)
    await row(3).find('input[type=checkbox]').setValue(true)
    expect(kept.value.map((one) => one.is_control)).toEqual([false, true, true])
    const places = page.findAllComponents({ name: 'TreatmentTag' }).map((tag) => tag.props('index'))
    expect(places).toEqual([2, 0, 1])
    await page.findAll('button').find((b) => b.text().startsWith('Compare without'))!.trigger('click') // prettier-ignore
    expect(kept.value.some((one) => one.is_control)).toBe(false)
  })
  it('never go below two, but a combination that can’t be goes with its levels', async () => {
    const plain = await open(named('Bare', 'Oat'))
    expect(plain.row(1).find('button').attributes('disabled')).toBeDefined()
    const levels = { kill: 'late', cover: 'phacelia' }
    const { row, out } = await open([{ ...emptyTreatment(), name: 'late, phacelia', levels }], true)
    await row(1).find('button').trigger('click')
    expect(out).toEqual([levels])
  })
})

describe('the way out to the field', () => {
  const links = async (site: object) => {
    const { page } = await openStation(FieldFiles, { trial: { ...trial, site: { ...trial.site, ...site } } })
    return { page, hrefs: page.findAll('a[download]').map((a) => a.attributes('href')!.split('/').pop()) }
  }
  it('has outlines only where somebody said where the corner lies', async () => {
    const placed = await links({ latitude: 52.7, longitude: 0.1 })
    expect(placed.hrefs).toEqual(['stake-out.csv', 'plots.geojson'])
    const nowhere = await links({})
    expect(nowhere.hrefs).not.toContain('plots.geojson')
    expect(nowhere.page.find('a[href^="/ask"]').exists()).toBe(true)
  })
  it('prints labels on the sheet that is chosen, and warns before anybody digs', async () => {
    const { page } = await links({})
    expect(page.find('.caution').text()).toMatch(/^Before you drive stakes/)
    page.findComponent({ name: 'VSelect' }).vm.$emit('update:modelValue', 'letter')
    for (const made of page.findAll('.make button')) await made.trigger('click')
    await flushPromises()
    expect(sent.filter((s) => s.url.endsWith('/files')).map((s) => s.body)).toEqual([
      { file: 'map.pdf', ink: 'colour' },
      { file: 'map.pdf', ink: 'black' },
      { file: 'labels.pdf', sheet: 'letter' },
    ])
  })
})
