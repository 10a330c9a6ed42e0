import { flushPromises } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { defineComponent, h, ref } from 'vue'

import type { Offer, Confounding as Found } from '@/api/queries'
import AskMeasures from '@/stations/ask/AskMeasures.vue'
import { detailsDraftOf, detailsOf, emptyComponent, emptyDetails } from '@/stations/ask/described'
import { askOf, emptyDraft, emptyTreatment, measureFrom, faultsOf, type AskDraft } from '@/stations/ask/draft'
import { withOffer } from '@/stations/ask/offers'
import ConfoundedComparisons from '@/stations/ask/ConfoundedComparisons.vue'
import TreatmentDetails from '@/stations/ask/TreatmentDetails.vue'

import { sheetOf } from './rules'
import { show } from './mounting'
import { answers, sent } from './server'

const rye = {
  ...emptyComponent(),
  species: 'rye',
  name: 'Rye',
  cultivar: 'Fen Gold',
  rate: '100',
  tkw: '32,5',
}
const vetch = { ...emptyComponent(), name: 'Vetch', rate: '30' }
const sown = (id: string, part: typeof rye, said: Record<string, string> = {}) => ({
  ...emptyTreatment(),
  id,
  name: `${part.name} ${id}`,
  details: { ...emptyDetails(), components: [part], said },
})
const offer = (changes: Partial<Offer>): Offer => ({
  kind: 'hold', aspect: 'sowing_date', like: 'a', other: 'b', said: 'Give b the sowing date of a', value: '1 Sep',
  rates: [], ...changes,
}) // prettier-ignore

describe('what is said of a treatment', () => {
  it('goes out as figures and comes back as typed; a species without a name is left out', () => {
    const draft = { ...emptyDetails(), components: [rye, emptyComponent()], seed_set: 'wanted' as const }
    const out = detailsOf(draft)
    expect(out.components).toHaveLength(1)
    expect(out.components![0]).toMatchObject({ rate: '100', tkw_g: '32,5', purity_percent: null })
    expect(detailsDraftOf(out)).toEqual({ ...draft, components: [rye] })
  })
  it('says at its field what the server couldn’t read of the seed', () => {
    const draft = emptyDraft()
    draft.treatments = [emptyTreatment(), sown('a', { ...rye, germination: 'good' })]
    const fault = { where: 'treatments.0.details.components.0.germination_percent', what: 'No.' }
    expect(faultsOf(draft, [fault])).toEqual({ 'treatments.a.0.germination_percent': 'No.' })
  })
  it('holds one aspect constant and leaves the rest', () => {
    const before = [
      sown('a', rye, { sowing_date: '1 Sep' }),
      sown('b', vetch, { sowing_date: '20 Sep', tillage: 'none' }),
    ]
    const after = withOffer(before, offer({}))
    expect(after[1]!.details.said).toEqual({ sowing_date: '1 Sep', tillage: 'none' })
    expect(before[1]!.details.said.sowing_date).toBe('20 Sep')
    expect(withOffer(before, offer({ aspect: 'tillage', value: '' }))[1]!.details.said).toEqual({
      sowing_date: '20 Sep',
    })
    expect(withOffer(before, offer({ aspect: 'species' }))[1]!.details.components).toEqual([rye])
    expect(withOffer(before, offer({ aspect: 'rate' }))[1]!.details.components[0]).toMatchObject({
      name: 'Vetch',
      rate: '100',
    })
  })
  it('sows two species at one share of their full rates', () => {
    const before = [sown('a', rye), sown('b', vetch)]
    const after = withOffer(before, offer({ kind: 'share', aspect: 'rate', rates: ['22.5'] }))
    expect(after[1]!.details.components[0]).toMatchObject({ name: 'Vetch', rate: '22.5' })
    expect(after[0]).toBe(before[0])
  })
  it('adds the treatment between two, beside the first and named after what it takes over', () => {
    const before = [
      { ...sown('a', rye, { sowing_date: '1 Sep' }), is_control: true },
      sown('b', vetch, { sowing_date: '20 Sep' }),
    ]
    const [first, added, last] = withOffer(before, offer({ kind: 'add', value: '20 Sep' }))
    expect([first!.id, last!.id]).toEqual(['a', 'b'])
    expect(added).toMatchObject({ name: 'Rye a, 20 Sep', is_control: false })
    expect(added!.details).toMatchObject({ components: [rye], said: { sowing_date: '20 Sep' } })
    expect(withOffer(before, offer({ kind: 'add', aspect: 'species' }))[1]!.name).toBe('Rye a, Vetch')
    expect(withOffer(before, offer({ like: 'gone' }))).toBe(before)
  })
  it('is folded to a line; the guide is asked only when it is opened, and a known species brings its record', async () => {
    answers['GET /api/v1/workspaces/w/species'] = [200, { species: [{ key: 'vetch', name: 'Vetch' }] }]
    answers['GET /api/v1/aspects'] = [
      200,
      [{ key: 'tillage', name: 'tillage', factor: true, said: true }, { key: 'rate', name: 'rate', factor: true, said: false }],
    ] // prettier-ignore
    const details = ref({ ...emptyDetails(), components: [{ ...rye }], said: { tillage: 'none' } })
    const page = show(TreatmentDetails, { modelValue: details.value, name: 'Rye', workspace: 'w' })
    await flushPromises()
    expect(page.find('summary').text()).toBe('Rye Fen Gold 100 kg/ha · tillage none')
    const asked = () => sent.filter((one) => one.url.endsWith('/species')).length
    expect(asked()).toBe(0)
    page.find('details').element.open = true
    await page.find('details').trigger('toggle')
    await flushPromises()
    expect(asked()).toBe(1)
    page.findComponent({ name: 'VCombobox' }).vm.$emit('update:modelValue', 'Vetch')
    expect(details.value.components[0]).toMatchObject({ name: 'Vetch', species: 'vetch' })
    await page.findAll('button').find((b) => b.text() === 'Add species')!.trigger('click') // prettier-ignore
    await flushPromises()
    expect(document.activeElement!.closest('[role=group]')!.getAttribute('aria-label')).toBe('Rye: species 2')
    const more = () => page.findAll('[aria-label="Also describe:"] button')
    expect(more()).toHaveLength(0) // tillage is said already
    await page.find('.saying button').trigger('click')
    await more()[0]!.trigger('click')
    await flushPromises()
    expect(document.activeElement!.closest('.saying')!.textContent).toContain('tillage')
  })
})

describe('one thing at a time', () => {
  const found: Found = {
    mixed: [
      { base: 'a', treatment: 'b', said: 'Rye a and Vetch b differ in species or mix and sowing date at once.',
        offers: [offer({}), offer({ kind: 'add', said: 'Add treatment' })], remark: 'Both can’t be held.' },
    ],
    worth_knowing: ['Species are sown on different dates.'],
    cautions: [{ treatment: 'b', said: ['Cultivar not stated: Vetch.'] }],
  } // prettier-ignore
  async function open(
    treatments = [sown('a', rye, { sowing_date: '1 Sep' }), sown('b', vetch, { sowing_date: '20 Sep' })],
  ) {
    answers['POST /api/v1/confounding'] = [200, found]
    const kept = ref<AskDraft>({ ...emptyDraft(), treatments })
    const Frame = defineComponent(
      () => () =>
        h(ConfoundedComparisons, {
          workspace: 'w',
          modelValue: kept.value,
          'onUpdate:modelValue': (now: AskDraft) => (kept.value = now),
        }),
    )
    const page = show(Frame, {})
    return { page, kept }
  }
  const shown = async () => {
    const opened = await open()
    await vi.waitFor(() => expect(opened.page.find('.mixed').exists()).toBe(true))
    return opened
  }
  it('isn’t asked about where nothing was described', async () => {
    await open([emptyTreatment(true), { ...emptyTreatment(), name: 'Oat' }])
    await flushPromises()
    expect(sent).toEqual([])
  })
  it('says what differs, and takes an offer', async () => {
    const { page, kept } = await shown()
    expect(page.text()).toContain(
      'differ in species or mix and sowing date at once. The trial can’t tell which of them',
    )
    expect(page.find('.mixed').text()).toContain('Both can’t be held.')
    expect(page.find('.worth').text()).toBe('Species are sown on different dates.')
    expect(page.find('.cautions').text()).toContain('Cultivar not stated: Vetch.')
    await page.findAll('.mixed button')[0]!.trigger('click')
    expect(kept.value.treatments[1]!.details.said.sowing_date).toBe('1 Sep')
  })
  it('keeps a departure with its reason, and takes it back', async () => {
    const { page, kept } = await shown()
    await page.findAll('button').find((b) => b.text().startsWith('Accept'))!.trigger('click') // prettier-ignore
    await page.find('.accepted input').setValue('the drill came late')
    expect(kept.value.accepted).toEqual([{ base: 'a', treatment: 'b', why: 'the drill came late' }])
    expect(askOf(kept.value, 'w').accepted).toHaveLength(1)
    await page.find('.accepted button').trigger('click')
    expect(kept.value.accepted).toEqual([])
  })
  it('says what is wrong with a rate that can’t be', async () => {
    const { page } = await open()
    answers['POST /api/v1/confounding'] = [
      422,
      { code: 'bad-value', detail: 'A seed rate can’t be below zero.' },
    ]
    await vi.waitFor(() => expect(page.find('.problem').text()).toContain('below zero'))
  })
})

describe('the measures of a question', () => {
  const catalogue = {
    measures: [],
    sheets: [sheetOf('figure')],
  }
  async function open(controls: number) {
    answers['GET /api/v1/catalogue'] = [200, catalogue]
    const treatments = ['Bare', 'Fallow', 'Oat'].map((name, i) => ({
      ...emptyTreatment(i < controls),
      id: name,
      name,
    }))
    const measures = ref([measureFrom(catalogue as never, ''), measureFrom(catalogue as never, '')])
    measures.value.forEach((m, i) => (m.name = `M${i}`))
    const Frame = defineComponent(
      () => () =>
        h(AskMeasures, { modelValue: measures.value, treatments, workspace: 'w', faults: {}, mayPlan: true }),
    )
    const page = show(Frame, {})
    await flushPromises()
    const select = (label: string) =>
      page.findAllComponents({ name: 'VSelect' }).find((one) => one.props('label') === label)
    return { page, measures, select, treatments }
  }
  it('name a control of their own only where there are several', async () => {
    expect((await open(1)).select('Control for this measure')).toBeUndefined()
    const { select, measures, treatments } = await open(2)
    expect(select('Control for this measure')!.props('items')).toEqual([
      { value: null, title: 'Bare, as for all' },
      { value: 'Fallow', title: 'Fallow' },
    ])
    select('Control for this measure')!.vm.$emit('update:modelValue', 'Fallow')
    expect(measures.value[0]!.control).toBe('Fallow')
    const out = (controls: boolean) =>
      askOf({ ...emptyDraft(), measures: measures.value,
        treatments: treatments.map((one) => ({ ...one, is_control: controls && one.is_control })) }, 'w') // prettier-ignore
    expect(out(true).measures[0]!.control).toBe('Fallow')
    expect(out(false).measures[0]!.control).toBeNull() // it isn’t a control any more
  })
  it('plan a test for some treatments, and one of them decides', async () => {
    const { page, select, measures } = await open(1)
    expect(select('Treatments of the planned test')).toBeUndefined()
    measures.value[0]!.planned = 'equivalence'
    await flushPromises()
    expect(
      (select('Treatments of the planned test')!.props('items') as { value: string }[]).map(
        (one) => one.value,
      ),
    ).toEqual(['Fallow', 'Oat'])
    const boxes = page.findAll<HTMLInputElement>('.primary input')
    await boxes[0]!.setValue(true)
    await boxes[1]!.setValue(true)
    expect(measures.value.map((m) => m.primary)).toEqual([false, true])
  })
})
