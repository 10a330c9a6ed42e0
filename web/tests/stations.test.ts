import { flushPromises } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'

import { PLANLESS } from '@/api/earlierAnswers'
import type { MeasureOutlook, Season, Trial, Visit } from '@/api/queries'
import HelpDialog from '@/help/HelpDialog.vue'
import UnitsChoice from '@/shell/UnitsChoice.vue'
import { useKeys } from '@/help/useKeys'
import OutlookTable from '@/stations/plan/OutlookTable.vue'
import PlanPage from '@/stations/plan/PlanPage.vue'
import SeasonPage from '@/stations/season/SeasonPage.vue'
import TellPage from '@/stations/tell/TellPage.vue'
import ConflictDialog from '@/stations/walk/ConflictDialog.vue'
import MissingDialog from '@/stations/walk/MissingDialog.vue'
import NoteDialog from '@/stations/walk/NoteDialog.vue'
import { painted } from '@/parts/painted'
import PlotCard from '@/stations/walk/plot/PlotCard.vue'
import { emptyCell, type Cell, type Place, type Step } from '@/offline/cells'
import { outboxOf } from '@/offline/sending'
import WalkPage from '@/stations/walk/WalkPage.vue'
import TodayPage from '@/today/TodayPage.vue'

import { boxInMemory } from './boxes'
import { show } from './mounting'
import { machines, member, trial } from './samples'
import { answers, sent } from './server'
import { dialogText, openStation, sendDialog, typeInDialog } from './station'

const seen = (changes: object = {}) => ({
  blocks: 4, plots: 12, error_df: 6, kinds: [{ name: 'two treatments', detectable: 0.9, df: 6 }], detectable: 1.2, detectable_with_one_more: 1.04,
  chances: [
    { truth: 0, clear_right: 0.001, clear_wrong: 0, real_unsettled: 0.03, real_small: 0, no_difference: 0.2, not_settled: 0.769, runs: 0 },
    { truth: 1, clear_right: 0.01, clear_wrong: 0, real_unsettled: 0.3, real_small: 0, no_difference: 0.09, not_settled: 0.6, runs: 0 },
  ],
  ...changes,
}) // prettier-ignore
const outlook = (changes: Partial<MeasureOutlook> = {}): MeasureOutlook => ({
  id: 'm', name: 'Yield', unit: 't/ha', difference_unit: 't/ha', planned: null, spread: { mean: 7, cv_percent: 6, source: 'as you expect' }, sigma: 0.42,
  margin: 1, decimals: 1, reason: '', curve: [{ blocks: 2, detectable: 2.1, plots: 6, hours: 0.7 }, { blocks: 4, detectable: 1.2, plots: 12, hours: 1.4 }],
  sampled: false, frames: null, in_complete_blocks: null, outlook: seen(), ...changes,
}) // prettier-ignore
const PLAN = 'POST /api/v1/trials/t/plan'

describe('Plan', () => {
  async function open(changes: Partial<Trial> = {}) {
    answers['POST /api/v1/trials/t/outlook'] = [
      200,
      { plots: 12, per_block: 3, machines, measures: [outlook()] },
    ]
    return openStation(PlanPage, { trial: { ...trial, ...changes } })
  }
  it('says what chance a planned test has, and how many blocks it takes', async () => {
    const planned = { most: 40, kind: 'equivalence' as const, chance: 0.62, chance_at_half: 0.21, blocks: 7 }
    answers['POST /api/v1/trials/t/outlook'] = [
      200,
      { plots: 12, per_block: 3, machines, measures: [outlook({ planned })] },
    ]
    const { page } = await openStation(PlanPage, { trial })
    await vi.waitFor(() =>
      expect(page.text()).toContain('62 % chance to show equivalence if there is no difference, 21 %'),
    )
    expect(page.text()).toContain('7 blocks give 80 % power')
  })
  it('asks what it can see for as many blocks as are chosen, never fewer than two', async () => {
    const { page } = await open()
    const fewer = page.find('button[aria-label="Remove 1 block"]')
    for (let i = 0; i < 5; i++) await fewer.trigger('click')
    await page.find('button[aria-label="Add 1 block"]').trigger('click')
    await flushPromises()
    expect(page.find('output').text()).toBe('3 blocks of 3 plots')
    const asked = sent
      .filter((s) => s.url.endsWith('/outlook'))
      .map((s) => (s.body as { blocks: number }).blocks)
    expect([asked[0], asked.at(-1), Math.min(...asked)]).toEqual([4, 3, 2])
  })
  it('says what frames and plots buy for the hours there are, and asks how much frames vary', async () => {
    const frames = {
      now: 2, best: 4, best_choice: 4, cv_percent: 45, source: 'from Weeds last year',
      choices: [
        { frames: 2, blocks: 6, plots: 18, hours: 3.9, detectable: 1.31 },
        { frames: 4, blocks: 5, plots: 15, hours: 4, detectable: 1.18 },
      ],
    } // prettier-ignore
    const { page } = await open()
    expect(page.find('.frames').exists()).toBe(false) // one figure a plot
    answers['POST /api/v1/trials/t/outlook'] = [
      200,
      { plots: 12, per_block: 3, machines, measures: [outlook({ sampled: true, frames })] },
    ]
    await page.find('button[aria-label="Add 1 block"]').trigger('click')
    await vi.waitFor(() => expect(page.find('.frames').exists()).toBe(true))
    expect(page.find('.frames summary').text()).toBe(
      'In these hours, 4 frames per plot in 5 blocks detect the smallest difference.',
    )
    const rows = page.findAll('.frames tbody tr').map((row) => row.text())
    expect(rows[0]).toContain('planned')
    expect(rows[1]).toContain('1.2 smallest')
    page.findComponent({ name: 'FramesChoice' }).vm.$emit('update:modelValue', '60')
    const hours = page
      .findAllComponents({ name: 'VTextField' })
      .find((f) => f.props('label') === 'Hours available per visit')!
    await hours.find('input').setValue('4,5')
    await flushPromises()
    expect(sent.at(-1)!.body).toMatchObject({
      frame_cv: { m: '60' },
      hours: '4,5',
      plot_minutes: '',
      frame_minutes: '',
    })
  })
  it('lets two chosen plots change places with a reason, and says what was changed', async () => {
    const moved = [{ said: '101 and 103 were swapped (stones)', by: 'Ada', at: '2026-08-20T08:00:00Z' }]
    answers['POST /api/v1/trials/t/swap'] = [200, { ...trial, moved }]
    const { page, ground } = await open({ moved })
    expect(page.find('.moved').text()).toContain('101 and 103 were swapped (stones), Ada')
    expect(page.find('.moved form').exists()).toBe(false)
    ground.chosen.value = ['101', '102']
    await flushPromises()
    expect(page.find('.moved form').text()).toContain('Swap the treatments of plots 101 and 102')
    await page.find('.moved input').setValue('wet corner')
    await page.find('.moved form').trigger('submit')
    await flushPromises()
    const swap = sent.find((one) => one.url.endsWith('/swap'))!
    expect(swap.body).toEqual({ first: '101', second: '102', why: 'wet corner' })
    answers['POST /api/v1/trials/t/swap'] = [
      422,
      { code: 'bad-value', detail: 'Say why the plots change places.' },
    ]
    await page.find('.moved form').trigger('submit')
    await flushPromises()
    expect(page.find('.moved .problem').text()).toContain('Say why')
  })
  it('lays out a demonstration and a fixed order only when they are asked for, and rehearses neither', async () => {
    const { page } = await open()
    expect(page.text()).toContain('Rehearsal')
    const box = (words: string) =>
      page
        .findAllComponents({ name: 'VCheckbox' })
        .find((one) => one.props('label')!.startsWith(words))!
        .find('input')
    await box('One plot of each').setValue(true)
    await box('Listed order').setValue(true)
    expect(page.text()).toContain('Demonstration: one plot of each of 3 treatments')
    answers[PLAN] = [200, trial]
    await page.find('form').trigger('submit')
    await flushPromises()
    const put = sent.filter((one) => `${one.method} ${one.url}` === PLAN).at(-1)!
    expect(put.body).toMatchObject({ blocks: 1, demonstration: true, systematic: true })
    const shown = await open({ allocation: 'systematic' })
    expect(shown.page.text()).not.toContain('Rehearsal')
  })
  it('sends lengths as they were typed, lets chance pick the seed, and shows what is wrong where it stands', async () => {
    const { page } = await open()
    const field = (label: string) =>
      page
        .findAllComponents({ name: 'VTextField' })
        .find((f) => f.props('label') === label)!
        .find('input')
    await field('Plot width (m)').setValue('9 ft')
    answers[PLAN] = [
      400,
      { code: 'invalid', detail: 'Some entries can’t be used.', errors: [{ where: 'width', what: 'Nobody knows a fet.' }] },
    ] // prettier-ignore
    await page.find('form').trigger('submit')
    await flushPromises()
    expect(sent.at(-1)!.body).toEqual({
      id: expect.any(String), blocks: 4, block_size: null, width: '9 ft', length: '12', gap: '0.5', alley: '3', serpentine: false, side_by_side: null, seed: null,
      design: 'rcbd', not_grown: [], systematic: false, demonstration: false, whole_factor: '', column_factor: '', constraints: [],
    }) // prettier-ignore
    expect(page.find('fieldset .v-messages').text()).toContain('Nobody knows a fet.')
    expect(field('Plot width (m)').element.value).toBe('9 ft')
    await field('Random seed').setValue('7')
    answers[PLAN] = [200, trial]
    await page.find('form').trigger('submit')
    await flushPromises()
    expect(sent.some((s) => (s.body as { seed?: string })?.seed === '7')).toBe(true)
    expect(page.find('.problem').exists()).toBe(false)
  })
  it('says why the map stays once records are in, and offers no drawing to anybody', async () => {
    const { page } = await open({ recorded: true })
    expect(page.text()).toContain('Values are recorded, so the plot map can’t change')
    expect(page.find('form.plan button[type=submit]').exists()).toBe(false)
  })
  it('sends one back to Ask when there is nothing to compare', async () => {
    const { page } = await open({ treatments: trial.treatments.slice(0, 1) })
    expect(page.find('a').attributes('href')).toBe('/ask')
    expect(sent.some((s) => s.url.endsWith('/outlook'))).toBe(false)
  })
})

describe('what a plan can see', () => {
  const text = (one: MeasureOutlook) =>
    show(OutlookTable, { measures: [one], frameCv: {}, mayDraw: true, busy: false, control: true })
      .text()
      .replace(/\s+/g, ' ')
  it('is said with units, and whether the margin can be found', () => {
    const small = text(outlook())
    expect(small).toContain(
      'A true difference of 1.2 t/ha would be found in 8 of 10 such trials. With 1 more block: 1.0 t/ha.',
    )
    expect(small).toContain('Your margin is 1.0 t/ha. A difference of that size would often be missed.')
    expect(text(outlook({ outlook: seen({ detectable: 0.9 }) }))).toContain('small enough for your margin')
    expect(small).toContain('CV 6.0 % (SD 0.4 t/ha), as you expect. 6 degrees of freedom')
  })
  it('leaves out chances that round to nothing, and calls a clear verdict bad luck where there is no difference', () => {
    const table = show(OutlookTable, {
      measures: [outlook()],
      frameCv: {},
      mayDraw: true,
      busy: false,
      control: true,
    })
    const rows = table.findAll('tr').map((row) => row.findAll('.part').map((part) => part.text()))
    expect(rows[0]).toEqual([
      '3 % real, size unsettled,',
      '20 % no difference worth having,',
      '77 % not settled',
    ])
    expect(rows[1]![0]).toBe('1 % clear,')
    const unlucky = outlook({ outlook: seen({ chances: [{ ...seen().chances[0]!, clear_right: 0.02 }] }) })
    expect(text(unlucky)).toContain('2 % a clear gain or loss, by chance')
  })
  it('says what is missing to know it', () => {
    expect(text(outlook({ outlook: null, reason: 'Say in Ask what mean is expected.' }))).toContain(
      'Say in Ask',
    )
  })
})

const progress = { done: 8, begun: 9, of: 20, conflicts: 0 }
const plain = { after: null, after_days: 0, treatments: [], plots: [], amount: '', machine: '', operator: '', hours: null, cost: null, rain_after: [], warmth: '', trigger: null, closes: null, early: null, late: null, why: [], closes_day: null, closes_why: [], warning: '', setting: '', exempt: [], exempt_quadrats: '', intervals: { reentry_hours: null, preharvest_days: null, plantback_days: null, grazing_days: null, manure_days: null }, grazing: null, lot: null, planting: null, zones: [], found: [], watched: [] } // prettier-ignore
const season: Season = {
  today: '2026-10-20',
  visits: [{ id: 'v', etag: 'v1', name: 'Stand', due: '2026-10-19', date: null, measures: ['w'], progress, state: 'begun', caution: 'Ticks.', watched: [], hangs_on: '', observers: [], how: { placement: 'free', samples: {}, plots: [], observers: [], blind: false, guess_first: false, walked: null, bearing: null, spacing: null } }],
  crew: [], placements: [],
  weather: null,
  units: { temperature: '°C', area: 'ha', degree_days: '°C d', height: 'cm', biomass: 'kg/ha', soil_temperature: '°C' },
  closed: [], zones: [], nutrients: ['N'], rate_units: [{ rate: 't/ha', analysis: 'kg/t' }],
  operations: [
    { ...plain, id: 'kill', etag: 'k1', kind: 'kill', name: 'Crimp', due: '2026-10-18', done: null, note: '', caution: 'Stop the engine.', state: 'overdue' },
    { ...plain, id: 'sow', etag: 's1', kind: 'sow', name: 'Sowing', due: null, done: '2026-08-26', note: 'dry', caution: 'Mask.', state: 'done' },
  ],
} // prettier-ignore
const measures = [
  { id: 'w', name: 'Weeds', unit: 'weeds/m²' },
  { id: 'y', name: 'Yield', unit: 't/ha' },
]

describe('Season', () => {
  async function open() {
    answers['GET /api/v1/trials/t/season'] = [200, season]
    return openStation(SeasonPage, { trial }, '/season/t#kill')
  }
  it('lists visits and operations by date, with cautions only for what is still to come', async () => {
    const { page } = await open()
    expect(page.findAll('li .date').map((d) => d.text())).toEqual([
      '26 Aug 2026',
      '18 Oct 2026',
      '19 Oct 2026',
    ])
    expect(page.findAll('.caution').map((c) => c.text().replace(/\s+/g, ' '))).toEqual([
      'Caution Stop the engine.',
      'Caution Ticks.',
    ])
    expect(page.find('li.here').attributes('id')).toBe('kill')
    expect(page.text()).toContain('8 of 20 plots')
  })
  it('says with one tap that something was done today', async () => {
    const { page } = await open()
    answers['PUT /api/v1/trials/t/operations/kill'] = [200, season]
    await page.find('button[aria-label="Mark as done today: Crimp"]').trigger('click')
    await flushPromises()
    expect(sent.find((s) => s.method === 'PUT')!.body).toMatchObject({
      kind: 'kill', name: 'Crimp', due: '2026-10-18', note: '', done: '2026-10-20',
    }) // prettier-ignore
  })
  it('plans an operation that is called by its kind unless it is named, and keeps the form when it is refused', async () => {
    const { page } = await open()
    await page.findAll('button').find((b) => b.text() === 'Add operation')!.trigger('click') // prettier-ignore
    await flushPromises()
    await sendDialog()
    expect(dialogText()).toContain('Nothing here.')
    const body = sent.find((s) => s.method === 'PUT')!.body as { name: string; due: null }
    expect([body.name, body.due]).toEqual(['Sowing', null])
  })
})

describe('Walk', () => {
  async function open(may = trial.may) {
    answers['GET /api/v1/trials/t/season'] = [200, season]
    return openStation(WalkPage, { trial: { ...trial, measures, may } })
  }
  it('shows each visit with how far it has come, and which measures have none yet', async () => {
    const { page } = await open()
    expect(page.find('.open').text().replace(/\s+/g, ' ')).toBe('StandWeedsdue 19 Oct 2026')
    expect(page.find('progress').attributes('value')).toBe('8')
    expect(page.text()).toContain('Not in any visit yet: Yield.')
  })
  it('plans a visit for what is left, named after it', async () => {
    const { page } = await open()
    await page.findAll('button').find((b) => b.text() === 'Plan visit')!.trigger('click') // prettier-ignore
    await flushPromises()
    await sendDialog()
    expect(sent.find((s) => s.method === 'PUT')!.body).toMatchObject({
      name: 'Yield',
      due: null,
      measures: ['y'],
    })
  })
  it('plans several visits in one act, at equal intervals', async () => {
    const { page } = await open()
    answers['GET /api/v1/trials/t/stages'] = [200, { plants: [], seen: [] }]
    await page.findAll('button').find((b) => b.text() === 'Plan several visits')!.trigger('click') // prettier-ignore
    await flushPromises()
    const dialog = document.querySelector('.v-overlay')!
    dialog.querySelector<HTMLInputElement>('input[type=checkbox]')!.click()
    const first = dialog.querySelector<HTMLInputElement>('input[type=date]')!
    first.value = '2026-10-26'
    first.dispatchEvent(new Event('input'))
    await flushPromises()
    expect(dialog.textContent).toContain('26 Oct 2026 · 2 Nov 2026 · 9 Nov 2026 · 16 Nov 2026')
    await sendDialog()
    expect(sent.find((s) => s.method === 'PUT')!.body).toEqual({
      name: 'Weeds', measures: ['w'], dates: ['2026-10-26', '2026-11-02', '2026-11-09', '2026-11-16'], after: null,
      days: [], plant: '', stages: [], over_visits: null,
    }) // prettier-ignore
  })
  it('lets those who may not plan only look', async () => {
    const { page } = await open(['see', 'record'])
    expect(page.findAll('button').length).toBe(0)
  })
})

describe('a plot without a value', () => {
  it('has a missing status and a reason, or isn’t marked', async () => {
    const measures = [
      { name: 'Cover biomass', zero_when_failed: true },
      { name: 'Weeds', zero_when_failed: false },
    ]
    const page = show(MissingDialog, { plot: '101', measures, modelValue: false })
    await page.setProps({ modelValue: true })
    await flushPromises()
    await sendDialog()
    expect(dialogText()).toContain('Give the reason why')
    expect(page.emitted('mark')).toBeUndefined()
    document.querySelector<HTMLInputElement>('input[value=failed]')!.click()
    await typeInDialog('What happened', ' slugs ')
    await sendDialog()
    expect(page.emitted('mark')).toEqual([['failed', 'slugs']])
    expect(dialogText()).toContain('Zero in this plot: Cover biomass. Still to be counted: Weeds.')
  })
  it('can’t be called failed where nothing is measured on the cover itself', async () => {
    const measures = [{ name: 'Weeds', zero_when_failed: false }]
    const page = show(MissingDialog, { plot: '101', measures, modelValue: false })
    await page.setProps({ modelValue: true })
    await flushPromises()
    expect(dialogText()).toContain('Nothing at this visit is measured on the cover itself (Weeds)')
    expect(document.querySelector<HTMLInputElement>('input[value=failed]')!.disabled).toBe(true)
  })
})

const sends = () => ({
  outbox: outboxOf('ada@fen', 'Ada', boxInMemory()),
  about: { said: 'Covers: Weeds', path: '/' },
})

describe('a note', () => {
  it('goes to its plot under one id, and stays typed when it couldn’t be sent', async () => {
    const page = show(NoteDialog, {
      visit: 'v',
      unit: 'p1',
      plot: '101',
      me: 'Ada',
      ...sends(),
      modelValue: false,
    })
    await page.setProps({ modelValue: true })
    await flushPromises()
    await typeInDialog('Note', 'hares')
    await sendDialog()
    expect(dialogText()).toContain('Nothing here.')
    const url = sent.at(-1)!.url
    answers[`PUT ${url}`] = [200, { id: 'n', unit: 'p1', text: 'hares', by: 'Ada', at: '' }]
    await sendDialog()
    expect(sent.at(-1)).toMatchObject({ url, body: { unit: 'p1', text: 'hares' } })
    expect((page.emitted('left') as [{ text: string }][])[0]![0].text).toBe('hares')
  })
})

describe('two values for one place', () => {
  const row = (id: string, by: string, count: string, value: number) => ({
    id, unit: '101', measure: 'w', zone: '', component_kind: 'species', component: 'Fat hen', sample: 1, value, bound: null, fields: { count, guess: '8' },
    missing_status: '' as const, missing_reason: '', by, at: '',
  }) // prettier-ignore
  it('are shown with their authors, and the one that is chosen is sent with the reason', async () => {
    const visit = {
      ...PLANLESS,
      rows: [row('theirs', 'Joss', '9', 36)],
      conflicts: [row('mine', 'Ada', '7', 28)],
      measures: [
        {
          id: 'w',
          name: 'Weeds',
          unit: 'weeds/m²',
          factor: 1,
          samples: 4,
          samples_due: 4,
          sample_name: 'frame',
        },
      ],
    } as unknown as Visit
    const page = show(ConflictDialog, { trial, visit, ...sends(), modelValue: true })
    await flushPromises()
    expect(document.querySelector('.v-overlay h2')!.textContent).toBe(
      'Two values for plot 101: Weeds · Fat hen · Frame 1 of 4',
    )
    expect([...document.querySelectorAll('.v-overlay label')].map((l) => l.textContent!.trim()).slice(0, 2)).toEqual([
      '9 (36 weeds/m²) Joss', '7 (28 weeds/m²) Ada',
    ]) // prettier-ignore
    document.querySelector<HTMLInputElement>('input[value=mine]')!.click()
    await typeInDialog('Reason', 'counted twice')
    answers['POST /api/v1/observations/mine/decision'] = [200, { ...visit, conflicts: [] }]
    await sendDialog()
    expect(sent.at(-1)!.body).toMatchObject({ keep: 'mine', why: 'counted twice' })
    expect(page.emitted('update:modelValue')).toEqual([[false]])
    expect(page.emitted('decided')!.length).toBe(1)
  })
})

describe('the sheet on a phone', () => {
  const visit = {
    ...PLANLESS,
    order: ['101', '102'],
    zones: {},
    measures: [
      { id: 'w', name: 'Weeds', unit: 'weeds/m²', factor: 1, part_kind: '', parts: [], common_parts: [], samples: 2, samples_due: 2, sample_name: 'frame', zones: [], settings: ['Frame area: 0.25 m²'],
        fields: [{ key: 'count', name: 'Count', unit: '', kind: 'whole' as const, optional: false, choices: [], timed: false, depths: null }] },
    ],
  } as unknown as Visit // prettier-ignore
  const step = (unit: string, sample: number): Step => ({
    component_kind: '',
    component: '',
    unit,
    measure: 'w',
    zone: '',
    sample,
    field: 'count',
  })
  function card(at: Step, of = visit) {
    const typed: [Step, string][] = []
    const sheet = {
      cell: (place: Place) => emptyCell(place),
      type: (s: Step, text: string) => typed.push([s, text]),
      finish: () => undefined,
      mayUndo: { value: false },
      undone: { value: [] },
    }
    const props = {
      trial,
      visit: of,
      sheet,
      states: { '101': 'done', '102': 'todo' },
      at: () => at,
      mayRecord: true,
    }
    return { page: show(PlotCard, props), typed }
  }
  it('times the fills of a ring, also while the page is closed, and adds each to those before', async () => {
    const fills = {
      key: 'fills',
      name: 'Fills',
      unit: 's',
      kind: 'readings' as const,
      optional: false,
      choices: [],
      timed: true,
      depths: null,
    }
    const rings = {
      ...visit,
      measures: [
        { ...visit.measures[0]!, samples: 1, samples_due: 1, sample_name: 'frame', fields: [fills] },
      ],
    }
    const at = { ...step('101', 1), field: 'fills' }
    const typed: string[] = []
    const sheet = {
      cell: (place: Place) => ({ ...emptyCell(place), fields: { fills: typed.at(-1) ?? '' } }),
      type: (_: Step, text: string) => typed.push(text),
      finish: () => undefined,
      mayUndo: { value: false },
      undone: { value: [] },
    }
    const open = () =>
      show(PlotCard, { trial, visit: rings, sheet, states: {}, at: () => at, mayRecord: true })
    const press = (page: ReturnType<typeof open>, text: string) =>
      page
        .findAll('button')
        .find((b) => b.text().startsWith(text))!
        .trigger('click')
    vi.useFakeTimers()
    const first = open()
    await press(first, 'Start timer')
    first.unmount()
    vi.advanceTimersByTime(83_000)
    const second = open()
    vi.advanceTimersByTime(1_000)
    await nextTick()
    expect(second.find('[role=timer]').text()).toBe('1:24')
    await press(second, 'Stop timer at 84 s')
    await press(second, 'Start timer')
    vi.advanceTimersByTime(120_000)
    await nextTick()
    await press(second, 'Stop timer')
    vi.useRealTimers()
    expect(typed).toEqual(['84', '84; 120'])
  })
  it('leads from frame to frame, then to the next plot, then to the end', () => {
    const onward = (at: Step) => card(at).page.find('.onward').text()
    expect(onward(step('101', 1))).toBe('Go to frame 2 →')
    expect(onward(step('101', 2))).toBe('Go to plot 102 →')
    expect(onward(step('102', 2))).toBe('Save last plot')
    const rows = { ...visit, measures: [{ ...visit.measures[0]!, sample_name: 'length of row' }] }
    const along = card(step('101', 1), rows).page
    expect(along.find('.samples strong').text()).toBe('Length of row 1 of 2')
  })
  it('goes back to the last frame of the plot before', async () => {
    const { page } = card(step('102', 1))
    await page.findAll('.acts button')[0]!.trigger('click')
    expect(page.emitted('go')![0]![0]).toEqual(step('101', 2))
  })
  it('counts by tapping, and never below nothing', async () => {
    const { page, typed } = card(step('101', 1))
    await page.find('button[aria-label="Add 1 to Weeds"]').trigger('click')
    await page.find('button[aria-label="Subtract 1 from Weeds"]').trigger('click')
    expect(typed.map(([, text]) => text)).toEqual(['1', '0'])
  })
})

describe('counting by species on a phone', () => {
  const measure = {
    id: 'w', name: 'Weeds', unit: 'weeds/m²', factor: 1, part_kind: 'species', samples: 2, samples_due: 2, sample_name: 'frame', zones: [], settings: [],
    parts: [{ name: 'Fat hen', group: 'annual broadleaf' }, { name: 'Couch grass', group: '' }],
    common_parts: [{ name: 'Charlock', group: 'annual broadleaf' }],
    fields: [{ key: 'count', name: 'Count', unit: '', kind: 'whole' as const, optional: false, choices: [], timed: false, depths: null }],
  } // prettier-ignore
  function card(found: Record<string, string>) {
    const visit = { ...PLANLESS, order: ['101', '102'], zones: {}, measures: [measure] } as unknown as Visit
    const cells = new Map<string, Cell>()
    const finished: string[] = []
    const sheet = {
      cell: (place: Place) => cells.get(place.component) ?? emptyCell(place),
      type: (s: Step, text: string) =>
        cells.set(s.component, { ...emptyCell(s), status: 'draft', fields: { count: text } }),
      finish: (s: Step) => finished.push(`${s.component} ${cells.get(s.component)!.fields.count}`),
      mayUndo: { value: false },
      undone: { value: [] },
      addPart: vi.fn(),
    }
    const at = { component_kind: 'species', component: 'Fat hen', unit: '101', measure: 'w', zone: '', sample: 1, field: 'count' } as Step // prettier-ignore
    for (const [name, text] of Object.entries(found)) sheet.type({ ...at, component: name }, text)
    const props = { trial, visit, sheet, states: {}, at: () => at, mayRecord: true }
    return { page: show(PlotCard, props), cells, finished, sheet }
  }
  const keyOf = (page: ReturnType<typeof card>['page'], name: string) =>
    page.findAll('.keys button').find((button) => button.text().startsWith(name))!

  it('adds one for each tap and takes one away by holding', async () => {
    vi.useFakeTimers()
    const { page, cells } = card({})
    for (let n = 0; n < 3; n++) await keyOf(page, 'Fat hen').trigger('click')
    await keyOf(page, 'Fat hen').trigger('pointerdown')
    vi.advanceTimersByTime(600)
    await keyOf(page, 'Fat hen').trigger('pointerup')
    await keyOf(page, 'Fat hen').trigger('click') // the click that ends the hold adds nothing
    expect(cells.get('Fat hen')!.fields.count).toBe('2')
    vi.useRealTimers()
  })
  it('takes a species without a count for none only in a frame that was counted in, or by its own button', async () => {
    const counted = card({ 'Fat hen': '3' })
    await counted.page.find('.onward').trigger('click')
    await painted()
    expect(counted.finished.sort()).toEqual(['Couch grass 0', 'Fat hen 3'])
    expect(counted.page.text()).not.toContain('Enter 0 for all')

    const passed = card({})
    await passed.page.find('.onward').trigger('click')
    await painted()
    expect(passed.finished).toEqual([])
    await passed.page.findAll('button').find((b) => b.text() === 'Enter 0 for all')!.trigger('click') // prettier-ignore
    await painted()
    expect(passed.finished.sort()).toEqual(['Couch grass 0', 'Fat hen 0'])
  })
})

describe('Tell', () => {
  it('shows the page word for word, beside the two files', async () => {
    answers['GET /api/v1/trials/t/report'] = [
      200,
      {
        question: '', where: 'Long Piece, 12 plots', short: 'Clear gain in Yield: Oat.', how: 'h', signed: 's',
        measures: [{ name: 'Yield', unit: 't/ha', refusal: '', lines: [{ treatment: 'Oat', sentence: '3.0 t/ha more.' }] }],
        doubts: [{ title: 'Lost plot', finding: 'Plot 203.', answer: 'A drain.' }],
      },
    ] // prettier-ignore
    const { page } = await openStation(TellPage, { trial })
    const job = {
      id: 'j',
      kind: 'file',
      state: 'done',
      done: 0,
      of: 0,
      by: 'Ada',
      error: null,
      has_file: true,
    }
    answers['POST /api/v1/trials/t/files'] = [202, { ...job, state: 'queued' }]
    answers['GET /api/v1/jobs/j'] = [200, job]
    await page.find('button.card').trigger('click')
    await flushPromises()
    expect(sent.find((s) => s.url.endsWith('/files'))!.body).toEqual({ file: 'page.pdf' })
    expect(page.find('a[download]').attributes('href')).toBe('/api/v1/jobs/j/file')
    const detail = 'The trial isn’t there any more.'
    answers['GET /api/v1/jobs/j'] = [
      200,
      { ...job, state: 'failed', error: { code: 'conflict', detail, errors: [] } },
    ]
    await page.findAll('button.card')[1]!.trigger('click')
    await flushPromises()
    expect(page.text()).toContain(detail)
    expect(page.find('h2').text()).toBe('Covers')
    for (const words of ['Oat: 3.0 t/ha more.', 'Clear gain in Yield: Oat.', 'Plot 203.', 'A drain.'])
      expect(page.text().replace(/\s+/g, ' ')).toContain(words)
  })
})

describe('Today', () => {
  const line = (kind: string, id: string, state: string, name = id) => ({
    kind, id, name, state, trial: 't', site: 's', trial_name: 'Covers', date: '2026-10-20', done: 8, of: 20,
  }) // prettier-ignore
  async function open(role: string, groups: object = {}) {
    answers['GET /api/v1/today'] = [
      200,
      { due: [], begun: [], new: [], soon: [], conflicts: [], more: [], ...groups },
    ]
    answers['GET /api/v1/trials'] = [200, { count: 0, results: [] }]
    answers['GET /api/v1/session'] = [
      200,
      { name: 'Ada', email: 'a', units: 'metric', memberships: [member(role)] },
    ]
    return openStation(TodayPage)
  }
  it('leads from each line to its visit, operation or board', async () => {
    const { page } = await open('owner', {
      due: [line('operation', 'kill', 'overdue')],
      begun: [line('visit', 'v', 'begun')],
      new: [line('reading', 's', 'done', 'Covers')],
    })
    expect(page.findAll('.lines a').map((a) => a.attributes('href'))).toEqual([
      '/season/t?site=s#kill', '/visit/t/v?site=s', '/read/t?site=s',
    ]) // prettier-ignore
    expect(page.findAll('h2').map((h2) => h2.text()).slice(0, 3)).toEqual([
      'Due', 'Partly done', 'New values, not analysed yet',
    ]) // prettier-ignore
    expect(page.findAll('.state').map((s) => s.text())[1]).toBe('partly done, 8 of 20 plots')
  })
  it('says that nothing is due, and offers a new trial only to those who may plan', async () => {
    expect((await open('researcher')).page.text()).toContain('Nothing is due.')
    expect((await open('researcher')).page.text()).toContain('Plan new trial')
    expect((await open('technician')).page.text()).not.toContain('Plan new trial')
  })
})

describe('the keys of a screen', () => {
  const press = (target: EventTarget) =>
    target.dispatchEvent(new KeyboardEvent('keydown', { key: '?', bubbles: true, cancelable: true }))
  it('are shown at ? also in a figure’s field, but not where a question mark can be meant', async () => {
    const { page } = await openStation({
      components: { HelpDialog },
      setup: () => useKeys(() => [['x', 'the plot is missing']]),
      template: '<div><HelpDialog /><input class="words"><input class="figure" data-step="1"></div>',
    })
    press(page.find('.words').element)
    await flushPromises()
    expect(dialogText()).toBe('')
    press(page.find('.figure').element)
    await flushPromises()
    expect(dialogText()).toContain('the plot is missing')
    page.unmount()
  })
})

describe('units', () => {
  it('are turned for the person, and all figures are asked for again', async () => {
    answers['PATCH /api/v1/session'] = [200, { name: 'Ada', email: 'a', units: 'us', memberships: [] }]
    const session = { name: 'Ada', email: 'a', units: 'metric', memberships: [] }
    const page = show(UnitsChoice, { session })
    expect(page.find('button').attributes('aria-label')).toBe('Change units, now metric')
    await page.find('button').trigger('click')
    await flushPromises()
    expect(sent.at(-1)).toMatchObject({ method: 'PATCH', body: { units: 'us' } })
  })
})

describe('operations that hang on each other', () => {
  const drill = { ...plain, id: 'drill', etag: 'd1', kind: 'plant' as const, name: 'Drill', due: '2026-11-01', done: null, note: '', caution: '', state: 'later' as const, after: 'kill', after_days: 14, treatments: ['oat'] } // prettier-ignore
  const open = async () => {
    answers['GET /api/v1/trials/t/season'] = [200, { ...season, operations: [...season.operations, drill] }]
    return (await openStation(SeasonPage, { trial })).page
  }
  it('say what they wait for, keep that when they are marked as done, and tell what moved', async () => {
    const page = await open()
    expect(page.find('#drill').text()).toContain('Planting · 14 days after Crimp')
    answers['PUT *'] = [200, season]
    answers['GET /api/v1/trials/t/season'] = [
      200,
      { ...season, operations: [...season.operations, { ...drill, due: '2026-11-08' }] },
    ]
    await page.find('button[aria-label="Mark as done today: Drill"]').trigger('click')
    await flushPromises()
    expect(sent.find((s) => s.method === 'PUT')!.body).toMatchObject({
      after: 'kill', after_days: 14, treatments: ['oat'], due: null, done: '2026-10-20',
    }) // prettier-ignore
    expect(page.text()).toContain('Moved with it: Drill from 1 Nov 2026 to 8 Nov 2026.')
  })
})
