import { computed, markRaw, onBeforeUnmount, reactive, ref, shallowRef, type Ref } from 'vue'

import { api, type Visit } from '@/api/queries'
import {
  cellOfRow,
  emptyCell,
  entryOf,
  keyOf,
  settle,
  stepsIn,
  WHOLE,
  type Cell,
  type Place,
  type Step,
} from '@/offline/cells'
import type { OutboxItem } from '@/offline/changes'
import type { Drafts } from '@/offline/drafts'
import type { Outbox } from '@/offline/sending'
import { newId } from '@/parts/newId'
import { bringRules, checkHere } from '@/rules/onDevice'

/** Beside the fields of a measure: what somebody took it for before the count. */
export const GUESS = 'guess'

/** What of a visit never changes by itself: watching each value of it takes a phone’s time at every step. */
export function watchedLittle(visit: Visit): Visit {
  const { order, zones, places, past, expected, rows, observers, conflicts } = visit
  const still = [order, zones, places, past, expected, rows, observers, conflicts]
  const ofMeasures = visit.measures.flatMap(({ fields, rules, settings }) => [fields, rules, settings])
  // What an earlier release answered, and this device kept, may lack some of them.
  for (const part of [...still, ...ofMeasures]) if (part as object | undefined) markRaw(part)
  return visit
}

/**
 * The sheet of a visit. Each key that is typed goes to this device at once; a finished entry goes to the outbox, and
 * stays here until the server has said what became of it. `about`: what the outbox calls it, and where it is shown;
 * `blind`: whether treatment names are hidden while somebody types.
 */
export function useSheet(
  visit: Ref<Visit>,
  me: string,
  drafts: Drafts,
  outbox: Outbox,
  about: { said: string; path: string },
  blind: () => boolean = () => false,
) {
  const cells = reactive(new Map<string, Cell>())
  const failed = shallowRef<Error | null>(null)
  const offline = computed(() => outbox.offline.value)
  const problem = computed(() => failed.value ?? outbox.problem.value)
  const byStatus = computed(() => {
    const found: Record<Cell['status'], Cell[]> = {
      empty: [], draft: [], queued: [], question: [], refused: [], saved: [], conflict: [],
    } // prettier-ignore
    for (const c of cells.values()) found[c.status].push(c)
    return found
  })
  const waiting = computed(() => byStatus.value.queued.length)

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
    for (const c of cells.values()) list(c.place)
    await outbox.look()
    for (const { change } of outbox.items) {
      if (change.kind !== 'undo' || change.visit !== visit.value.id) continue
      const there = [...cells.values()].find((c) => c.row?.id === change.row && c.status === 'saved')
      if (there) empty(there)
    }
  }
  /** As it will stand once an undo that waits has gone; what was there before, only the server knows. */
  function empty(c: Cell) {
    cells.set(keyOf(c.place), emptyCell(c.place))
  }

  function type(step: Step, text: string) {
    const c = own(step)
    undone.value = []
    c.fields[step.field] = text
    c.units = visit.value.units
    c.blind = blind()
    c.status = 'draft'
    c.message = ''
    c.missingStatus = ''
    c.reason = ''
    c.confirmed = false
    c.id ||= newId()
    void keep(c)
  }
  /** On this device; where it is full the outbox says so, and what is typed goes on to the server all the same. */
  async function keep(c: Cell) {
    await drafts.put(keyOf(c.place), c).catch(() => (outbox.full.value = true))
  }

  /** The entry is finished, if all its fields are filled: off it goes. Finishing a questioned one again keeps it. */
  async function finish(step: Step) {
    const c = own(step)
    const fields = visit.value.measures.find((m) => m.id === step.measure)?.fields ?? []
    const typed = (f: { key: string }) => (c.fields[f.key] ?? '').trim()
    if (c.status === 'question') c.confirmed = true
    else if (c.status !== 'draft') return
    else if (![...fields, { key: GUESS }].some(typed)) return letGo(c)
    else if (!fields.every((f) => f.optional || typed(f))) return
    await queue(c)
  }
  async function queue(c: Cell) {
    const before = c.id
    // A figure that was asked back and changed is a new one; the same one confirmed keeps its id.
    if (!c.confirmed) c.id = newId()
    await wait(c, before)
    await outbox.sendUnlessFailing()
    if (offline.value) await askHere(c)
  }
  /** Entries on their way into the outbox: they wait, though it doesn’t name them yet. */
  const joining = new Set<string>()
  /** `before`: the id under which the place may wait already, with what is replaced now. */
  async function wait(c: Cell, before: string) {
    const key = keyOf(c.place)
    joining.add(c.id)
    c.status = 'queued'
    c.enteredAt = new Date().toISOString()
    const entry = entryOf(c)
    await keep(c)
    await outbox.withdraw(visit.value.id, key, before)
    await outbox.add({ kind: 'entry', visit: visit.value.id, key, entry }, about.said, about.path)
    joining.delete(entry.id)
  }
  /** Without a network this device asks back itself, while one still stands in the plot. */
  async function askHere(c: Cell) {
    const measure = visit.value.measures.find((m) => m.id === c.place.measure)
    if (!measure || c.status !== 'queued' || c.missingStatus) return
    const { unit, zone } = c.place
    const beside = visit.value.expected.find(
      (one) => one.unit === unit && one.measure === measure.id && one.zone === zone,
    )
    const checked = await checkHere(measure.rules, c.fields, beside)
    if (c.status !== 'queued') return // the server was quicker
    if (checked.state === 'refused' || (checked.state === 'question' && !c.confirmed)) {
      Object.assign(c, { status: checked.state, message: checked.message })
      await outbox.withdraw(visit.value.id, keyOf(c.place), c.id)
      await keep(c)
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
  async function mark(unit: string, missingStatus: Cell['missingStatus'], reason: string) {
    const steps = stepsIn(visit.value, unit)
    for (const m of visit.value.measures) {
      if (missingStatus === 'failed' && !m.zero_when_failed) continue
      const first = steps.find((step) => step.measure === m.id)
      if (!first) continue
      const { zone, component_kind, component } = first
      const c = own({ unit, measure: m.id, zone, component_kind, component, sample: 1 })
      const before = c.id
      Object.assign(c, { fields: {}, missingStatus, reason, confirmed: false, id: newId() })
      await wait(c, before)
    }
    await flush()
  }

  const flush = () => outbox.send()
  const letHold = outbox.hold(visit.value.id, {
    cell: async (key) => cells.get(key),
    progress: (now) => (visit.value.progress = now),
    async settled(all) {
      const became = all.flatMap(({ key, entry, outcome }) => {
        const c = cells.get(key)
        return c ? [{ key, c, as: settle(c, entry, outcome, me) }] : []
      })
      // At once: what is typed into a saved place from here on is a draft of its own.
      await drafts.remove(...became.flatMap(({ key, as }) => (as === 'kept' ? [] : [key])))
      for (const { c, as } of became) if (as === 'kept') await keep(c)
      if (all.some(({ outcome }) => outcome.state === 'conflict'))
        take(await api.visit(visit.value.id, { page: visit.value.page }))
    },
    async allSent() {
      const ids = new Set(joining)
      const asked = new Map<string, OutboxItem>()
      for (const item of outbox.items) {
        const { change } = item
        if (change.kind !== 'entry' || !change.entry) continue
        if (item.refused) asked.set(change.entry.id, item)
        else ids.add(change.entry.id)
      }
      const elsewhere = [...cells].filter(([, c]) => c.status === 'queued' && !ids.has(c.id))
      if (!elsewhere.length) return
      const now = await api.visit(visit.value.id, { page: visit.value.page })
      const rows = new Map(now.rows.map((row) => [keyOf(row), row]))
      for (const [key, c] of elsewhere) {
        if (cells.get(key) !== c || c.status !== 'queued' || joining.has(c.id)) continue // typed on meanwhile
        const item = asked.get(c.id)
        if (item && !item.again) await askedElsewhere(c, item)
        else if (!item) {
          const row = rows.get(key)
          cells.set(key, row ? cellOfRow(row) : emptyCell(c.place))
          if ((await drafts.get(key))?.id === c.id) await drafts.remove(key) // else it is another window’s
        }
      }
      take(now)
    },
    async refused(key, sent, why) {
      const c = cells.get(key)
      if (!c || c.id !== sent.id) return
      Object.assign(c, { status: 'refused', message: why })
      await keep(c)
    },
  })

  /** Another window sent what was typed here, and the server asked back: the question comes to its field. */
  async function askedElsewhere(c: Cell, item: OutboxItem) {
    Object.assign(c, { status: item.question ? 'question' : 'refused', message: item.refused })
    await keep(c)
    await outbox.drop(item)
  }

  /** The server's view, without touching what is still being typed. */
  function take(now: Visit) {
    const before = visit.value.measures
    visit.value = watchedLittle(now)
    for (const m of before)
      for (const { name, group } of m.parts) list({ measure: m.id, component: name }, group)
    const rows = new Map(now.rows.map((row) => [keyOf(row), row]))
    for (const [key, c] of cells)
      if (['saved', 'conflict', 'empty'].includes(c.status) && !rows.has(key)) cells.delete(key)
    for (const [key, row] of rows) {
      const there = cells.get(key)
      if (!there || ['saved', 'conflict', 'empty'].includes(there.status)) cells.set(key, cellOfRow(row))
      else there.row = row
    }
  }

  /** A species or grade that this device knows and the server hasn’t heard of yet. */
  function list({ measure, component }: Pick<Place, 'measure' | 'component'>, group = '') {
    const parts = visit.value.measures.find((m) => m.id === measure)?.parts
    if (component && parts && !parts.some((part) => part.name === component))
      parts.push({ name: component, group })
  }
  /** Put a part on the list: here at once, at the server when it can be reached, else with its first entry. */
  function addPart(measure: string, name: string, group: string) {
    list({ measure, component: name }, group)
    const own = visit.value.measures.find((one) => one.id === measure)?.parts ?? []
    api.keepParts(measure, own).catch(() => undefined)
  }

  const mine = () => [...cells.values()].flatMap((c) => (c.row && c.row.by === me ? [c.row] : []))
  /** Whether there is anything of one’s own to take back. */
  const mayUndo = computed(() => {
    for (const c of cells.values()) if (c.row && c.row.by === me) return true
    return false
  })
  /** Take one’s own last value back; returns its place. One that hasn’t been sent never is. */
  async function undo(): Promise<Place | null> {
    const unsent = [...byStatus.value.queued].sort((a, b) => b.enteredAt.localeCompare(a.enteredAt))[0]
    // The queue can’t go on, for want of a network, a sign-in or a working server.
    if (unsent && outbox.problem.value) {
      await outbox.withdraw(visit.value.id, keyOf(unsent.place), unsent.id)
      await letGo(unsent)
      return unsent.place
    }
    const last = mine().sort((a, b) => b.at.localeCompare(a.at))[0]
    if (!last) return null
    const { unit, measure, zone, sample, component_kind, component } = last
    try {
      const id = newId()
      const change = { kind: 'undo' as const, visit: visit.value.id, id, row: last.id }
      const answer = (await outbox.perform(change, about.said, about.path)) as Visit | null
      if (answer) {
        take(visit.value.pages > 1 ? await api.visit(visit.value.id, { page: visit.value.page }) : answer)
        undone.value.unshift({ unit, measure, zone, sample, component_kind, component })
      } else empty(cells.get(keyOf(last))!)
      return last
    } catch (error) {
      failed.value = error as Error
      return null
    }
  }

  /** Places that were undone, the last first: what redo goes through until something new is typed. */
  const undone = ref<Place[]>([])
  async function redo(): Promise<Place | null> {
    const last = undone.value.shift()
    if (!last) return null
    try {
      take(await api.redo(visit.value.id, { ...WHOLE, ...last, id: newId() }, visit.value.page))
      return last
    } catch (error) {
      failed.value = error as Error
      return null
    }
  }

  onBeforeUnmount(letHold)
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
    byStatus,
    waiting,
    offline,
    problem,
    mayUndo,
    addPart,
  }
}
export type Sheet = ReturnType<typeof useSheet>
