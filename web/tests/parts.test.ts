import { afterEach, describe, expect, it } from 'vitest'
import { h, nextTick } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'

import { Problem } from '@/api/client'
import type { Cell, MeasureReading, Plot, Treatment } from '@/api/queries'
import FigureFrame from '@/figures/FigureFrame.vue'
import IntervalRows from '@/figures/IntervalRows.vue'
import RawByBlock from '@/figures/RawByBlock.vue'
import GroundMap from '@/ground/GroundMap.vue'
import DropZone from '@/parts/DropZone.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import OddCells from '@/stations/bring/OddCells.vue'
import ColumnRoles from '@/stations/bring/ColumnRoles.vue'
import MeansTable from '@/stations/read/MeansTable.vue'
import RawTable from '@/stations/read/RawTable.vue'
import VerdictCell from '@/stations/read/VerdictCell.vue'
import SeasonStrip from '@/strip/SeasonStrip.vue'

import { show } from './mounting'

afterEach(() => (document.body.innerHTML = ''))

const treatments: Treatment[] = [
  { id: 'a', name: 'Bare stubble', code: 'BS', is_control: true, levels: {}, details: { seed_set: '' } },
  { id: 'b', name: 'Black oat', code: 'BO', is_control: false, levels: {}, details: { seed_set: '' } },
]
const plots: Plot[] = [0, 1, 2, 3].map((i) => ({
  id: `p${i}`,
  label: `${101 + i}`,
  block: i < 2 ? 'A' : 'B',
  incomplete_block: '',
  treatment: i % 2 ? 'b' : 'a',
  x: (i % 2) * 7,
  y: Math.floor(i / 2) * 15,
  width: 6,
  length: 12,
  whole_plot: '',
}))
const values = [40.1, 43.0, null, 44.2]

function measure(changes: Partial<MeasureReading> = {}): MeasureReading {
  return {
    id: 'm',
    name: 'Yield',
    unit: 't/ha',
    difference_unit: 't/ha',
    group: 'Crop',
    occasion: null,
    counted: false,
    direction: 'higher',
    margin: 2,
    margin_kind: 'absolute',
    planned_kind: 'none',
    base: 'Bare',
    controls: ['Bare'],
    primary: false,
    decimals: 1,
    band: { low: -2, high: 2 },
    refusal: '',
    detectable: 3,
    cells: [],
    planned: [],
    letters_withheld: '',
    notes: [],
    doubts: [],
    plots: plots.map((p, i) => ({
      label: p.label,
      block: p.block,
      treatment: treatments[i % 2]!.name,
      value: values[i]!,
      samples: [values[i]!],
      observations: [`o${i}`],
      residual: values[i] === null ? null : 0.4,
      fitted: 41,
      quantile: 0,
      studentized: 0,
    })),
    full: {
      model: '',
      design: 'rcbd',
      method: 'tukey',
      n_plots: 3,
      grand_mean: 42,
      cv_percent: 2,
      anova: [],
      variance_components: [],
      means: [
        { treatment: 'Bare stubble', mean: 40.12, se: 0.51, df: 3.2, lower: 38.5, upper: 41.7, letters: 'b' },
        { treatment: 'Black oat', mean: 43.64, se: 0.51, df: 3.2, lower: 42, upper: 45.2, letters: null },
      ],
      pairs: [],
      lsd: null,
      shapiro_p: null,
      levene_p: null,
    },
    ...changes,
  }
}

function cell(changes: Partial<Cell>): Cell {
  return {
    treatment: 'Black oat', verdict: 'clear-gain', estimate: 4, lower: 2.5, upper: 5.5, p: 0.001, reason: '', blocks: null,
    blocks_likely: null, more_than_40: false, stands_out: false, against: 'Bare', ...changes,
  } // prettier-ignore
}

describe('a cell of the board', () => {
  const text = (changes: Partial<Cell>) =>
    show(VerdictCell, { cell: cell(changes), measure: measure() }).text()

  it('says the verdict in words beside the signed difference', () => {
    expect(text({})).toContain('+4.0')
    expect(text({})).toContain('Clear gain')
  })
  it('says how many blocks would settle it, or that blocks aren’t the way', () => {
    expect(text({ verdict: 'not-settled', blocks: 9, blocks_likely: 14 })).toContain(
      '9 blocks settle it if the estimate stays (14 for an 80 % chance)',
    )
    expect(text({ verdict: 'not-settled', more_than_40: true })).toContain('use another measure')
  })
  it('says why a protected comparison isn’t settled', () => {
    expect(text({ verdict: 'not-settled', reason: 'overall F p = 0.12' })).toContain(
      'Not settled (overall F p = 0.12)',
    )
  })
  it('has no glyph where there is no answer, but the reason', () => {
    const none = show(VerdictCell, {
      cell: cell({ verdict: 'no-answer', reason: 'All alike.' }),
      measure: measure(),
    })
    expect(none.text()).toBe('No answer All alike.')
    const described = cell({
      verdict: 'no-answer',
      reason: 'Not by chance.',
      estimate: 4,
      lower: null,
      upper: null,
      p: null,
    })
    const seen = show(VerdictCell, { cell: described, measure: measure() })
    expect(seen.text().replace(/\s+/g, ' ')).toBe('No answer Not by chance. +4.0 t/ha was observed')
    expect(none.find('svg').exists()).toBe(false)
  })
  it('fills the lozenge only when the interval lies wholly beyond the margin', () => {
    const filled = (verdict: Cell['verdict']) =>
      show(VerdictCell, { cell: cell({ verdict }), measure: measure() })
        .find('.lozenge')
        .classes('clear')
    expect(['clear-gain', 'clear-loss', 'clear-more'].map((v) => filled(v as Cell['verdict']))).toEqual([
      true,
      true,
      true,
    ])
    expect(
      ['real-size-unsettled', 'not-settled', 'real-but-small'].map((v) => filled(v as Cell['verdict'])),
    ).toEqual([false, false, false])
  })
  it('tells it all to those who listen', () => {
    const glyph = show(VerdictCell, {
      cell: cell({ lower: -0.5, verdict: 'not-settled' }),
      measure: measure(),
    }).find('[role=img][tabindex]')
    expect(glyph.text()).toBe('−0.5 to 5.5 t/ha') // shown while one points at it, or has it in focus
    expect(glyph.attributes('aria-label')).toBe(
      'Black oat: difference +4.0, interval −0.5 to 5.5 t/ha. Not settled.',
    )
  })
})

describe('the ground', () => {
  const map = (chosen: string[] = [], schematic = false) =>
    show(GroundMap, {
      plots,
      treatments,
      faces: {
        '101': { figure: '40.1' },
        '103': { state: 'lost' },
        '104': { figure: '44.2', state: 'doubtful' },
      },
      bearing: 30,
      schematic,
      gradient: 'slope falls north',
      chosen,
    })

  it('has a scale bar only where plots are drawn to scale', () => {
    const bars = [false, true].map((schematic) => map([], schematic).find('[data-part=scale-bar]').exists())
    expect(bars).toEqual([true, false])
  })

  it('names each plot by what is seen on it, then treatment, block and doubt', () => {
    const names = map()
      .findAll('[role=option]')
      .map((o) => o.attributes('aria-label'))
    expect(names).toEqual([
      '101 BS 40.1, Bare stubble, block A',
      '102 BO, Black oat, block A',
      '103 BS missing, Bare stubble, block B',
      '104 BO 44.2, Black oat, block B, in doubt',
    ])
  })
  it('chooses with a click, adds with shift, lets go with escape', async () => {
    const wrapper = map()
    const options = wrapper.findAll('[role=option]')
    await options[0]!.trigger('click')
    expect(wrapper.emitted('update:chosen')!.at(-1)).toEqual([['101']])
    await wrapper.setProps({ chosen: ['101'] })
    await options[3]!.trigger('click', { shiftKey: true })
    expect(wrapper.emitted('update:chosen')!.at(-1)).toEqual([['101', '104']])
    await wrapper.find('svg').trigger('keydown', { key: 'Escape' })
    expect(wrapper.emitted('update:chosen')!.at(-1)).toEqual([[]])
  })
  it('has one stop for the tab key, which the arrows move', async () => {
    const wrapper = map()
    const stops = () => wrapper.findAll('[role=option]').map((o) => o.attributes('tabindex'))
    expect(stops()).toEqual(['0', '-1', '-1', '-1'])
    await wrapper.find('svg').trigger('keydown', { key: 'ArrowUp' })
    await nextTick()
    expect(stops()).toEqual(['-1', '-1', '0', '-1'])
  })
  it('turns north against the bearing of the blocks', () => {
    expect(map().find('.north').attributes('transform')).toContain('rotate(-30)')
  })
})

describe('figures', () => {
  it('show their table on asking', async () => {
    const frame = show(FigureFrame, { title: 'Means' }, { table: '<p>numbers</p>' })
    expect(frame.text()).not.toContain('numbers')
    await frame.find('button').trigger('click')
    expect(frame.text()).toContain('numbers')
  })
  it('draw every plot that has a value, and name it', () => {
    const figure = show(RawByBlock, { measure: measure(), treatments, chosen: ['102'] })
    const marks = figure.findAll('svg:last-of-type path[role=img]').map((m) => m.attributes('aria-label'))
    expect(marks).toContain('101, Bare stubble: 40.1 t/ha')
    expect(marks.filter((m) => m!.startsWith('10'))).toHaveLength(3)
    expect(figure.findAll('.chosen')).toHaveLength(1)
  })
  it('draw intervals over the margin on one axis', () => {
    const rows = [
      { key: '1', label: 'a − b', estimate: 3, lower: 1, upper: 5 },
      { key: '2', label: 'c − b', estimate: -1, lower: null, upper: null },
    ]
    const figure = show(IntervalRows, {
      rows,
      unit: 't/ha',
      decimals: 1,
      band: { low: -2, high: 2 },
      zero: true,
    })
    expect(figure.findAll('.interval')).toHaveLength(1)
    const band = figure.find('.band')
    const zero = Number(
      figure
        .find('.zero')
        .attributes('d')!
        .match(/M([\d.]+)/)![1],
    )
    expect(Number(band.attributes('x')) + Number(band.attributes('width')) / 2).toBeCloseTo(zero)
  })
  it('have tables with units, and – where there is nothing', () => {
    const table = show(MeansTable, { measure: measure() })
    expect(table.find('thead').text()).toContain('mean, t/ha')
    expect(table.findAll('tbody tr')[0]!.text()).toContain('40.12')
    expect(table.findAll('tbody tr')[1]!.findAll('td').at(-1)!.text()).toBe('–')
  })
  it('let only those correct values who may', async () => {
    const closed = show(RawTable, { measure: measure(), mayCorrect: false })
    expect(closed.findAll('button')).toHaveLength(0)
    const open = show(RawTable, { measure: measure(), mayCorrect: true })
    expect(open.findAll('button').map((b) => b.text())).toEqual(['40.1', '43', 'missing', '44.2'])
    const zoned = [{ ...measure().plots[0]!, observations: [], value: 6 }]
    const mean = show(RawTable, { measure: measure({ plots: zoned }), mayCorrect: true })
    expect(mean.findAll('td')[2]!.text()).toBe('6.00') // the mean of zones: corrected where it was taken
    await open.findAll('button')[2]!.trigger('click')
    expect(open.emitted('correct')![0]).toMatchObject([{ label: '103', value: null }, 0])
  })
})

describe('bringing a table', () => {
  const columns = ['Rep', 'Block', 'Cover'].map((name) => ({
    name, role: 'ignore', label: name, unit: '', direction: 'none', examples: ['1', '2'], distinct: 2, empty: 1, numeric: true,
  })) // prettier-ignore

  it('moves a role that only one column can have', async () => {
    const roles = { Rep: 'block', Block: 'ignore', Cover: 'treatment' }
    const wrapper = show(ColumnRoles, { columns, modelValue: roles })
    const select = wrapper.findAllComponents({ name: 'VSelect' })[1]!
    select.vm.$emit('update:modelValue', 'block')
    expect(wrapper.emitted('update:modelValue')![0]).toEqual([
      { Rep: 'ignore', Block: 'block', Cover: 'treatment' },
    ])
    select.vm.$emit('update:modelValue', 'treatment')
    expect(wrapper.emitted('update:modelValue')![1]).toEqual([
      { Rep: 'ignore', Block: 'treatment', Cover: 'treatment' },
    ])
  })
  it('lists what can’t be used with its place', () => {
    const cells = [
      { line: 8, column: 'Weeds', text: 'about 40', why: 'not a number' },
      { line: 9, column: 'Plot', text: '', why: 'empty' },
    ]
    const rows = show(OddCells, { cells })
      .findAll('tbody tr')
      .map((r) => r.findAll('td').map((c) => c.text()))
    expect(rows).toEqual([
      ['8', 'Weeds', 'about 40', 'not a number'],
      ['9', 'Plot', '–', 'empty'],
    ])
  })
  it('takes a dropped file and a chosen one', async () => {
    const zone = show(DropZone, {})
    const file = new File(['a,b'], 'x.csv')
    await zone.trigger('drop', { dataTransfer: { files: [file] } })
    expect(zone.emitted('file')![0]).toEqual([file])
    await zone.trigger('drop', { dataTransfer: { files: [] } })
    expect(zone.emitted('file')).toHaveLength(1)
  })
})

describe('what is wrong', () => {
  it('is said with its places, and with a way to try again only where there is one', () => {
    const problem = new Problem(400, 'invalid', 'Some entries can’t be used.', [
      { where: 'margin', what: 'must be above 0' },
    ])
    const plain = show(ProblemNote, { problem })
    expect(plain.attributes('role')).toBe('alert')
    expect(plain.text()).toContain('margin: must be above 0')
    expect(plain.find('button').exists()).toBe(false)
    expect(
      show(ProblemNote, { problem, again: () => {} })
        .find('button')
        .exists(),
    ).toBe(true)
  })
})

describe('the season strip', () => {
  const trial = { id: 't', starts: '2025-08-28', ends: '2026-10-14', today: '2026-10-20' }
  const visit = (id: string, name: string, date: string | null, state: string, due: string | null = null) => ({
    id, name, date, due, state, measures: [], progress: { done: 0, begun: 0, of: 20, conflicts: 0 },
  }) // prettier-ignore
  const season = {
    today: '2026-10-20',
    visits: [visit('1', 'Stand', '2025-10-09', 'done'), visit('2', 'Soil', null, 'done')],
    operations: [{ id: '3', name: 'Sowing', kind: 'sow', due: null, done: '2025-08-28', state: 'done' }],
  }
  const strip = async (given: object, changes: object = {}) => {
    const page = { render: () => h('p') }
    const routes = ['visit', 'season'].map((name) => ({
      path: `/${name}/:trial/:visit?`,
      name,
      component: page,
    }))
    const router = createRouter({ history: createMemoryHistory(), routes })
    return show(SeasonStrip, { trial: { ...trial, ...changes }, season: given }, {}, [router])
  }
  it('has a mark for each visit and operation that opens it, and names those without a date', async () => {
    const shown = await strip(season)
    expect(shown.findAll('a.name').map((a) => [a.attributes('aria-label'), a.attributes('href')])).toEqual([
      ['Sowing, 28 Aug 2025, done', '/season/t#3'],
      ['Stand, 9 Oct 2025, done', '/visit/t/1'],
    ])
    expect(shown.text()).toContain('The season ended on 14 Oct 2026')
    expect(shown.text()).toContain('no date: Soil')
  })
  it('puts what is due before everything else, and what comes next when nothing is', async () => {
    const due = [
      visit('4', 'Weeds', null, 'overdue', '2026-10-01'),
      visit('5', 'Lift', null, 'begun', '2026-10-19'),
    ]
    expect((await strip({ ...season, visits: due })).find('.due').text()).toBe(
      'Weeds is overdue. 1 more is due.',
    )
    const later = [visit('6', 'Weeds', null, 'later', '2027-03-01')]
    expect((await strip({ ...season, visits: later }, { ends: '2027-08-01' })).find('.due').text()).toBe(
      'Next: Weeds, 1 Mar 2027',
    )
  })
  it('says why it is empty', async () => {
    expect((await strip({ ...season, visits: [] }, { starts: null, ends: null })).text()).toContain(
      'no dates yet',
    )
  })
})
