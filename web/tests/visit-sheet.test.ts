import { flushPromises } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'

import { PLANLESS } from '@/api/earlierAnswers'
import { LIVE, type EntryIn, type Trial, type Visit } from '@/api/queries'
import { WHOLE, type Cell } from '@/offline/cells'
import type { Drafts } from '@/offline/drafts'
import { outboxOf } from '@/offline/sending'
import VisitSheet from '@/stations/walk/VisitSheet.vue'

import ScanLabel from '@/parts/ScanLabel.vue'

import { boxInMemory } from './boxes'
import { rules, rulesOf } from './rules'
import { trial } from './samples'
import { answers, sent } from './server'
import { openStation, dialogText } from './station'

const count = {
  key: 'count',
  name: 'Count',
  unit: '',
  kind: 'whole' as const,
  optional: false,
  choices: [],
  timed: false,
  depths: null,
}
const visit: Visit = {
  ...PLANLESS, id: 'v', etag: 'v1', trial: 't', site: 's', units: 'metric', name: 'Weeds in June', due: null, date: null, order: ['101', '102', '103'], zones: {}, page: 1, pages: 1, rows: [], conflicts: [],
  notes: [], progress: { done: 0, begun: 0, of: 3, conflicts: 0 },
  measures: [
    { id: 'weeds', name: 'Weeds', unit: 'weeds/m²', factor: 1, fields: [count], part_kind: '', parts: [], common_parts: [], samples: 2, samples_due: 2, sample_name: 'frame', zones: [], formula: '', settings: [],
      pitfall: '', zero_when_failed: true, watched: null, beyond: '', by_photograph: false, counted_on_photograph: false, rules: rulesOf('frame-count') },
  ],
} // prettier-ignore
const ENTRIES = 'PUT /api/v1/visits/v/entries'
const outcomes = (state: string, message = '') => [
  200,
  {
    outcomes: [{ id: '', state, value: 28, message, other: null }],
    progress: { done: 1, begun: 0, of: 3, conflicts: 0 },
  },
] as [number, unknown] // prettier-ignore

/** A device that answers when it is told to, with what it kept. */
function device(kept: Record<string, Cell> = {}) {
  let answer!: () => void
  const asked = new Promise<void>((resolve) => (answer = resolve))
  const drafts: Drafts = {
    all: async () => (await asked, kept),
    get: async (key) => kept[key],
    put: async (key, cell) => void (kept[key] = JSON.parse(JSON.stringify(cell)) as Cell),
    remove: async (...keys) => keys.forEach((key) => delete kept[key]),
  }
  return { drafts, kept, answer }
}
async function open(
  changes: { trial?: Partial<Trial>; visit?: Partial<Visit>; kept?: Record<string, Cell> } = {},
) {
  const { drafts, kept, answer } = device(changes.kept)
  const props = {
    trial: { ...trial, ...changes.trial }, opened: { ...visit, ...changes.visit }, me: 'Ada', person: 'a@b.c', drafts,
    outbox: outboxOf('a@b.c', 'Ada', boxInMemory()),
  } // prettier-ignore
  const { page } = await openStation(VisitSheet, props, '/visit/t/v')
  const ready = async () => {
    answer()
    await flushPromises()
  }
  const field = (plot: string, frame = 1) =>
    page.find<HTMLInputElement>(`input[aria-label="Plot ${plot}, Weeds, frame ${frame}"]`)
  const type = async (plot: string, text: string, frame = 1) => {
    await field(plot, frame).setValue(text)
    await field(plot, frame).trigger('keydown', { key: 'Enter' })
    await flushPromises()
  }
  const at = () => document.activeElement?.getAttribute('aria-label')
  return { page, ready, field, type, at, kept }
}
const entered = () =>
  sent.filter((one) => one.method === 'PUT').flatMap((one) => (one.body as { entries: EntryIn[] }).entries)
const draft: Cell = {
  place: { unit: '101', measure: 'weeds', zone: '', component_kind: '', component: '', sample: 1 }, status: 'draft', fields: { count: '12' }, missingStatus: '', reason: '',
  message: '', confirmed: false, id: 'd', enteredAt: '', units: '', row: null,
} // prettier-ignore

describe('a visit’s sheet', () => {
  it('has no fields before they hold what the device kept, and then takes up where it was left', async () => {
    const { page, ready, field, at } = await open({ kept: { '101|weeds|1': draft } })
    expect(page.findAll('input')).toHaveLength(0)
    expect(page.text()).toContain('Loading')
    await ready()
    expect(field('101').element.value).toBe('12')
    expect(at()).toBe('Plot 101, Weeds, frame 2') // the first that is empty
  })
  it('goes by Enter from frame to frame and plot to plot, and sends each figure at once', async () => {
    answers[ENTRIES] = outcomes('saved')
    const { ready, type, at } = await open()
    await ready()
    await type('101', '7')
    expect(at()).toBe('Plot 101, Weeds, frame 2')
    await type('101', '9', 2)
    expect(at()).toBe('Plot 102, Weeds, frame 1')
    expect(entered().map((one) => [one.unit, one.sample, one.fields])).toEqual([
      ['101', 1, { count: '7' }],
      ['101', 2, { count: '9' }],
    ])
  })
  it('hides the treatments at a blind visit, and says of each value whether they were hidden', async () => {
    answers[ENTRIES] = outcomes('saved')
    const { page, ready, type } = await open({ visit: { blind: true } })
    await ready()
    expect(page.find('tbody').text()).not.toContain(trial.treatments[0]!.name)
    expect(page.find('tbody').text()).toContain('Treatment hidden')
    await type('101', '7')
    await page
      .findAll('button')
      .find((b) => b.text() === 'Show treatments')!
      .trigger('click')
    expect(page.find('tbody').text()).toContain(trial.treatments[0]!.name)
    expect(page.text()).toContain('aren’t blind')
    await type('101', '9', 2)
    expect(entered().map((one) => one.blind)).toEqual([true, false])
  })
  it('says in paces where the frame is laid, by the pace of who walks', async () => {
    const places = {
      ...PLANLESS.places, said: 'At random.', corner: 'the south-west corner', width: 0.5, length: 0.5,
      by_plot: { '101': [{ across: 1.5, along: 6 }, { across: 0.8, along: 9 }] },
    } // prettier-ignore
    const { page, ready } = await open({ visit: { places } })
    await ready()
    const said = () => page.find('.places').text().replace(/\s+/g, ' ')
    expect(said()).toContain(
      'From the south-west corner: 8 paces along the plot (6 m), then 2 paces across (1.5 m).',
    )
    await page.find('.places button').trigger('click')
    await page.find('.places input').setValue('1')
    expect(said()).toContain('6 paces along the plot (6 m), then 2 paces across (1.5 m).')
  })
  it('moves along a field by arrows', async () => {
    const { ready, field, at } = await open()
    await ready()
    await field('101').trigger('keydown', { key: 'ArrowDown' })
    await flushPromises()
    expect(at()).toBe('Plot 102, Weeds, frame 1')
    await field('102').trigger('keydown', { key: 'ArrowUp' })
    await flushPromises()
    expect(at()).toBe('Plot 101, Weeds, frame 1')
  })
  it('asks back about an unusual figure and keeps it only when somebody says so', async () => {
    answers[ENTRIES] = outcomes('question', '3600 weeds/m² is unusual. Is it right?')
    const { page, ready, type } = await open()
    await ready()
    await type('101', '900')
    const asked = page.find('[role=alert]')
    expect(asked.text()).toContain('Plot 101, Weeds, frame 1: 3600 weeds/m² is unusual.')
    answers[ENTRIES] = outcomes('saved')
    await asked.findAll('button')[0]!.trigger('click')
    await flushPromises()
    expect(entered().map((one) => one.confirmed)).toEqual([false, true])
    expect(entered()[1]!.id).toBe(entered()[0]!.id)
    expect(page.find('[role=alert]').exists()).toBe(false)
  })
  it('takes x, n and u as commands in an empty field and as text in a filled one', async () => {
    const { ready, field, type } = await open()
    answers[ENTRIES] = outcomes('saved')
    await ready()
    await field('101').setValue('1')
    await field('101').trigger('keydown', { key: 'x' })
    await flushPromises()
    expect(dialogText()).toBe('')
    await type('101', '1')
    field('102').element.focus()
    await field('102').trigger('keydown', { key: 'x' })
    await vi.waitFor(() => expect(dialogText()).toContain('plot 102'))
  })
  it('says what counts come to against a threshold that is set there, with what waits and what is being typed', async () => {
    const shown = { unit: 'weeds/m²', factor: 1 }
    const standing = (threshold: number | null) => [
      200, [{ measure: 'weeds', name: 'Weeds', threshold, shown, stand: shown, rate: shown, each: 'frames', alike: false, parts_make: 'sum', per_m2: null, sown: {}, means: {} }],
    ] as [number, unknown] // prettier-ignore
    answers['GET /api/v1/rules'] = [200, rules]
    answers['GET /api/v1/visits/v/standing'] = standing(null)
    answers['PUT /api/v1/measures/weeds/threshold'] = [204, null]
    answers[ENTRIES] = [503, { code: 'unavailable', detail: 'Not now.' }]
    const { page, ready, field, type } = await open()
    await ready()
    await vi.waitFor(() => expect(page.text()).toContain('Set action threshold: Weeds'))
    await page
      .findAll('button')
      .find((b) => b.text().startsWith('Set action'))!
      .trigger('click')
    await page.find('.standing input').setValue('10')
    answers['GET /api/v1/visits/v/standing'] = standing(10)
    await page.find('.standing form').trigger('submit')
    const says = (what: string) => vi.waitFor(() => expect(page.find('.standing').text()).toContain(what))
    await says('count at least 2 frames')
    expect(sent.find((one) => one.url.endsWith('/threshold'))!.body).toEqual({ threshold: '10' })
    await type('101', '7') // in a quarter of a square metre; the server takes nothing
    await field('101', 2).setValue('9')
    await says('Can’t tell yet: 32 weeds/m² on average of 2 frames, the threshold is 10 weeds/m².')
  })
  it('says of a value beyond what was measured which way it lies, and holds no others against a threshold', async () => {
    const shown = { unit: 'cm', factor: 1 }
    answers['GET /api/v1/visits/v/standing'] = [
      200, [{ measure: 'weeds', name: 'Weeds', threshold: 10, shown, stand: shown, rate: shown, each: 'profiles', alike: false, parts_make: 'sum', per_m2: null, sown: {}, means: {} }],
    ] // prettier-ignore
    const row = (sample: number, changes: object) => ({ ...WHOLE, id: `r${sample}`, unit: '101', measure: 'weeds', zone: '', sample, fields: { count: '1' }, missing_status: '' as const, missing_reason: '', by: 'Ada', at: '2026-06-01T08:00:00Z', value: null, bound: null, ...changes }) // prettier-ignore
    const rows = [row(1, { bound: 20, missing_reason: 'It is more than 20 cm.' }), row(2, { value: 12 })]
    const { page, ready } = await open({
      visit: { rows, measures: visit.measures.map((m) => ({ ...m, beyond: 'more' })) },
    })
    await ready()
    expect(page.find('tr[data-row="101"] .said').text()).toBe('> 20 · 12')
    await page.find('input[aria-label="Plot 101, Weeds, frame 1"]').trigger('focus')
    await vi.waitFor(() => expect(page.find('.standing').text()).toContain('lies beyond what was measured'))
  })
  it('hides at a blind visit what would tell one treatment from another', async () => {
    const shown = { unit: 'plants/m²', factor: 1 }
    const there = { live_seeds_m2: 100, expected_m2: 80, bulk_kg_ha: 50, assumed: false }
    answers['GET /api/v1/rules'] = [200, rules]
    answers['GET /api/v1/visits/v/standing'] = [
      200, [{ measure: 'weeds', name: 'Stand', threshold: null, shown, stand: shown, rate: { ...shown, unit: 'kg/ha' }, each: 'frames', alike: false, parts_make: 'sum', per_m2: 1, sown: { [trial.plots[0]!.treatment]: there }, means: {} }],
    ] // prettier-ignore
    const row = { ...WHOLE, id: 'r', unit: trial.plots[0]!.id, measure: 'weeds', zone: '', sample: 1, value: 40, bound: null, fields: { count: '10' }, missing_status: '' as const, missing_reason: '', by: 'Ada', at: '2026-06-01T08:00:00Z' } // prettier-ignore
    const order = [trial.plots[0]!.id]
    const { page, ready } = await open({ visit: { blind: true, order, rows: [row] } })
    await ready()
    await vi.waitFor(() => expect(page.find('.standing').text()).toContain('Treatments are hidden'))
    expect(page.find('.standing').text()).not.toContain('of the live seed')
    await page.findAll('button').find((b) => b.text() === 'Show treatments')!.trigger('click') // prettier-ignore
    await vi.waitFor(() =>
      expect(page.find('.standing').text()).toContain('40 plants/m² of 80 plants/m² expected'),
    )
  })
  it('takes a plot as done without a sample that an imported table has of others alone', async () => {
    const weeds = { ...visit.measures[0]!, samples_due: 1, sample_name: 'sample' }
    const row = { ...WHOLE, id: 'r', unit: trial.plots[0]!.id, measure: 'weeds', zone: '', sample: 1, value: 40, bound: null, fields: { count: '10' }, missing_status: '' as const, missing_reason: '', by: 'Ada', at: '2026-06-01T08:00:00Z' } // prettier-ignore
    const { ready, at } = await open({ visit: { measures: [weeds], rows: [row] } })
    await ready()
    expect(at()).toBe('Plot 102, Weeds, sample 1')
  })
  it('opens the plot of a scanned label, and says so where the label is of another trial', async () => {
    const own = '00000000-0000-4000-8000-000000000001'
    const { page, ready, field, at } = await open({ trial: { id: own } })
    await ready()
    await field('101').trigger('keydown', { key: 'g' })
    await flushPromises()
    const scanned = async (trialId: string, plot: string) => {
      page
        .findComponent(ScanLabel)
        .vm.$emit('scanned', `https://fen.example/trials/${trialId}/plan?plot=${plot}`)
      await flushPromises()
    }
    await scanned('00000000-0000-4000-8000-000000000009', '103')
    expect(dialogText()).toContain('belongs to another trial')
    expect(at()).not.toContain('Plot 103')
    await scanned(own, '103')
    expect(at()).toBe('Plot 103, Weeds, frame 1')
  })
  it('leads to any plot by its number, its list or the map', async () => {
    const { ready, field, at } = await open()
    await ready()
    await field('101').trigger('keydown', { key: 'g' })
    await flushPromises()
    const dialog = document.querySelector('.v-dialog')!
    const number = dialog.querySelector<HTMLInputElement>('input')!
    const send = async (text: string) => {
      number.value = text
      number.dispatchEvent(new Event('input'))
      dialog.querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }))
      await flushPromises()
    }
    await send('999')
    expect(dialog.textContent).toContain('This visit has no plot 999.')
    expect([...dialog.querySelectorAll('li button')].map((one) => one.getAttribute('aria-label'))).toEqual([
      'Plot 101: to do',
      'Plot 102: to do',
      'Plot 103: to do',
    ])
    await send('103')
    await flushPromises()
    expect(at()).toBe('Plot 103, Weeds, frame 1')
  })
  it('shows what a colleague entered meanwhile, and nothing of one’s own is lost over it', async () => {
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval'] })
    const { ready, field } = await open()
    await ready()
    await field('101').setValue('5') // not finished yet
    const theirs = { id: 'r', unit: '102', measure: 'weeds', zone: '', sample: 1, component_kind: '', component: '', value: 36, bound: null, fields: { count: '9' }, missing_status: '', missing_reason: '', by: 'Ben', at: '2026-06-24T08:00:00Z' } // prettier-ignore
    answers['GET /api/v1/visits/v?page=1'] = [200, { ...visit, rows: [theirs] }]
    vi.advanceTimersByTime(LIVE)
    await flushPromises()
    vi.useRealTimers()
    expect([field('101').element.value, field('102').element.value]).toEqual(['5', '9'])
    expect(LIVE).toBeLessThan(15_000)
  })
  it('shows who may not record the figures without letting them type', async () => {
    const { page, ready, field } = await open({ trial: { may: ['see'] } })
    await ready()
    expect(field('101').element.disabled).toBe(true)
    expect(page.find('.acts').exists()).toBe(false)
  })
  it('leads to Ask’s and Plan’s work where there is nothing to walk', async () => {
    const empty = await open({ visit: { measures: [] } })
    expect(empty.page.text()).toContain('This visit has no measures')
    const unplaced = await open({ visit: { order: [] } })
    expect(unplaced.page.find('a[href="/plan"]').exists()).toBe(true)
  })

  it('of many plots comes in pages, and leads on from the last field of one', async () => {
    const { page, ready, type } = await open({ visit: { order: ['101'], page: 2, pages: 3 } })
    await ready()
    expect(page.text()).toContain('Plots 101 to 101 in walking order, page 2 of 3')
    const turned = () => page.findComponent(VisitSheet).emitted('turn')
    const button = (name: string) => page.findAll('button').find((one) => one.text().includes(name))!
    await button('Show previous plots').trigger('click')
    await button('Show next plots').trigger('click')
    expect(turned()).toEqual([[{ page: 1 }], [{ page: 3 }]])
    answers[ENTRIES] = outcomes('saved')
    await type('101', '7')
    await type('101', '8', 2)
    expect(turned()).toHaveLength(3)
    expect(turned()![2]).toEqual([{ page: 3 }])
  })
})
