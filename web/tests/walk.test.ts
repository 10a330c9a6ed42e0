import { flushPromises } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { createApp, ref, type Ref } from 'vue'

import { PLANLESS } from '@/api/earlierAnswers'
import type { EntryIn, Row, Visit } from '@/api/queries'
import { entryOf, keyOf, stepsOf, type Cell, type Step } from '@/offline/cells'
import type { Drafts } from '@/offline/drafts'
import type { Box } from '@/offline/outbox'
import { ofThisVersion } from '@/offline/shelf'
import { outboxOf } from '@/offline/sending'
import { bringRules } from '@/rules/onDevice'
import { useSheet, type Sheet } from '@/stations/walk/useSheet'

import { rules, rulesOf } from './rules'
import { boxInMemory } from './boxes'
import { answers, sent } from './server'

const field = (key: string) => ({
  key,
  name: key,
  unit: '',
  kind: key === 'count' ? ('whole' as const) : ('number' as const),
  optional: false,
  choices: [],
  timed: false,
  depths: null,
})
const visitOf = (changes: Partial<Visit> = {}): Visit => ({
  ...PLANLESS, id: 'v', etag: 'v1', trial: 't', site: 's', units: 'metric', name: 'Weeds', due: null, date: null, order: ['p1', 'p2'], zones: {}, page: 1, pages: 1, rows: [], conflicts: [], notes: [],
  progress: { done: 0, begun: 0, of: 2, conflicts: 0 },
  measures: [
    { id: 'weeds', name: 'Weeds', unit: 'weeds/m²', factor: 1, fields: [field('count')], part_kind: '', parts: [], common_parts: [], samples: 2, samples_due: 2, sample_name: 'frame', zones: [], formula: '',
      settings: [], pitfall: '', zero_when_failed: true, watched: null, beyond: '', by_photograph: false, counted_on_photograph: false, rules: rulesOf('frame-count') },
    { id: 'yield', name: 'Yield', unit: 't/ha', factor: 1, fields: [field('mass'), field('area')], part_kind: '', parts: [], common_parts: [], samples: 1, samples_due: 1, sample_name: 'frame', zones: [],
      formula: '', settings: [], pitfall: '', zero_when_failed: true, watched: null, beyond: '', by_photograph: false, counted_on_photograph: false, rules: rulesOf('fresh-yield') },
  ],
  ...changes,
}) // prettier-ignore
const row = (changes: Partial<Row> = {}): Row => ({
  id: 'r1', unit: 'p1', measure: 'weeds', zone: '', component_kind: '', component: '', sample: 1, value: 28, bound: null, fields: { count: '7' }, missing_status: '',
  missing_reason: '', by: 'Ada', at: '2026-06-24T08:00:00Z', ...changes,
}) // prettier-ignore

/** Drafts that outlive a sheet, as those on a device outlive a page. */
function device(): Drafts & { kept: Map<string, string>; box: Box } {
  const kept = new Map<string, string>()
  return {
    kept,
    box: boxInMemory(),
    get: async (key) => (kept.has(key) ? (JSON.parse(kept.get(key)!) as Cell) : undefined),
    all: async () =>
      Object.fromEntries([...kept].map(([key, text]): [string, Cell] => [key, JSON.parse(text) as Cell])),
    put: async (key, cell) => void kept.set(key, JSON.stringify(cell)),
    remove: async (...keys) => keys.forEach((key) => kept.delete(key)),
  }
}
/** A sheet inside a running application, so that what it holds on to is let go with it. */
function open(visit: Ref<Visit>, drafts: Drafts & { box: Box }) {
  let sheet!: Sheet
  const outbox = outboxOf('ada@fen', 'Ada', drafts.box)
  const app = createApp({
    setup() {
      sheet = useSheet(visit, 'Ada', drafts, outbox, { said: 'Covers: Weeds', path: '/trials/t/walk/v' })
      return () => null
    },
  })
  app.mount(document.createElement('div'))
  const close = () => {
    outbox.close()
    app.unmount()
  }
  opened.push(close)
  return { sheet, outbox, close }
}
const opened: (() => void)[] = []
afterEach(() => opened.splice(0).forEach((close) => close()))
const step = (unit = 'p1', sample = 1, measure = 'weeds', f = 'count'): Step => ({
  component_kind: '',
  component: '',
  unit,
  measure,
  zone: '',
  sample,
  field: f,
})
const ENTRIES = 'PUT /api/v1/visits/v/entries'
const outcome = (state: string, changes: object = {}) => [
  200,
  {
    outcomes: [{ id: '', state, value: 28, message: 'Is it right?', other: null, ...changes }],
    progress: { done: 1, begun: 1, of: 2, conflicts: 0 },
  },
] as [number, unknown] // prettier-ignore
const entries = () =>
  sent.filter((s) => s.method === 'PUT').map((s) => (s.body as { entries: EntryIn[] }).entries)

describe('the sheet', () => {
  it('walks plot by plot, measure by measure, frame by frame, field by field', () => {
    expect(stepsOf(visitOf()).map((s) => `${keyOf(s)}|${s.field}`).slice(0, 5)).toEqual([
      'p1|weeds|1|count', 'p1|weeds|2|count', 'p1|yield|1|mass', 'p1|yield|1|area', 'p2|weeds|1|count',
    ]) // prettier-ignore
  })
  it('keeps every key on the device before anything is sent, and gives it back when opened again', async () => {
    const drafts = device()
    const first = open(ref(visitOf()), drafts)
    first.sheet.type(step(), '1')
    first.sheet.type(step(), '12')
    await flushPromises()
    expect(sent).toEqual([])
    first.close() // as if the browser were killed
    const second = open(ref(visitOf()), drafts)
    await second.sheet.load()
    expect(second.sheet.cell(step()).fields).toEqual({ count: '12' })
    expect(second.sheet.cell(step()).status).toBe('draft')
  })
  it('sends a finished entry and lets go of the draft only when the server has it', async () => {
    const drafts = device()
    const visit = ref(visitOf())
    const { sheet } = open(visit, drafts)
    answers[ENTRIES] = outcome('saved')
    sheet.type(step(), '7')
    await sheet.finish(step())
    expect(entries()[0]![0]).toMatchObject({
      unit: 'p1',
      measure: 'weeds',
      fields: { count: '7' },
      replaces: null,
    })
    expect([sheet.cell(step()).status, sheet.cell(step()).row!.value]).toEqual(['saved', 28])
    expect(drafts.kept.size).toBe(0)
    expect(visit.value.progress.done).toBe(1)
    sheet.type(step(), '9')
    await sheet.finish(step())
    expect(entries()[1]![0]!.replaces).toBe(entries()[0]![0]!.id)
  })
  it('waits with an entry until all its fields are there', async () => {
    const { sheet } = open(ref(visitOf()), device())
    answers[ENTRIES] = outcome('saved')
    sheet.type(step('p1', 1, 'yield', 'mass'), '12,4 kg')
    await sheet.finish(step('p1', 1, 'yield', 'mass'))
    expect(entries()).toEqual([])
    sheet.type(step('p1', 1, 'yield', 'area'), '30')
    await sheet.finish(step('p1', 1, 'yield', 'area'))
    expect(entries()[0]![0]!.fields).toEqual({ mass: '12,4 kg', area: '30' })
  })
  it('asks back about an unusual figure, and keeps it under the same id when it is confirmed', async () => {
    const drafts = device()
    const { sheet } = open(ref(visitOf()), drafts)
    answers[ENTRIES] = outcome('question')
    sheet.type(step(), '300')
    await sheet.finish(step())
    expect([sheet.cell(step()).status, sheet.cell(step()).message]).toEqual(['question', 'Is it right?'])
    expect(drafts.kept.size).toBe(1)
    answers[ENTRIES] = outcome('saved')
    await sheet.finish(step())
    const [asked, confirmed] = entries().map((e) => e[0]!)
    expect([confirmed!.id === asked!.id, confirmed!.confirmed]).toEqual([true, true])
    expect(sheet.cell(step()).status).toBe('saved')
  })
  it('sends a changed figure as a new one', async () => {
    const { sheet } = open(ref(visitOf()), device())
    answers[ENTRIES] = outcome('refused')
    sheet.type(step(), '-1')
    await sheet.finish(step())
    expect(sheet.cell(step()).status).toBe('refused')
    sheet.type(step(), '1')
    await sheet.finish(step())
    const [first, second] = entries().map((e) => e[0]!)
    expect([first!.id === second!.id, second!.confirmed]).toEqual([false, false])
  })
  it('holds the queue while there is no signal or nobody is signed in, and sends it all when there is', async () => {
    const drafts = device()
    const { sheet, close } = open(ref(visitOf()), drafts)
    for (const answer of [
      [401, { code: 'not-authenticated', detail: 'Sign in.' }],
      [503, {}],
    ] as [number, unknown][]) {
      answers[ENTRIES] = answer
      sheet.type(step('p1', answer[0] === 401 ? 1 : 2), '7')
      await sheet.finish(step('p1', answer[0] === 401 ? 1 : 2))
    }
    expect([sheet.waiting.value, drafts.kept.size]).toEqual([2, 2])
    close()
    answers[ENTRIES] = [
      200,
      {
        outcomes: [1, 2].map((n) => ({ id: String(n), state: 'saved', value: n, message: '', other: null })),
        progress: { done: 0, begun: 1, of: 2, conflicts: 0 },
      },
    ]
    const later = open(ref(visitOf()), drafts)
    await later.sheet.load()
    await later.sheet.flush()
    expect(
      entries()
        .at(-1)!
        .map((e) => e.sample),
    ).toEqual([1, 2])
    expect([later.sheet.waiting.value, drafts.kept.size]).toEqual([0, 0])
  })
  it('asks back by itself where there is no signal, and sends nothing that was asked about', async () => {
    answers['GET /api/v1/rules'] = [200, rules]
    const drafts = device()
    const { sheet } = open(ref(visitOf()), drafts)
    const first = step()
    await sheet.load()
    expect((await bringRules())?.hash).toBe(rules.hash)
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('down')))
    sheet.type(first, '7,5')
    await sheet.finish(first)
    expect([sheet.cell(first).status, sheet.waiting.value]).toEqual(['refused', 0])
    expect(sheet.cell(first).message).toContain('7.5 isn’t a whole number')
    sheet.type(first, '500')
    await sheet.finish(first)
    expect(sheet.cell(first).status).toBe('question')
    expect(sheet.cell(first).message).toContain('2000 plants/m² is unusual. The usual range is 0 to 1500')
    await sheet.finish(first) // it is right
    expect([sheet.cell(first).status, sheet.cell(first).confirmed, sheet.waiting.value]).toEqual([
      'queued',
      true,
      1,
    ])
    expect([...drafts.kept.values()].some((one) => one.includes('"queued"'))).toBe(true)
  })
  it('takes back what hasn’t been sent, whatever keeps it here, and nothing that was saved before', async () => {
    const { sheet, outbox } = open(ref(visitOf({ rows: [row()] })), device())
    await sheet.load()
    answers[ENTRIES] = [503, {}]
    sheet.type(step('p2'), '9')
    await sheet.finish(step('p2'))
    expect(await sheet.undo()).toMatchObject({ unit: 'p2' })
    expect([sheet.cell(step('p2')).status, sheet.cell(step()).status]).toEqual(['empty', 'saved'])
    expect(outbox.items.length).toBe(0)
    expect(sent.some((one) => one.url.endsWith('/undo'))).toBe(false)
  })
  it('shows what another window of the application has sent for it', async () => {
    const drafts = device()
    const served = globalThis.fetch
    const { sheet, outbox } = open(ref(visitOf()), drafts)
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('down')))
    sheet.type(step(), '7')
    await sheet.finish(step())
    expect(sheet.cell(step()).status).toBe('queued')
    await drafts.remove(keyOf(step())) // the other window had it saved
    await outbox.withdraw('v', keyOf(step()), sheet.cell(step()).id)
    vi.stubGlobal('fetch', served)
    answers['GET /api/v1/visits/v'] = [200, visitOf({ rows: [row()] })]
    await outbox.send()
    expect([sheet.cell(step()).status, sheet.cell(step()).row!.id]).toEqual(['saved', 'r1'])
  })
  it('sends what two windows of one person typed into one place without a signal, in order', async () => {
    const drafts = device()
    const served = globalThis.fetch
    const [one, other] = [open(ref(visitOf()), drafts), open(ref(visitOf()), drafts)]
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('down')))
    for (const [{ sheet }, text] of [
      [one, '7'],
      [other, '9'],
    ] as const) {
      sheet.type(step(), text)
      await sheet.finish(step())
    }
    vi.stubGlobal('fetch', served)
    const ids = [one, other].map(({ sheet }) => sheet.cell(step()).id)
    const waits = row({ id: ids[1], fields: { count: '9' } })
    answers['GET /api/v1/visits/v'] = [200, visitOf({ rows: [row({ id: ids[0] })], conflicts: [waits] })]
    answers[ENTRIES] = [
      200,
      {
        outcomes: [
          { id: ids[0], state: 'saved', value: 28, message: '', other: null },
          { id: ids[1], state: 'conflict', value: 36, message: '', other: row({ id: ids[0] }) },
        ],
        progress: { done: 1, begun: 1, of: 2, conflicts: 1 },
      },
    ]
    await one.outbox.send()
    await other.outbox.send()
    expect(entries()).toEqual([
      [expect.objectContaining({ id: ids[0], fields: { count: '7' } }),
       expect.objectContaining({ id: ids[1], fields: { count: '9' }, replaces: null })],
    ]) // prettier-ignore
    expect([one, other].map(({ outbox }) => outbox.items.length)).toEqual([0, 0])
    expect([one, other].map(({ sheet }) => sheet.cell(step()).fields)).toEqual([
      { count: '7' },
      { count: '7' },
    ])
  })
  it('brings a question about what another window sent to the field in which it was typed', async () => {
    const drafts = device()
    const served = globalThis.fetch
    const [one, other] = [open(ref(visitOf()), drafts), open(ref(visitOf()), drafts)]
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('down')))
    other.sheet.type(step(), '8')
    await other.sheet.finish(step())
    vi.stubGlobal('fetch', served)
    answers['GET /api/v1/visits/v'] = [200, visitOf()]
    answers[ENTRIES] = outcome('question')
    await one.outbox.send()
    expect(one.outbox.items.map(({ refused }) => refused)).toEqual(['Is it right?'])
    await other.outbox.send()
    expect([other.sheet.cell(step()).status, other.outbox.items.length]).toEqual(['question', 0])
    answers[ENTRIES] = outcome('saved')
    await other.sheet.finish(step())
    expect(entries().at(-1)).toMatchObject([{ fields: { count: '8' }, confirmed: true }])
  })
  it('sends what a full device can’t keep, and says that it isn’t kept', async () => {
    const on = device()
    on.put = async () => Promise.reject(new DOMException('full', 'QuotaExceededError'))
    on.box.add = async () => Promise.reject(new DOMException('full', 'QuotaExceededError'))
    const { sheet, outbox } = open(ref(visitOf()), on)
    answers[ENTRIES] = outcome('saved')
    sheet.type(step(), '7')
    await sheet.finish(step())
    expect(outbox.full.value).toBe(true)
    expect(entries()[0]!.map((one) => one.fields)).toEqual([{ count: '7' }])
    expect([sheet.cell(step()).status, outbox.items.length]).toEqual(['saved', 0])
  })
  it('says that it is offline, keeps the figure, and goes on when the signal is back', async () => {
    vi.useFakeTimers()
    const { sheet } = open(ref(visitOf()), device())
    const served = globalThis.fetch
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('down')))
    sheet.type(step(), '7')
    await sheet.finish(step())
    expect([sheet.offline.value, sheet.waiting.value]).toEqual([true, 1])
    vi.stubGlobal('fetch', served)
    answers[ENTRIES] = outcome('saved')
    await vi.advanceTimersByTimeAsync(5000)
    vi.useRealTimers()
    await vi.waitFor(() => expect(sheet.cell(step()).status).toBe('saved'))
    expect(sheet.offline.value).toBe(false)
  })
  it('keeps what is typed on while the answer is on its way', async () => {
    const { sheet } = open(ref(visitOf()), device())
    const whileOnItsWay = {
      configurable: true,
      get() {
        sheet.type(step(), '75')
        return outcome('saved')
      },
    }
    Object.defineProperty(answers, ENTRIES, whileOnItsWay)
    sheet.type(step(), '7')
    await sheet.finish(step())
    delete answers[ENTRIES]
    expect([sheet.cell(step()).status, sheet.cell(step()).fields.count]).toEqual(['draft', '75'])
    await sheet.finish(step())
    expect(entries()[1]![0]!.replaces).toBe(entries()[0]![0]!.id) // not a second figure beside the first
  })
  it('shows the figure of the other person where two met, and what they are', async () => {
    const other = row({ id: 'theirs', by: 'Joss', fields: { count: '9' }, value: 36 })
    const visit = ref(visitOf())
    const { sheet } = open(visit, device())
    answers[ENTRIES] = outcome('conflict', { other })
    answers['GET /api/v1/visits/v'] = [200, visitOf({ rows: [other], conflicts: [row()] })]
    sheet.type(step(), '7')
    await sheet.finish(step())
    expect(sheet.cell(step()).row!.by).toBe('Joss')
    expect(visit.value.conflicts.length).toBe(1)
  })
  it('marks a plot as missing for every measure of the visit, with its reason', async () => {
    const { sheet } = open(ref(visitOf({ rows: [row()] })), device())
    await sheet.load()
    answers[ENTRIES] = [
      200,
      {
        outcomes: [1, 2].map((n) => ({
          id: String(n),
          state: 'saved',
          value: null,
          message: '',
          other: null,
        })),
        progress: { done: 1, begun: 1, of: 2, conflicts: 0 },
      },
    ]
    await sheet.mark('p1', 'damaged', 'hares')
    expect(entries()[0]!.map((e) => [e.measure, e.replaces, e.missing_status, e.missing_reason])).toEqual([
      ['weeds', 'r1', 'damaged', 'hares'],
      ['yield', null, 'damaged', 'hares'],
    ])
  })
  it('undoes one’s own last figure, not anybody else’s', async () => {
    const rows = [
      row({ at: '2026-06-24T08:00:00Z' }),
      row({ id: 'r2', unit: 'p2', at: '2026-06-24T08:05:00Z' }),
      row({ id: 'r3', unit: 'p2', sample: 2, by: 'Joss', at: '2026-06-24T09:00:00Z' }),
    ]
    const visit = ref(visitOf({ rows }))
    const { sheet } = open(visit, device())
    await sheet.load()
    answers['POST /api/v1/observations/r2/undo'] = [200, visitOf({ rows: [rows[0]!, rows[2]!] })]
    expect(await sheet.undo()).toMatchObject({ unit: 'p2', sample: 1 })
    expect(sheet.cell(step('p2')).status).toBe('empty')
    expect(sheet.cell(step('p2', 2)).fields).toEqual({ count: '7' })
  })
})

describe('entries that an earlier release has kept on the device', () => {
  const old = (place: object, row: object | null = null) =>
    ({ place, row, status: 'queued', fields: { count: '7' }, id: 'x', confirmed: false }) as unknown as Cell
  it('are moved to the present names, and go on waiting', () => {
    const row = { id: 'r', unit: 'p1', measure: 'weeds', part: 'mulch', subsample: 2, value: 28 }
    const moved = ofThisVersion(old({ unit: 'p1', measure: 'weeds', part: 'mulch', subsample: 2 }, row), 1)
    expect(moved.place).toEqual({ unit: 'p1', measure: 'weeds', zone: 'mulch', sample: 2 })
    expect(moved.row).toEqual({
      id: 'r', unit: 'p1', measure: 'weeds', zone: 'mulch', component_kind: '', component: '', sample: 2, value: 28,
      missing_status: '',
    }) // prettier-ignore
    expect([moved.status, moved.id, moved.fields]).toEqual(['queued', 'x', { count: '7' }])
    expect(entryOf(moved)).toMatchObject({ zone: 'mulch', sample: 2, component: '', id: 'x' })
  })
  it('of before there were zones are of the whole plot', () => {
    const moved = ofThisVersion(old({ unit: 'p1', measure: 'weeds', subsample: 1 }), 1)
    expect([keyOf(moved.place), moved.row]).toEqual(['p1|weeds|1', null])
  })
  it('say by the present names why a value is missing, and that it conflicts', () => {
    const place = { unit: 'p1', measure: 'weeds', zone: '', sample: 1 }
    const lost = { ...old(place, { ...place, id: 'r', fate: 'failed' }), fate: 'damaged', reason: 'hares' }
    const moved = ofThisVersion(lost as unknown as Cell, 3)
    expect(entryOf(moved)).toMatchObject({ missing_status: 'damaged', missing_reason: 'hares' })
    expect(moved.row).toMatchObject({ missing_status: 'failed' })
    const met = ofThisVersion({ ...old(place), status: 'contested' } as unknown as Cell, 2)
    expect(met.status).toBe('conflict')
    expect(JSON.stringify([moved, met])).not.toContain('fate')
  })
  it('of this release stay as they are', () => {
    const now = old({ unit: 'p1', measure: 'weeds', zone: '', sample: 1 })
    expect(ofThisVersion(now, 4)).toBe(now)
  })
})
