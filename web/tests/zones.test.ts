import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'

import { PLANLESS } from '@/api/earlierAnswers'
import type { Trial, Visit, Zones } from '@/api/queries'
import ZoneRows from '@/stations/layout/ZoneRows.vue'
import { EVERY, zonesDraftOf, zonesOf } from '@/stations/layout/zones'
import { emptyCell, keyOf, stepsOf, type Cell, type Place, type Step } from '@/offline/cells'
import PlotCard from '@/stations/walk/plot/PlotCard.vue'
import SheetTable from '@/stations/walk/SheetTable.vue'
import { outboxOf } from '@/offline/sending'
import { useSheet } from '@/stations/walk/useSheet'

import { boxInMemory } from './boxes'
import { show } from './mounting'
import { trial } from './samples'
import { answers, sent } from './server'
import { openStation } from './station'

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
const weeds = {
  id: 'w', name: 'Weeds', unit: 'weeds/m²', factor: 1, part_kind: '', parts: [], common_parts: [], samples: 2, samples_due: 2, sample_name: 'frame', zones: ['wheel track', 'between'], settings: [],
  fields: [count], formula: '', pitfall: '',
} // prettier-ignore
/** A track runs through the first plot only. */
const visit = {
  ...PLANLESS, id: 'v', trial: 't', site: 's', name: 'Weeds', due: null, date: null, order: ['101', '102'],
  zones: { '101': ['wheel track', 'between'], '102': ['between'] }, measures: [weeds], rows: [], conflicts: [],
  notes: [], progress: { done: 0, begun: 0, of: 2, conflicts: 0 },
} as unknown as Visit // prettier-ignore
const step = (unit: string, zone: string, sample: number): Step => ({
  unit, measure: 'w', zone, component_kind: '', component: '', sample, field: 'count',
}) // prettier-ignore

describe('a sheet with zones', () => {
  const sheet = {
    cell: (place: Place): Cell => emptyCell(place),
    type: () => undefined,
    finish: () => undefined,
    mayUndo: { value: false },
    undone: { value: [] },
  }
  it('goes zone by zone, where a plot has the zone, and tells places in different zones apart', () => {
    expect(stepsOf(visit).map((s) => [s.unit, s.zone, s.sample])).toEqual([
      ['101', 'wheel track', 1],
      ['101', 'wheel track', 2],
      ['101', 'between', 1],
      ['101', 'between', 2],
      ['102', 'between', 1],
      ['102', 'between', 2],
    ])
    expect(keyOf(step('101', 'between', 1))).toBe('101|w|between|1')
    expect(keyOf(step('101', '', 1))).toBe('101|w|1') // as drafts were kept before there were zones
  })
  it('has a column for each zone, and says where a plot has none', () => {
    const props = { trial, visit, sheet, states: {}, unit: '101', mayRecord: true }
    const page = show(SheetTable, props)
    expect(page.findAll('thead tr')[1]!.findAll('th').map((th) => th.text())).toEqual([
      'wheel track: frame 1', 'wheel track: frame 2', 'between: frame 1', 'between: frame 2', 'weeds/m²',
    ]) // prettier-ignore
    const second = page.findAll('tbody tr')[1]!.findAll('td')
    expect(second.slice(1, 5).map((td) => td.find('input').exists())).toEqual([false, false, true, true])
    expect(second[1]!.text()).toBe('not in this zone')
  })
  it('leads on a phone through the zones of a plot', () => {
    const onward = (at: Step) => {
      const page = show(PlotCard, { trial, visit, sheet, states: {}, at: () => at, mayRecord: true })
      return [page.find('.samples').text(), page.find('.onward').text()]
    }
    expect(onward(step('101', 'wheel track', 1))).toEqual(['wheel track: Frame 1 of 2', 'Go to frame 2 →'])
    expect(onward(step('101', 'wheel track', 2))[1]).toBe('Go to between')
    expect(onward(step('101', 'between', 2))[1]).toBe('Go to plot 102 →')
  })
  it('marks a lost plot once a measure, in the first zone that it has', async () => {
    answers['PUT /api/v1/visits/v/entries'] = [500, {}]
    const none = async () => undefined
    const drafts = { all: async () => ({}), get: none, put: none, remove: none }
    const outbox = outboxOf('a@b.c', 'Ada', boxInMemory())
    const marking = {
      setup() {
        void useSheet({ value: structuredClone(visit) } as never, 'Ada', drafts, outbox, {
          said: '',
          path: '',
        }).mark('102', 'damaged', 'hares')
        return () => null
      },
    }
    show(marking, {})
    await flushPromises()
    expect((sent[0]!.body as { entries: object[] }).entries).toMatchObject([
      { unit: '102', zone: 'between', sample: 1, missing_status: 'damaged' },
    ])
  })
})

describe('zones in each plot', () => {
  const kept: Zones = {
    etag: 'z1',
    zones: [
      { name: 'strip', share: 0.25, sown: 'as-plot', sowing: '' },
      { name: 'mulch', share: 0.75, sown: 'other', sowing: 'white clover' },
    ],
    by_zone: { y: ['strip', 'mulch'], w: ['mulch'] },
    drawn: [
      { name: 'wheel track', least: 0, most: 0.2 },
      { name: 'between', least: 0.8, most: 1 },
    ],
    sown: 0.25,
  }
  const measures = ['y', 'w', 'p'].map((id) => ({ id, name: id })) as unknown as Trial['measures']

  it('are typed in per cent and come back as they were kept', () => {
    const draft = zonesDraftOf(kept, measures)
    expect(draft.zones.map((one) => one.share)).toEqual(['25', '75'])
    expect(draft.taken).toEqual({ y: EVERY, w: 'mulch', p: '' })
    draft.zones[0]!.share = '25,5' // the server reads it
    expect(zonesOf(draft).zones.map((one) => one.percent)).toEqual(['25,5', '75'])
    expect(zonesOf(draft).by_zone).toEqual(kept.by_zone)
  })

  describe('on the page', () => {
    const empty = { zones: [], by_zone: {}, drawn: kept.drawn, sown: null }
    beforeEach(() => {
      answers['GET /api/v1/trials/t/zones'] = [200, empty]
    })
    const open = () => openStation(ZoneRows, { trial: { ...trial, measures }, mayPlan: true })
    const press = async (page: Awaited<ReturnType<typeof open>>['page'], words: string) => {
      await page
        .findAll('button')
        .find((b) => b.text().includes(words))!
        .trigger('click')
      await flushPromises()
    }

    it('can’t be typed before what was kept is there', async () => {
      delete answers['GET /api/v1/trials/t/zones']
      expect((await open()).page.find('form').exists()).toBe(false)
    })
    it('are taken from the map with the shares that it has', async () => {
      answers['PUT /api/v1/trials/t/zones'] = [200, { ...empty, sown: 0.93 }]
      const { page } = await open()
      await press(page, 'Use zones of the map: wheel track 0–20 %, between 80–100 %')
      await page.find('form').trigger('submit')
      await flushPromises()
      expect(sent.find((one) => one.method === 'PUT')!.body).toEqual({
        zones: [
          { name: 'wheel track', percent: null, sown: 'nothing', sowing: '' },
          { name: 'between', percent: null, sown: 'as-plot', sowing: '' },
        ],
        by_zone: {},
        reason: '',
      })
      expect(page.find('[role=status]').text()).toBe('The zones are saved.')
    })
    it('ask for a reason where recorded values would change, and send it', async () => {
      const { page } = await open()
      answers['PUT /api/v1/trials/t/zones'] = [
        409,
        { code: 'changes-values', detail: 'This changes values that are recorded: plot 101.' },
      ]
      await press(page, 'Add zone')
      await page.find('form').trigger('submit')
      await flushPromises()
      expect(page.find('.problem').text()).toContain('plot 101')
      const field = page
        .findAllComponents({ name: 'VTextField' })
        .find((f) => f.props('label') === 'Reason for the change (required)')
      await field!.find('input').setValue('measured again')
      answers['PUT /api/v1/trials/t/zones'] = [200, empty]
      await page.find('form').trigger('submit')
      await flushPromises()
      expect(sent.filter((one) => one.method === 'PUT').at(-1)!.body).toMatchObject({
        reason: 'measured again',
      })
    })
    it('stay typed when they don’t make up a plot', async () => {
      answers['PUT /api/v1/trials/t/zones'] = [
        422,
        { code: 'bad-value', detail: 'The zones add up to 25 % of a plot; it has to be 100 %.' },
      ]
      const { page } = await open()
      await press(page, 'Add zone')
      const [name, share] = page.findAll('.zone input')
      await name!.setValue('strip')
      await share!.setValue('25')
      await page.find('form').trigger('submit')
      await flushPromises()
      expect(page.text()).toContain('it has to be 100 %.')
      await press(page, 'Undo')
      expect((page.findAll('.zone input')[1]!.element as HTMLInputElement).value).toBe('')
      await page.find('.zone input').trigger('keydown', { key: 'z', ctrlKey: true, shiftKey: true })
      expect((page.findAll('.zone input')[1]!.element as HTMLInputElement).value).toBe('25')
      expect((page.find('.zone input').element as HTMLInputElement).value).toBe('strip')
    })
  })
})
