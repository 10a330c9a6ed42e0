import { computed, onBeforeUnmount, reactive, ref, shallowRef, type Ref } from 'vue'

import { Problem } from '@/api/client'
import { acts, type EntryIn, type Outcome, type Visit } from '@/api/queries'
import { newId } from '@/parts/newId'
import { bringRules, checkHere } from '@/rules/onDevice'

import {
  cellOfRow,
  emptyCell,
  entryOf,
  keyOf,
  stepsIn,
  WHOLE,
  type Cell,
  type Place,
  type Step,
} from './cells'
import type { Drafts } from './drafts'

const AGAIN_AFTER = 5000

/**
 * The sheet of a visit. Each key that is typed goes to this device at once; a finished entry goes to the server as soon
 * as it can be reached, and stays here until the server has said what became of it.
 */
export function useSheet(visit: Ref<Visit>, me: string, drafts: Drafts) {
  const cells = reactive(new Map<string, Cell>())
  const offline = ref(false)
  const problem = shallowRef<Error | null>(null)
  const waiting = computed(() => [...cells.values()].filter((c) => c.status === 'queued').length)
  const asking = computed(
    () => [...cells.values()].filter((c) => ['question', 'refused'].includes(c.status)).length,
  )

  function cell(place: Place): Cell {
    return cells.get(keyOf(place)) ?? emptyCell(place)
  }
  function own(place: Place): Cell {
    const key = keyOf(place)
    if (!cells.has(key)) cells.set(key, emptyCell({ ...place }))
    return cells.get(key)!
  }

  /** Rows of the server, with what this device still holds on top. */
  async function load() {
    void bringRules()
    cells.clear()
    for (const row of visit.value.rows) cells.set(keyOf(row), cellOfRow(row))
    for (const [key, kept] of Object.entries(await drafts.all())) {
      const row = cells.get(key)?.row ?? null
      cells.set(key, { ...kept, row: kept.row ?? row })
    }
  }

  function type(step: Step, text: string) {
    const c = own(step)
    undone.value = []
    c.fields[step.field] = text
    c.status = 'draft'
    c.message = ''
    c.fate = ''
    c.reason = ''
    c.confirmed = false
    c.id ||= newId()
    void drafts.put(keyOf(step), c)
  }

  /** The entry is finished, if all its fields are filled: off it goes. Finishing a questioned one again keeps it. */
  async function finish(step: Step) {
    const c = own(step)
    const fields = visit.value.measures.find((m) => m.id === step.measure)?.fields ?? []
    const filled = fields.filter((f) => (c.fields[f.key] ?? '').trim())
    if (c.status === 'question') c.confirmed = true
    else if (c.status !== 'draft') return
    else if (!filled.length) return letGo(c)
    else if (filled.length < fields.length) return
    await queue(c)
  }
  async function queue(c: Cell) {
    // A figure that was asked back and changed is a new one; the same one confirmed keeps its id.
    if (!c.confirmed) c.id = newId()
    c.status = 'queued'
    c.enteredAt = new Date().toISOString()
    await drafts.put(keyOf(c.place), c)
    await flush()
    if (offline.value) await askHere(c)
  }
  /** Without a network this device asks back itself, while one still stands in the plot. */
  async function askHere(c: Cell) {
    const measure = visit.value.measures.find((m) => m.id === c.place.measure)
    if (!measure || c.status !== 'queued' || c.fate) return
    const checked = await checkHere(measure.rules, c.fields)
    if (c.status !== 'queued') return // the server was quicker
    if (checked.state === 'refused' || (checked.state === 'question' && !c.confirmed)) {
      Object.assign(c, { status: checked.state, message: checked.message })
      await drafts.put(keyOf(c.place), c)
    }
  }
  async function letGo(c: Cell) {
    const key = keyOf(c.place)
    cells.set(key, c.row ? cellOfRow(c.row) : emptyCell(c.place))
    await drafts.remove(key)
  }

  /**
   * Say of a whole plot why there is no value. That the cover failed only says something of what is measured on the
   * cover itself: the other measures of the visit stay open.
   */
  async function mark(unit: string, fate: Cell['fate'], reason: string) {
    const steps = stepsIn(visit.value, unit)
    for (const m of visit.value.measures) {
      if (fate === 'failed' && !m.zero_when_failed) continue
      const first = steps.find((step) => step.measure === m.id)
      if (!first) continue
      const c = own({ unit, measure: m.id, zone: first.zone, sample: 1 })
      Object.assign(c, { fields: {}, fate, reason, confirmed: false, status: 'queued', id: newId() })
      c.enteredAt = new Date().toISOString()
      await drafts.put(keyOf(c.place), c)
    }
    await flush()
  }

  let flushing: Promise<void> | undefined
  let timer: ReturnType<typeof setTimeout> | undefined
  function flush(): Promise<void> {
    flushing ??= send().finally(() => (flushing = undefined))
    return flushing
  }
  async function send() {
    for (;;) {
      const queued = [...cells.values()].filter((c) => c.status === 'queued')
      if (!queued.length) return
      const sent = queued.map(entryOf)
      try {
        const { outcomes, progress } = await acts.enter(visit.value.id, sent)
        offline.value = false
        problem.value = null
        visit.value.progress = progress
        for (const [i, outcome] of outcomes.entries()) await settle(queued[i]!, sent[i]!, outcome)
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        return putOff(error, queued)
      }
    }
  }
  /** No signal, not signed in or a server in trouble: the queue waits. Anything else is about what was sent. */
  function putOff(error: Problem, queued: Cell[]) {
    offline.value = error.status === 0
    problem.value = error
    if (error.status === 0 || error.status === 401 || error.status >= 500) {
      clearTimeout(timer)
      timer = setTimeout(() => void flush(), AGAIN_AFTER)
    } else for (const c of queued) Object.assign(c, { status: 'refused', message: error.message })
  }
  async function settle(c: Cell, entry: EntryIn, outcome: Outcome) {
    const typedOn = c.id !== entry.id || c.status !== 'queued'
    if (outcome.state === 'saved') {
      // What was sent stands there now; what was typed on since will replace it.
      c.row = {
        id: entry.id, ...c.place, ...WHOLE, value: outcome.value, fields: { ...(entry.fields ?? {}) }, fate: entry.fate ?? '',
        missing_reason: entry.missing_reason ?? '', by: me, at: entry.entered_at,
      } // prettier-ignore
      if (!typedOn) {
        c.status = 'saved'
        c.message = ''
        await drafts.remove(keyOf(c.place))
      }
      return
    }
    if (typedOn) return
    c.message = outcome.message
    if (outcome.state === 'contested') {
      c.row = outcome.other
      c.status = 'contested'
      await drafts.remove(keyOf(c.place))
      take(await acts.visit(visit.value.id, { page: visit.value.page }))
      return
    }
    c.status = outcome.state
    await drafts.put(keyOf(c.place), c)
  }

  /** The server's view, without touching what is still being typed. */
  function take(now: Visit) {
    visit.value = now
    const rows = new Map(now.rows.map((row) => [keyOf(row), row]))
    for (const [key, c] of cells)
      if (['saved', 'contested', 'empty'].includes(c.status) && !rows.has(key)) cells.delete(key)
    for (const [key, row] of rows) {
      const there = cells.get(key)
      if (!there || ['saved', 'contested', 'empty'].includes(there.status)) cells.set(key, cellOfRow(row))
      else there.row = row
    }
  }

  const mine = computed(() =>
    [...cells.values()]
      .flatMap((c) => (c.row && c.row.by === me ? [c.row] : []))
      .sort((a, b) => b.at.localeCompare(a.at)),
  )
  /** Take one's own last figure back; returns its place. */
  async function undo(): Promise<Place | null> {
    const last = mine.value[0]
    if (!last) return null
    try {
      take(await acts.takeBack(last.id, newId(), visit.value.page))
      const { unit, measure, zone, sample } = last
      undone.value.unshift({ unit, measure, zone, sample })
      return last
    } catch (error) {
      problem.value = error as Error
      return null
    }
  }

  /** Places that were undone, the last first: what redo goes through until something new is typed. */
  const undone = ref<Place[]>([])
  async function redo(): Promise<Place | null> {
    const last = undone.value.shift()
    if (!last) return null
    try {
      take(await acts.redo(visit.value.id, { ...last, ...WHOLE, id: newId() }, visit.value.page))
      return last
    } catch (error) {
      problem.value = error as Error
      return null
    }
  }

  const online = () => void flush()
  addEventListener('online', online)
  onBeforeUnmount(() => {
    removeEventListener('online', online)
    clearTimeout(timer)
  })
  return {
    cells,
    cell,
    load,
    type,
    finish,
    mark,
    undo,
    redo,
    undone,
    take,
    flush,
    waiting,
    asking,
    offline,
    problem,
    mine,
  }
}
export type Sheet = ReturnType<typeof useSheet>
