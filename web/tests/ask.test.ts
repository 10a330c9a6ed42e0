import { flushPromises } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { h, nextTick } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'

import type { Catalogue, Treatment } from '@/api/queries'
import typed from '../../tests/numbers/typed.json'

import { askOf, draftOf, emptyDraft, faultsOf, measureFrom } from '@/stations/ask/draft'
import NewTrialPage from '@/stations/ask/NewTrialPage.vue'
import { forgetDrafts } from '@/parts/useKeptDraft'

import { show } from './mounting'
import { sheetOf } from './rules'
import { member, trial } from './samples'
import { answers, sent } from './server'

const catalogue: Catalogue = {
  measures: [
    { key: 'weeds', name: 'Weeds', unit: 'weeds/m²', shown_unit: 'weeds/m²', difference_unit: 'weeds/m²', kind: 'count', sheet_key: 'frame-count',
      settings: { frames: 6 }, direction: 'lower', usual: 40, cv_percent: 30, spread: [20, 50], plausible: [0, 2000],
      possible: [0, 1e5], minutes: [3, 4], spread_basis: 'from experience, 40 to 80 % is usual', depends: '',
      pitfall: 'Frames aren’t replicates.', zero_when: [], also: [], common_parts: '', along: [], frames: 6, group: 'Weeds', over_visits: 'last' },
  ],
  sheets: [sheetOf('figure'), { ...sheetOf('frame-count'), settings: sheetOf('frame-count').settings.slice(0, 1) }],
} // prettier-ignore

afterEach(() => localStorage.clear())
/** What is kept of forms; whose answers the device keeps stands beside it. */
const drafts = () => Object.keys(localStorage).filter((key) => key !== 'apercu.kept-for')

describe('the draft of Ask', () => {
  it('makes a measure of the catalogue with its sheet’s usual settings, or an empty one of one’s own', () => {
    expect(measureFrom(catalogue, 'weeds')).toMatchObject({
      name: 'Weeds', unit: 'weeds/m²', shown_unit: 'weeds/m²', difference_unit: 'weeds/m²', sheet: 'frame-count', settings: { area: '0.25' }, direction: 'lower',
    }) // prettier-ignore
    expect(measureFrom(catalogue, '')).toMatchObject({
      name: '',
      catalogue: '',
      sheet: 'figure',
      settings: {},
    })
  })
  it('sends numbers as they were typed, whatever they are, and leaves out rows without a name', () => {
    const draft = emptyDraft()
    draft.treatments[0]!.name = 'Bare'
    draft.measures = [
      { ...measureFrom(catalogue, 'weeds'), margin: '7,5', cv_percent: '' },
      measureFrom(catalogue, ''),
    ]
    const sentOff = askOf(draft, 'w')
    expect([sentOff.treatments.length, sentOff.measures.length]).toEqual([1, 1])
    expect(sentOff.measures[0]).toMatchObject({ margin: '7,5', cv_percent: '', settings: { area: '0.25' } })
    for (const { typed: text } of typed) {
      draft.measures[0]!.margin = text
      expect(askOf(draft, 'w').measures[0]!.margin).toBe(text)
    }
  })
  it('shows at its field what the server couldn’t read, past rows that weren’t sent', () => {
    const draft = emptyDraft()
    draft.measures = [measureFrom(catalogue, ''), measureFrom(catalogue, 'weeds')]
    const what = '“2 t” isn’t a number.'
    expect(faultsOf(draft, [{ where: 'measures.0.margin', what }])).toEqual({ 'measures.1.margin': what })
    expect(faultsOf(draft, [{ where: 'measures.0.settings.area', what }])).toEqual({
      'measures.1.area': what,
    })
    expect(faultsOf(draft, [{ where: 'sites.1.latitude', what }])).toEqual({ 'sites.1.latitude': what })
  })
  it('opens a trial as it was kept', () => {
    const draft = draftOf({ ...trial, starts: '2026-08-20' })
    expect([draft.name, draft.starts, draft.ends]).toEqual(['Covers', '2026-08-20', ''])
    expect(draft.treatments.map((one) => one.is_control)).toEqual([true, false, false])
  })
})

describe('a new trial', () => {
  async function open(role = 'owner', from: object = {}) {
    answers['GET /api/v1/session'] = [
      200,
      { name: 'Ada', email: 'a@b.c', units: 'metric', memberships: [member(role)] },
    ]
    answers['GET /api/v1/catalogue'] = [200, catalogue]
    answers['GET /api/v1/sites'] = [200, { count: 0, results: [] }]
    const empty = { render: () => h('p') }
    const routes = ['plan', 'today', 'sign-in', 'species'].map((name) => ({
      path: `/${name}/:trial?`,
      name,
      component: empty,
    }))
    const router = createRouter({ history: createMemoryHistory(), routes })
    await router.push({ path: '/species', ...from })
    const page = show(NewTrialPage, {}, {}, [router])
    await flushPromises()
    return { page, router }
  }
  type Page = Awaited<ReturnType<typeof open>>['page']
  /** The nth field whose label begins so. */
  const type = async (page: Page, label: string, text: string, nth = 0) => {
    const fields = page.findAllComponents({ name: 'VTextField' })
    await fields
      .filter((one) => String(one.props('label')).startsWith(label))
      [nth]!.find('input')
      .setValue(text)
  }

  it('is sent as one page under the id that was made here, and leads on to Plan', async () => {
    const { page, router } = await open()
    await type(page, 'Treatment', 'Bare')
    const where = () => sent.find((s) => s.method === 'PUT')?.url.match(/trials\/([\w-]+)\/ask/)?.[1]
    await page.find('form').trigger('submit')
    await flushPromises()
    // What is required is said above the button and at its field, and a click goes there; nothing is sent.
    expect([where(), page.find('[role=alert].grave').text()]).toEqual([
      undefined,
      'Nothing is saved yet. 3 required entries are empty:' +
        'Name of the trial (required): Enter a name.' +
        'Treatment (required): Enter at least two treatments.' +
        'Field (required): Enter a name.',
    ])
    await page.findAll('.places button')[2]!.trigger('click')
    await flushPromises()
    expect(document.activeElement!.closest('[data-where]')!.textContent).toContain('Enter a name.')
    expect(page.findAll('nav.sections small').map((one) => one.text())).toEqual([
      'to do',
      'to do',
      'to do',
      'to do',
    ])
    await type(page, 'Name of the trial', 'Covers')
    await type(page, 'Treatment', 'Oat', 1)
    await type(page, 'Field', 'Mill Ground')
    expect(page.find('[role=alert].grave').exists()).toBe(false)
    await page.find('form').trigger('submit')
    await flushPromises()
    expect(page.find('.problem').text()).toBe('Nothing here.')
    expect(page.text()).toContain('Not saved. The server doesn’t have this trial yet. Discard changes')
    answers[`PUT /api/v1/trials/${where()}/ask`] = [200, {}]
    await page.find('form').trigger('submit')
    await vi.waitFor(() => expect(router.currentRoute.value.fullPath).toBe(`/plan/${where()}`))
    expect(drafts()).toEqual([])
  })
  it('is there again with all that was typed when its tab was closed, until one starts over or signs out', async () => {
    const first = await open()
    await type(first.page, 'Name of the trial', 'Covers before barley')
    await nextTick()
    first.page.unmount()
    const { page } = await open()
    expect(page.text()).toContain('This is what you entered before')
    const name = () => page.findAllComponents({ name: 'VTextField' })[0]!.props('modelValue') as string
    expect(name()).toBe('Covers before barley')
    await page.find('p[role=status] button').trigger('click')
    await flushPromises()
    expect([name(), drafts()]).toEqual(['', []])
    await type(page, 'Name of the trial', 'x')
    await nextTick()
    expect(drafts().length).toBe(1)
    forgetDrafts()
    expect(drafts()).toEqual([])
  })
  it('takes over from the species guide what each cover sows', async () => {
    const covers = [{ name: '60 kg/ha Rye', parts: [{ species: 'rye', name: 'Rye', rate: '60 kg/ha' }] }]
    const { page } = await open('owner', {
      query: { treatments: ['60 kg/ha Rye', 'Bare'] },
      state: { covers: JSON.stringify(covers) },
    })
    await type(page, 'Name of the trial', 'Rye')
    await type(page, 'Field', 'Mill Ground')
    await page.find('form').trigger('submit')
    await flushPromises()
    const put = sent.find((one) => one.method === 'PUT')!.body as { treatments: Treatment[] }
    expect(put.treatments.map((one) => [one.name, one.details.components!.map((part) => part.rate)])).toEqual(
      [
        ['60 kg/ha Rye', ['60 kg/ha']],
        ['Bare', []],
      ],
    )
  })
  it('is not offered to those who may only look', async () => {
    const { page } = await open('reader')
    expect(page.text()).toContain('not start one')
    expect(page.find('form').exists()).toBe(false)
  })
})
