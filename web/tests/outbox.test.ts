import { flushPromises } from '@vue/test-utils'
import { openDB } from 'idb'
import { afterEach, describe, expect, it, vi } from 'vitest'

import { seasonOfNow } from '@/api/earlierAnswers'
import { api, type Session } from '@/api/queries'
import { emptyCell, entryOf, type Cell } from '@/offline/cells'
import { askedBack, draftsOnThisDevice } from '@/offline/drafts'
import { boxOnThisDevice, type Box } from '@/offline/outbox'
import { outboxOf } from '@/offline/sending'
import { outboxFor } from '@/offline/useOutbox'
import { openShelf } from '@/offline/shelf'
import WaitingHere from '@/offline/WaitingHere.vue'

import { boxInMemory } from './boxes'
import { show } from './mounting'
import { answers, sent } from './server'
import { openStation } from './station'

const note = (id: string, visit = 'v') => ({ kind: 'note' as const, visit, id, unit: 'p1', text: id })
const operation = (id: string) => ({
  kind: 'operation' as const, trial: 't', site: 's', id, body: { kind: 'sow' as const, name: 'Sow', due: null, done: '2026-11-27', note: '', after_days: 0, amount: '', machine: '', operator: '', setting: '', exempt_quadrats: '' },
}) // prettier-ignore
const cellOf = (sample: number, changes: Partial<Cell> = {}): Cell => ({
  ...emptyCell({ unit: 'p1', measure: 'w', zone: '', component_kind: '', component: '', sample }),
  status: 'queued', fields: { count: String(sample) }, id: `e${sample}`, enteredAt: '2026-11-27T08:00:00Z', ...changes,
}) // prettier-ignore
const saved = (...ids: string[]) => [
  200,
  {
    outcomes: ids.map((id) => ({ id, state: 'saved', value: 4, message: '', other: null })),
    progress: { done: 0, begun: 1, of: 2, conflicts: 0 },
  },
] as [number, unknown] // prettier-ignore
const down = () => vi.stubGlobal('fetch', () => Promise.reject(new TypeError('down')))
const open: { close: () => void }[] = []
function outbox(box: Box = boxInMemory(), person = 'ada@fen') {
  const made = outboxOf(person, 'Ada', box)
  open.push(made)
  return made
}
afterEach(() => open.splice(0).forEach((one) => one.close()))
const urls = () => sent.map((one) => one.url.replace('/api/v1/', ''))

describe('what a killed window had typed', () => {
  it('is in the database once another window looks, and what the database has is in no journal', async () => {
    const drafts = draftsOnThisDevice('journal@fen', 'v')
    const dead = { place: ['journal@fen', 'v', 'p1|w|7'], cell: cellOf(7) }
    localStorage.setItem('apercu.journal.dead', JSON.stringify({ x: dead }))
    expect(Object.keys(await drafts.all())).toEqual(['p1|w|7'])
    expect(localStorage.getItem('apercu.journal.dead')).toBeNull()
    const putting = drafts.put('p1|w|8', cellOf(8))
    const journals = () => Object.keys(localStorage).filter((key) => key.startsWith('apercu.journal.'))
    expect(localStorage.getItem(journals()[0]!)).toContain('p1|w|8')
    await putting
    expect(journals()).toEqual([])
    await drafts.remove('p1|w|7')
    await drafts.remove('p1|w|8')
  })
})

describe('the outbox', () => {
  it('sends what waits in the order it was done, whatever it is, and lets go of it then', async () => {
    const box = boxInMemory()
    const drafts = draftsOnThisDevice('ada@fen', 'v')
    for (const n of [1, 2]) await drafts.put(`p1|w|${n}`, cellOf(n))
    const { add, send, items } = outbox(box)
    await add(note('n1'), 'Covers: Weeds', '/trials/t/walk/v')
    for (const n of [1, 2]) await add({ kind: 'entry', visit: 'v', key: `p1|w|${n}` }, '', '')
    await add(operation('o1'), 'Covers: Sow', '/trials/t/season')
    await add({ kind: 'undo', visit: 'v', id: 'u1', row: 'e2' }, '', '')
    answers['PUT /api/v1/visits/v/notes/n1'] = [200, {}]
    answers['PUT /api/v1/visits/v/entries'] = saved('e1', 'e2')
    answers['PUT /api/v1/trials/t/operations/o1'] = [200, {}]
    answers['POST /api/v1/observations/e2/undo'] = [200, {}]
    await send()
    expect(urls()).toEqual([
      'visits/v/notes/n1',
      'visits/v/entries',
      'trials/t/operations/o1',
      'observations/e2/undo',
    ])
    expect(sent[1]!.body).toMatchObject({ entries: [{ id: 'e1' }, { id: 'e2' }] })
    expect(sent[2]!.query).toBe('?site=s') // where it was done, whatever is looked at now
    expect([items.length, box.kept.length, Object.keys(await drafts.all())]).toEqual([0, 0, []])
  })
  it('waits without a connection, and goes on by itself once there is one', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    const served = globalThis.fetch
    down()
    const box = outbox()
    expect(await box.perform(note('n1'), '', '')).toBeNull()
    expect([box.offline.value, box.items.length]).toEqual([true, 1])
    vi.stubGlobal('fetch', served)
    answers['PUT /api/v1/visits/v/notes/n1'] = [200, {}]
    await vi.advanceTimersByTimeAsync(5000)
    vi.useRealTimers()
    await vi.waitFor(() => expect([box.offline.value, box.items.length]).toEqual([false, 0]))
  })
  it.each([401, 503])('loses nothing over a %i', async (status) => {
    answers['PUT /api/v1/visits/v/notes/n1'] = [status, { code: 'x', detail: 'Not now.' }]
    const box = outbox()
    expect(await box.perform(note('n1'), '', '')).toBeNull()
    expect(box.problem.value!.message).toBe('Not now.')
    expect(box.items.map((one) => one.refused)).toEqual([undefined])
  })
  it('tries again at once when the signal is back while a try is just ending', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] }) // it isn’t the next try by the clock that sends
    const served = globalThis.fetch
    answers['PUT /api/v1/visits/v/notes/n1'] = [200, {}]
    const kept = boxInMemory()
    let back = false
    const box = outbox({
      ...kept,
      of: async (person) => {
        if (box.offline.value && !back) {
          back = true
          vi.stubGlobal('fetch', served)
          dispatchEvent(new Event('online'))
        }
        return kept.of(person)
      },
    })
    down()
    await box.perform(note('n1'), '', '')
    vi.useRealTimers()
    expect([box.offline.value, box.items.length, urls()]).toEqual([false, 0, ['visits/v/notes/n1']])
  })
  it('keeps what was refused while it waited, with the reason, and goes on with the rest', async () => {
    const served = globalThis.fetch
    down()
    const box = outbox()
    await box.perform(operation('o1'), 'Covers: Sow', '/trials/t/season')
    await box.perform(note('n1'), 'Covers: Weeds', '/')
    vi.stubGlobal('fetch', served)
    answers['PUT /api/v1/trials/t/operations/o1'] = [
      412,
      { code: 'changed', detail: 'Somebody else changed it.' },
    ]
    answers['PUT /api/v1/visits/v/notes/n1'] = [200, {}]
    await box.send()
    expect(box.items.map((one) => [one.about, one.refused])).toEqual([
      ['Covers: Sow', 'Somebody else changed it.'],
    ])
    const page = show(WaitingHere, { outbox: box, person: 'ada@fen' })
    expect(page.text()).toContain('The server didn’t accept this: Somebody else changed it.')
    await page.findAll('button').at(-1)!.trigger('click')
    await flushPromises()
    expect(box.items.length).toBe(0)
  })
  it('sets the one entry aside with which the server fails, and sends the others', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    const box = outbox()
    const entry = (n: number) => ({ ...entryOf(cellOf(n)), fields: { count: n === 2 ? 'odd' : '4' } })
    let mended = false
    answers['PUT /api/v1/visits/v/entries'] = (body) => {
      const { entries } = body as { entries: { id: string; fields: { count: string } }[] }
      return !mended && entries.some((one) => one.fields.count === 'odd')
        ? [500, { code: 'error', detail: 'Something went wrong.' }]
        : saved(...entries.map((one) => one.id))
    }
    for (const n of [1, 2, 3])
      await box.add({ kind: 'entry', visit: 'v', key: `p1|w|${n}`, entry: entry(n) }, 'Weeds', '/')
    await box.add(note('n1'), '', '')
    answers['PUT /api/v1/visits/v/notes/n1'] = [200, {}]
    await box.send()
    expect(box.items.length).toBe(4)
    for (let again = 0; again < 2; again++) await vi.advanceTimersByTimeAsync(5000)
    vi.useRealTimers()
    await vi.waitFor(() => expect(box.items.map((one) => one.refused)).toEqual(['Something went wrong.']))
    expect(urls().at(-1)).toBe('visits/v/notes/n1')
    const page = show(WaitingHere, { outbox: box, person: 'ada@fen' })
    mended = true
    await page.findAll('li button')[0]!.trigger('click')
    await vi.waitFor(() => expect(box.items.length).toBe(0))
  })
  it('tries again what met another change at the same moment', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    const box = outbox()
    answers['PUT /api/v1/visits/v/notes/n1'] = [409, { code: 'at-once', detail: 'Try again.' }]
    expect(await box.perform(note('n1'), '', '')).toBeNull()
    answers['PUT /api/v1/visits/v/notes/n1'] = [200, {}]
    await vi.advanceTimersByTimeAsync(5000)
    vi.useRealTimers()
    await vi.waitFor(() => expect(box.items.length).toBe(0))
  })
  it('tells who is there at once why something was refused, and keeps nothing of it', async () => {
    answers['PUT /api/v1/visits/v/notes/n1'] = [400, { code: 'bad', detail: 'Write something.' }]
    const box = outbox()
    await expect(box.perform(note('n1'), '', '')).rejects.toThrow('Write something.')
    expect(box.items.length).toBe(0)
  })
  it('keeps what the rules ask about an entry whose visit isn’t open', async () => {
    const drafts = draftsOnThisDevice('ada@fen', 'w')
    await drafts.put('p1|w|1', cellOf(1))
    const box = outbox()
    await box.add({ kind: 'entry', visit: 'w', key: 'p1|w|1' }, '', '')
    answers['PUT /api/v1/visits/w/entries'] = [
      200,
      {
        outcomes: [{ id: 'e1', state: 'question', value: 900, message: 'Is it right?', other: null }],
        progress: { done: 0, begun: 0, of: 2, conflicts: 0 },
      },
    ]
    await box.send()
    expect((await drafts.get('p1|w|1'))!.status).toBe('question')
    expect([await askedBack('ada@fen'), await askedBack('joss@fen')]).toEqual([1, 0])
    await drafts.remove('p1|w|1')
  })
  it('sends one person’s changes only, and says that others’ wait here without showing them', async () => {
    const box = boxInMemory()
    down()
    await outbox(box, 'joss@fen').perform(note('secret'), 'Secret trial', '/')
    const mine = outbox(box)
    await mine.perform(note('n1'), 'Covers: Weeds', '/')
    const { page } = await openStation(WaitingHere, { outbox: mine, person: 'ada@fen' })
    expect(page.text()).toContain('1 change of another person also waits on this device')
    expect(page.find('li').text()).toMatch(/Covers: Weeds\s*1 change/)
    expect(page.text()).not.toContain('Secret trial')
  })
})

describe('this device', () => {
  it('sends what a kill left between its draft and the outbox', async () => {
    const drafts = draftsOnThisDevice('kit@fen', 'v')
    await drafts.put('p1|w|1', cellOf(1))
    answers['PUT /api/v1/visits/v/entries'] = saved('e1')
    outboxFor({ email: 'kit@fen', name: 'Kit' } as Session)
    await vi.waitFor(async () => expect(await drafts.all()).toEqual({}))
    expect(urls()).toEqual(['visits/v/entries'])
  })
  it('keeps changes in order, each person’s apart', async () => {
    for (const id of ['a', 'b']) await boxOnThisDevice.add({ person: 'ada@fen', change: note(id), at: '' })
    await boxOnThisDevice.add({ person: 'joss@fen', change: note('c'), at: '' })
    const [first, second] = await boxOnThisDevice.of('ada@fen')
    expect(second!.seq! - first!.seq!).toBe(1)
    expect(await boxOnThisDevice.others('ada@fen')).toBe(1)
    await boxOnThisDevice.change({ ...second!, refused: 'No.' })
    await boxOnThisDevice.remove(first!.seq!)
    expect((await boxOnThisDevice.of('ada@fen')).map((one) => one.refused)).toEqual(['No.'])
    for (const one of [...(await boxOnThisDevice.of('ada@fen')), ...(await boxOnThisDevice.of('joss@fen'))])
      await boxOnThisDevice.remove(one.seq!)
  })
  it('keeps the bytes of a photograph until the server has them, and says so when the device has thrown them away', async () => {
    const photograph = (id: string) =>
      ({ kind: 'photograph', trial: 't', site: null, entry: 'e', id, name: 'a.jpg' }) as const
    const path = 'PUT /api/v1/trials/t/log/e/photographs/'
    const served = globalThis.fetch
    down()
    const box = outbox(boxOnThisDevice)
    await box.keepPhotograph('p1', { bytes: new Uint8Array([7, 8, 9]).buffer, type: 'image/jpeg' })
    await box.add(photograph('p1'), '', '')
    await box.add(photograph('p2'), '', '')
    await box.send()
    expect([box.items.length, (await boxOnThisDevice.photograph('p1'))?.bytes.byteLength]).toEqual([2, 3])
    vi.stubGlobal('fetch', served)
    answers[`${path}p1`] = [200, {}]
    await box.send()
    const file = (sent[0]!.body as FormData).get('file') as File
    expect([file.type, file.size]).toEqual(['image/jpeg', 3])
    expect(await boxOnThisDevice.photograph('p1')).toBeUndefined()
    expect(box.items.map((one) => one.refused)).toEqual([
      'This device has removed the photograph to make space. Take it again.',
    ])
    expect(sent.length).toBe(1)
    await box.drop(box.items[0]!)
  })
  it('takes over what an earlier release has queued, in its order', async () => {
    const old = await openDB('earlier', 2, { upgrade: (db) => void db.createObjectStore('entries') })
    await old.put('entries', cellOf(1), ['ada@fen', 'v', 'p1|w|1'])
    await old.put('entries', cellOf(2, { status: 'draft' }), ['ada@fen', 'v', 'p1|w|2'])
    old.close()
    const now = await openShelf('earlier')
    const waiting = await now.getAllFromIndex('outbox', 'person', 'ada@fen')
    expect(waiting.map((one) => one.change)).toEqual([{ kind: 'entry', visit: 'v', key: 'p1|w|1' }])
    expect(await now.count('entries')).toBe(2) // what was being typed is still there
    now.close()
  })
  it('sends a decision that an earlier release has queued', async () => {
    const old = await openDB('with a decision', 3, {
      upgrade: (db) => {
        db.createObjectStore('entries')
        db.createObjectStore('outbox', { keyPath: 'seq', autoIncrement: true }).createIndex(
          'person',
          'person',
        )
      },
    })
    const decision = { kind: 'decision', visit: 'v', id: 'd1', contested: 'e2', keep: 'e1', why: '' }
    await old.add('outbox', { person: 'ada@fen', change: decision, at: '' })
    old.close()
    const now = await openShelf('with a decision')
    const [waiting] = await now.getAllFromIndex('outbox', 'person', 'ada@fen')
    expect(waiting!.change).toEqual({
      kind: 'decision',
      visit: 'v',
      id: 'd1',
      conflicting: 'e2',
      keep: 'e1',
      why: '',
    })
    now.close()
  })
})

describe('an answer that an earlier release has kept', () => {
  it('opens with what came since filled in', async () => {
    answers['GET /api/v1/visits/v'] = [200, { id: 'v', name: 'Weeds', measures: [{ id: 'w', samples: 3 }] }]
    const visit = await api.visit('v')
    expect([visit.measures[0]!.samples_due, visit.measures[0]!.sample_name]).toEqual([3, 'frame'])
    expect([visit.name, visit.blind, visit.places.by_plot, visit.expected]).toEqual(['Weeds', false, {}, []])
    const season = seasonOfNow({ visits: [{ id: 'v', name: 'Weeds' }] } as never)
    expect([season.crew, season.visits[0]!.observers, season.visits[0]!.how.samples]).toEqual([[], [], {}])
  })
})
