import { flushPromises } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { defineComponent, h, ref } from 'vue'

import { queryClient, trialQueries, type Phase, type Rehearsal, type Trial } from '@/api/queries'
import BlocksCurve from '@/figures/BlocksCurve.vue'
import FactorRows from '@/stations/ask/FactorRows.vue'
import { emptyDetails } from '@/stations/ask/described'
import { askOf, emptyDraft, emptyFactor, factorsOf, type AskDraft } from '@/stations/ask/draft'
import PlanPage from '@/stations/plan/PlanPage.vue'
import RehearsalDesk from '@/stations/plan/RehearsalDesk.vue'

import { show } from './mounting'
import { machines, trial } from './samples'
import { answers, sent } from './server'
import { openStation } from './station'

const { size: sizes } = trial.proposal
const split: Trial = {
  ...trial,
  factors: [
    { name: 'kill', levels: ['early', 'late'], whole_strips: true, kind: '', control: '' },
    { name: 'cover', levels: ['vetch', 'oat'], whole_strips: false, kind: '', control: '' },
  ],
  proposal: {
    design: 'split_plot',
    whole_factor: 'kill',
    column_factor: '',
    block_size: 0,
    why: 'Kill is done over whole strips.',
    impossible: '',
    size: sizes,
  },
}
const cells = (counts: Record<string, number>[]) =>
  counts.map((one, i) => ({
    treatment: trial.treatments[i + 1]!.id,
    verdict: 'not-settled',
    counts: one,
    shown: null,
  }))
const rehearsed = (...counts: Record<string, number>[]): Rehearsal => ({
  seasons: 500, left_out: ['Height'], measures: [{ name: 'Yield', planned: 'none' as const, cells: cells(counts) }],
}) // prettier-ignore

describe('the choice of a design', () => {
  it('starts from what is proposed, and sends the design with its factors and constraints', async () => {
    answers['POST /api/v1/trials/t/outlook'] = [200, { plots: 36, per_block: 9, machines, measures: [] }]
    answers['POST /api/v1/trials/t/plan'] = [200, split]
    const { page } = await openStation(PlanPage, { trial: split })
    expect(page.text()).toContain('Proposed design: Split plot. Kill is done over whole strips.')
    expect(sent.find((s) => s.url.endsWith('/outlook'))!.body).toEqual({
      blocks: 4, design: 'split_plot', whole_factor: 'kill', column_factor: '', block_size: null, width: '6', length: '12', gap: '0.5', alley: '3', side_by_side: null, whole_share: '1',
      not_grown: [], systematic: false, demonstration: false, plot_minutes: '', frame_minutes: '', hours: '', frame_cv: {},
    }) // prettier-ignore
    expect(page.find('output').text()).toBe('4 blocks of 9 plots')
    await page.find('.keep-to input[type=checkbox]').setValue(true)
    await page.find('form').trigger('submit')
    await flushPromises()
    expect(sent.at(-1)!.url).toContain('/api/v1/')
    expect(sent.find((s) => s.url.endsWith('/plan'))!.body).toMatchObject({
      design: 'split_plot', whole_factor: 'kill', constraints: [{ kind: 'not-behind-itself', treatments: [], most: 1 }],
    }) // prettier-ignore
  })
  it('parts replicates into incomplete blocks, of as many plots as one types', async () => {
    const proposal = {
      ...split.proposal,
      design: 'incomplete_block' as const,
      whole_factor: '',
      block_size: 4,
    }
    const seen = {
      plots: 48,
      per_block: 12,
      machines,
      measures: [],
      incomplete: { sizes: [4, 4, 4], efficiency: 0.77 },
    }
    answers['POST /api/v1/trials/t/outlook'] = [200, seen]
    const { page } = await openStation(PlanPage, { trial: { ...trial, proposal } })
    const asked = () => sent.filter((s) => s.url.endsWith('/outlook')).at(-1)!.body
    expect(asked()).toMatchObject({ design: 'incomplete_block', block_size: '4' })
    expect(page.find('output').text()).toBe('4 replicates of 12 plots')
    expect(page.text()).toContain(
      '3 incomplete blocks of 4 plots, side by side. Average efficiency within these blocks: 77 %',
    )
    const size = page
      .findAll('fieldset .v-text-field')
      .find((f) => f.text().includes('Size of incomplete blocks'))!
    await size.find('input').setValue('6')
    await flushPromises()
    expect(asked()).toMatchObject({ block_size: '6' })
  })
  it('keeps a person’s own choice until the proposal is taken', async () => {
    answers['POST /api/v1/trials/t/outlook'] = [200, { plots: 36, per_block: 9, machines, measures: [] }]
    const drawn = { design: 'rcbd', whole_factor: '', column_factor: '', block_size: 0, constraints: [], draws: 2, blocks: 3, width: 6,
      length: 12, gap: 0, alley: 0, serpentine: false, side_by_side: false, seed: 1, algorithm: 'a', drawn_at: '2026-01-01T00:00:00Z',
      ground_width: 30, ground_length: 40 } as Trial['plan'] // prettier-ignore
    const { page } = await openStation(PlanPage, { trial: { ...split, plan: drawn } })
    const asked = () => sent.filter((s) => s.url.endsWith('/outlook')).at(-1)!.body
    expect(asked()).toMatchObject({ design: 'rcbd', whole_factor: '', blocks: 3 })
    expect(page.text()).toContain('Randomised 2 times')
    await page.find('.why button').trigger('click')
    await flushPromises()
    expect(asked()).toMatchObject({ design: 'split_plot', whole_factor: 'kill' })
    expect(page.find('.why button').exists()).toBe(false)
  })
})

describe('the machines', () => {
  it('say what a plot doesn’t suit, and the width that suits is taken', async () => {
    const fit = { width: 9, too_narrow: '', hints: ['7 m isn’t a whole number of drill widths.'] }
    answers['POST /api/v1/trials/t/outlook'] = [200, { plots: 9, per_block: 3, machines: fit, measures: [] }]
    const { page } = await openStation(PlanPage, { trial })
    expect(page.find('.hints').text()).toContain('7 m isn’t a whole number')
    await page.find('.hints button').trigger('click')
    await flushPromises()
    expect(sent.filter((s) => s.url.endsWith('/outlook')).at(-1)!.body).toMatchObject({ width: '9' })
  })
  it('are saved a second time from what the first save left', async () => {
    answers['POST /api/v1/trials/t/outlook'] = [200, { plots: 9, per_block: 3, machines, measures: [] }]
    answers['GET /api/v1/trials/t'] = [200, { ...trial, etags: { ...trial.etags, equipment: 'e2' } }]
    queryClient.setQueryData(trialQueries.one('t').queryKey, trial as unknown as Trial)
    const { page } = await openStation(PlanPage, { trial })
    const address = `/api/v1/workspaces/${trial.workspace}/equipment`
    answers[`PUT ${address}`] = [200, trial.equipment]
    for (const width of ['3', '6']) {
      await page.find('.machines input').setValue(width)
      await page.find('.machines form').trigger('submit')
      await flushPromises()
    }
    expect(sent.filter((one) => one.url === address).map((one) => one.etag)).toEqual(['"e1"', '"e2"'])
  })
  it('are kept as typed, and what is wrong is said where they stand', async () => {
    answers['POST /api/v1/trials/t/outlook'] = [200, { plots: 9, per_block: 3, machines, measures: [] }]
    const { page } = await openStation(PlanPage, { trial })
    const address = `PUT /api/v1/workspaces/${trial.workspace}/equipment`
    answers[address] = [422, { code: 'bad-value', detail: '“wide” isn’t a figure.' }]
    await page.find('.machines input').setValue('wide')
    await page.find('.machines form').trigger('submit')
    await flushPromises()
    expect(sent.at(-1)!.body).toMatchObject({ drill: 'wide', combine: '' })
    expect(page.find('.machines .problem').text()).toContain('isn’t a figure')
  })
})

describe('a rehearsal', () => {
  const job = { id: 'j', kind: 'rehearsal', by: 'Maren', error: null, has_file: false, of: 500 }
  const ended = (one: Rehearsal, done = 500) => {
    answers['POST /api/v1/trials/t/rehearsals'] = [202, { ...job, state: 'queued', done: 0 }]
    answers['GET /api/v1/jobs/j'] = [200, { ...job, state: 'done', done }]
    answers['GET /api/v1/rehearsals/j'] = [200, { ...one, seasons: done }]
  }
  it('sends the truth as typed, shows what its job found, and says what was left out', async () => {
    ended(rehearsed({ 'clear-gain': 400, 'not-settled': 100 }, { 'not-settled': 500 }))
    const desk = show(RehearsalDesk, { trial, wholeShare: '0,5' })
    await desk.find('.truth input').setValue('1,5')
    await desk.find('.lost input').setValue('101; 102')
    await desk.find('form').trigger('submit')
    await flushPromises()
    expect(sent.find((s) => s.url.endsWith('/rehearsals'))!.body).toMatchObject({
      seasons: 500, lost: ['101', '102'], whole_share: '0,5',
      margins: { [trial.treatments[1]!.id]: '1,5', [trial.treatments[2]!.id]: '' },
    }) // prettier-ignore
    expect(desk.text()).toContain('500 of 500 seasons')
    expect(desk.findAll('tr')[0]!.text()).toMatch(/80 % Clear gain\s*20 % Not settled/)
    expect(desk.text()).toContain('because the margin or the variation isn’t known: Height')
  })
  it('shows how far it is, stops when asked, and keeps the seasons that were read', async () => {
    vi.useFakeTimers()
    ended(rehearsed({ 'not-settled': 40 }, { 'not-settled': 40 }), 40)
    const stopped = answers['GET /api/v1/jobs/j']!
    answers['GET /api/v1/jobs/j'] = [200, { ...job, state: 'running', done: 30 }]
    answers['DELETE /api/v1/jobs/j'] = [200, { ...job, state: 'running', done: 30 }]
    const desk = show(RehearsalDesk, { trial, wholeShare: '1' })
    await desk.find('form').trigger('submit')
    await flushPromises()
    expect(desk.text()).toContain('30 of 500 seasons')
    const stop = desk.findAll('button').find((b) => b.text() === 'Stop simulation')!
    await stop.trigger('click')
    await flushPromises()
    expect(sent.filter((s) => s.method === 'DELETE').map((s) => s.url)).toEqual(['/api/v1/jobs/j'])
    answers['GET /api/v1/jobs/j'] = stopped
    await vi.runAllTimersAsync()
    vi.useRealTimers()
    await flushPromises()
    expect(desk.text()).toContain('40 of 500 seasons')
    expect(desk.findAll('tr')[0]!.text()).toContain('100 % Not settled')
  })
  it('says in how many seasons a planned test shows it', async () => {
    const one = rehearsed({ 'not-settled': 500 }, { 'not-settled': 500 })
    one.measures[0]!.planned = 'equivalence'
    one.measures[0]!.cells[0]!.shown = 350
    ended(one)
    const desk = show(RehearsalDesk, { trial, wholeShare: '1' })
    await desk.find('form').trigger('submit')
    await flushPromises()
    expect(desk.text()).toContain('shown equivalent in 70 %')
  })
})

describe('factors', () => {
  const made = (names: string[][], sign = '') => ({
    treatments: names.map(([kill, cover]) => ({
      name: `${kill}, ${cover}`,
      code: [sign, kill, cover![0]!.toUpperCase()].filter(Boolean).join('-'),
      levels: { kill, cover },
    })),
    rotation: [] as Phase[],
  })
  async function open(draft: AskDraft) {
    const kept = ref(draft)
    const Frame = defineComponent(
      () => () =>
        h(FactorRows, {
          modelValue: kept.value,
          'onUpdate:modelValue': (now: AskDraft) => (kept.value = now),
        }),
    )
    const rows = show(Frame, {})
    await flushPromises()
    return { rows, kept }
  }
  it('are crossed by the server, and a combination keeps its id and code', async () => {
    const draft = emptyDraft()
    draft.treatments = [
      {
        id: 'own',
        name: 'Early vetch',
        code: 'EV',
        is_control: false,
        levels: { cover: 'vetch', kill: 'early' },
        details: emptyDetails(),
      },
    ]
    answers['POST /api/v1/crossing'] = [200, made([['early', 'vetch'], ['late', 'vetch']])] // prettier-ignore
    const { kept } = await open(draft)
    kept.value.factors = [
      { id: 'k', name: 'kill', levels: 'early; late,', whole_strips: true, kind: '', control: '' },
      { id: 'c', name: 'cover', levels: 'vetch, oat', whole_strips: false, kind: '', control: '' },
    ]
    kept.value.factors[1]!.levels = 'vetch, oats'
    await vi.waitFor(() => expect(kept.value.treatments).toHaveLength(2))
    expect(sent.filter((one) => one.method === 'POST')).toHaveLength(1) // not one at every key
    expect(sent.at(-1)!.body).toMatchObject({
      factors: [{ name: 'kill', levels: ['early', 'late'], whole_strips: true, kind: '', control: '' }, {}],
    })
    expect(kept.value.treatments.map((one) => [one.name, one.code])).toEqual([
      ['Early vetch', 'EV'],
      ['late, vetch', 'late-V'],
    ])
    expect(kept.value.treatments[0]!.id).toBe('own')
    // A code that the server proposed follows the levels; one that a person typed, or that is taken, doesn't change.
    answers['POST /api/v1/crossing'] = [200, made([['early', 'vetch'], ['late', 'vetch'], ['late', 'oat']], 'new')] // prettier-ignore
    kept.value.treatments[0]!.code = 'new-late-O'
    kept.value.factors[1]!.levels = 'vetch, oat'
    await vi.waitFor(() => expect(kept.value.treatments).toHaveLength(3))
    expect(kept.value.treatments.map((one) => one.code)).toEqual(['new-late-O', 'new-late-V', ''])
  })
  it('mark the treatments of the control level, of one factor at a time', async () => {
    answers['POST /api/v1/crossing'] = [200, made([['early', 'bare'], ['early', 'oat'], ['late', 'bare'], ['late', 'oat']])] // prettier-ignore
    const { rows, kept } = await open(emptyDraft())
    kept.value.factors = [
      { id: 'k', name: 'kill', levels: 'early, late', whole_strips: true, kind: '', control: '' },
      { id: 'c', name: 'cover', levels: 'bare, oat', whole_strips: false, kind: '', control: '' },
    ]
    await vi.waitFor(() => expect(kept.value.treatments).toHaveLength(4))
    const choices = () => rows.findAllComponents({ name: 'VSelect' }).filter((one) => one.classes('level'))
    choices()[1]!.vm.$emit('update:modelValue', 'bare')
    const controls = () => kept.value.treatments.filter((one) => one.is_control).map((one) => one.name)
    await vi.waitFor(() => expect(controls()).toEqual(['early, bare', 'late, bare']))
    expect(sent.at(-1)!.body).toMatchObject({ factors: [{ control: '' }, { control: 'bare' }] })
    expect(rows.text()).toContain('compared with bare at the same levels of the other factors')
    choices()[0]!.vm.$emit('update:modelValue', 'early')
    await vi.waitFor(() => expect(controls()).toEqual(['early, bare', 'early, oat']))
    expect(kept.value.factors.map((one) => one.control)).toEqual(['early', ''])
  })
  it('say what is wrong with them, and lose no treatment over it', async () => {
    const draft = emptyDraft()
    draft.treatments[0]!.name = 'Bare'
    answers['POST /api/v1/crossing'] = [
      422,
      { code: 'bad-design', detail: 'Factor kill lists the level early twice.' },
    ]
    const { rows, kept } = await open(draft)
    kept.value.factors = [
      { id: 'k', name: 'kill', levels: 'early, early', whole_strips: false, kind: '', control: '' },
    ]
    await vi.waitFor(() => expect(rows.find('.problem').exists()).toBe(true))
    expect(rows.find('.problem').text()).toContain('twice')
    expect(kept.value.treatments[0]!.name).toBe('Bare')
  })
  it('show what stands in each phase of a rotation, and how far a trial has come', async () => {
    const rotation = [
      { starts_with: 'potato', crops: ['potato', 'beet', 'potato'] },
      { starts_with: 'beet', crops: ['beet', 'potato', 'beet'] },
    ]
    answers['POST /api/v1/crossing'] = [200, { ...made([]), rotation }]
    const draft = {
      ...emptyDraft(),
      factors: [{ ...emptyFactor(), name: 'starts', levels: 'potato, beet', kind: 'phase' as const }],
    }
    const rows = show(FactorRows, { modelValue: draft, rotationYear: 1 })
    await flushPromises()
    expect(rows.findAll('.rotation tbody tr').map((row) => row.findAll('td').map((td) => td.text()))).toEqual(
      rotation.map((phase) => phase.crops),
    )
    expect(rows.findAll('.rotation thead .now').map((th) => th.text())).toEqual(['Year 2, now'])
  })
  it('give the keyboard to the row that was just added, and to the reason of what can’t be', async () => {
    const { rows, kept } = await open(emptyDraft())
    await rows.findAll('button').at(-1)!.trigger('click')
    await flushPromises()
    expect(document.activeElement!.closest('[role=group]')!.getAttribute('aria-label')).toBe('factor 1')
    kept.value.removed.push({ levels: { kill: 'late' }, why: '' })
    await flushPromises()
    expect(document.activeElement!.closest('li')!.textContent).toContain('late')
  })
  it('go out with the place of the corner as it was typed', () => {
    const draft = emptyDraft()
    Object.assign(draft.sites[0]!, { latitude: '52,7', longitude: '', bearing: '' })
    draft.factors = [
      { id: 'x', name: ' rate ', levels: '10, 20', whole_strips: false, kind: '', control: '' },
    ]
    const out = askOf(draft, 'w')
    expect(out.sites[0]).toMatchObject({ latitude: '52,7', longitude: null, bearing_deg: '0' })
    expect([out.factors, factorsOf(emptyDraft())]).toEqual([
      [{ name: 'rate', levels: ['10', '20'], whole_strips: false, kind: '', control: '' }],
      [],
    ])
  })
})

describe('the curve over blocks', () => {
  it('labels every point and the margin, and is said in words', () => {
    const points = [
      { blocks: 2, detectable: 4.04, plots: 6, hours: 0.7 },
      { blocks: 4, detectable: 2.5, plots: 12, hours: 12.4 },
    ]
    const curve = show(BlocksCurve, { points, margin: 2, unit: 't/ha', decimals: 1, now: 4 })
    expect(curve.find('svg').attributes('aria-label')).toContain('2: 4.0 (0.7 h), 4: 2.5 (12.4 h) t/ha')
    expect(curve.findAll('.axis').map((row) => row.findAll('text').map((one) => one.text()))).toEqual([
      ['blocks', '2', '4'],
      ['plots', '6', '12'],
      ['hours', '0.7', '12'],
    ])
    expect(curve.findAll('circle.now')).toHaveLength(1)
    expect(curve.text()).toContain('margin 2.0')
  })
})
