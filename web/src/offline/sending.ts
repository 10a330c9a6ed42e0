import { reactive, ref } from 'vue'

import { Problem } from '@/api/client'
import { fieldLogApi } from '@/api/fieldLog'
import { api, type EntryIn, type Outcome, type Visit } from '@/api/queries'
import { stagesApi } from '@/api/stages'
import { texts } from '@/texts'

import { settle, type Cell } from './cells'
import { draftsOnThisDevice, type Drafts } from './drafts'
import type { Change, OutboxItem } from './changes'
import { entryToSend, meansAside, waits, type EntryChange } from './delivery'
import type { Box } from './outbox'

const AGAIN_AFTER = 5000
const MOST_AT_ONCE = 200
/** After so many answers that say it is the server’s fault, what is sent is set aside, and the rest goes on. */
const MOST_FAILURES = 3

/** An entry that was sent, and what became of it. */
export interface Settled {
  key: string
  entry: EntryIn
  outcome: Outcome
}

/** Where the entries of a visit are held: the sheet that is open, else the drafts on this device. */
export interface Holder {
  cell(key: string): Promise<Cell | undefined>
  settled(all: Settled[]): Promise<void>
  refused(key: string, sent: EntryIn, why: string): Promise<void>
  progress(now: Visit['progress']): void
  /** All was sent, maybe by another window: what isn’t waiting here any more stands at the server. */
  allSent(): Promise<void>
}

/** Of a visit that isn’t open. */
function stored(drafts: Drafts, me: string): Holder {
  return {
    cell: (key) => drafts.get(key),
    async settled(all) {
      const done = []
      for (const { key, entry, outcome } of all) {
        const cell = await drafts.get(key)
        if (!cell) continue
        if (settle(cell, entry, outcome, me) === 'kept') await drafts.put(key, cell)
        else done.push(key)
      }
      await drafts.remove(...done)
    },
    async refused(key, sent, why) {
      const cell = await drafts.get(key)
      if (cell && cell.id === sent.id) await drafts.put(key, { ...cell, status: 'refused', message: why })
    },
    progress: () => undefined,
    allSent: async () => undefined,
  }
}

/**
 * What a person’s device has still to send: in order, from wherever the application is open. An item leaves the box only
 * when the server has said what became of it. `onSent`: told when changes beside
 * entries were sent and none waits any more.
 */
export function outboxOf(person: string, me: string, box: Box, onSent: () => void = () => undefined) {
  const items = reactive<OutboxItem[]>([])
  const others = ref(0)
  const offline = ref(false)
  const problem = ref<Problem | null>(null)
  /** This device has no room for what is typed: it waits in this window alone. */
  const full = ref(false)
  const unkept: OutboxItem[] = []
  /** That this device’s clock is wrong, as the server says it. */
  const clockOff = ref('')
  const holders = new Map<string, Holder>()
  const answered = new Map<string, unknown>()
  const refusals = new Map<string, Problem>()
  /** How often the server failed with an item, in this window. */
  const failures = new Map<number, number>()
  const failed = (item: OutboxItem) => failures.get(item.seq!) ?? 0
  let sending: Promise<void> | undefined
  let wanted = false
  let again: ReturnType<typeof setTimeout> | undefined
  let closed = false

  async function look() {
    items.splice(0, Infinity, ...(await box.of(person)), ...unkept)
    others.value = await box.others(person)
  }
  async function add(change: Change, about: string, path: string) {
    const item = { person, change, at: new Date().toISOString(), about, path }
    const seq = await box.add(item).catch(() => 0)
    if (!seq) {
      full.value = true
      unkept.push({ ...item, seq: -1 - unkept.length - Date.now() })
    }
    const added = seq ? { ...item, seq } : unkept.at(-1)!
    if (!items.some((one) => one.seq === added.seq)) items.push(added) // a look meanwhile may have brought it
  }
  /** Adds it and sends all that waits. Returns the server’s answer, or null while it waits; raises why it was refused. */
  async function perform(
    change: Exclude<Change, { kind: 'entry' }>,
    about: string,
    path: string,
  ): Promise<unknown> {
    await add(change, about, path)
    await send()
    const mine = items.find(
      (one) => one.change.kind === change.kind && 'id' in one.change && one.change.id === change.id,
    )
    if (mine?.refused) {
      await drop(mine)
      throw refusals.get(change.id) ?? new Problem(422, 'refused', mine.refused)
    }
    if (mine) return null
    const answer = answered.get(change.id)
    answered.delete(change.id)
    return answer ?? null
  }
  /** Those that only this window has go from it, the others from the device. */
  async function remove(...seqs: number[]) {
    for (const seq of seqs) {
      const at = unkept.findIndex((one) => one.seq === seq)
      if (at >= 0) unkept.splice(at, 1)
    }
    const kept = seqs.filter((seq) => seq > 0)
    if (kept.length) await box.remove(...kept)
  }
  async function drop(item: OutboxItem) {
    await remove(item.seq!)
    await look()
  }
  /** An entry of this window that hasn’t been sent isn’t any more. What another window queued for its place stays. */
  async function withdraw(visit: string, key: string, id: string): Promise<void> {
    const found = items.filter(
      ({ change }) =>
        change.kind === 'entry' &&
        change.visit === visit &&
        change.key === key &&
        (change.entry?.id ?? id) === id,
    )
    if (!found.length) return
    await remove(...found.map((one) => one.seq!))
    for (const one of found) items.splice(items.indexOf(one), 1)
  }

  /** Who asks while a try is ending is not forgotten: another try follows it. */
  function send(): Promise<void> {
    wanted = true
    sending ??= alone(sendAll).finally(() => {
      sending = undefined
      return wanted && !closed ? send() : undefined
    })
    return sending
  }
  /** Sends what waits, unless a try failed just now: the next one, seconds later, takes this along. */
  async function sendUnlessFailing(): Promise<void> {
    if (!again) await send()
  }
  async function sendAll() {
    clearTimeout(again)
    again = undefined
    let sent = 0
    for (;;) {
      wanted = false
      await look()
      const waiting = items.filter((one) => !one.refused)
      const first = waiting[0]
      if (!first || closed) {
        if (sent && !closed) onSent()
        return allSent()
      }
      const run = first.change.kind === 'entry' ? runOf(waiting) : [first]
      try {
        await (first.change.kind === 'entry' ? sendEntries(run) : sendOne(first))
        if (first.change.kind !== 'entry') sent += 1
        offline.value = false
        problem.value = null
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        offline.value = error.status === 0
        const fault = meansAside(error)
        if (fault) for (const one of run) failures.set(one.seq!, failed(one) + 1)
        if (waits(error) || (fault && failed(first) < MOST_FAILURES)) {
          problem.value = error
          if (!closed) again = setTimeout(() => void send(), AGAIN_AFTER)
          return look()
        }
        if (run.length > 1) continue // from here on each goes by itself, so that the one at fault is found
        if ('id' in first.change) refusals.set(first.change.id, error)
        else await tellSheet(first.change, error.message)
        await setAside(first, { refused: error.message, again: fault })
      }
    }
  }
  /** It stays here with what the server said, and everything behind it goes on. */
  async function setAside(item: OutboxItem, why: Pick<OutboxItem, 'refused' | 'question' | 'again'>) {
    if (item.seq! > 0) await box.change({ ...item, ...why })
    else
      Object.assign(
        unkept.find((one) => one.seq === item.seq)!,
        why,
      )
  }
  async function tellSheet({ visit, key, entry }: EntryChange, why: string) {
    const holder = holders.get(visit) ?? stored(draftsOnThisDevice(person, visit), me)
    if (entry) await holder.refused(key, entry, why)
  }
  /** Once more, what was set aside; an entry that was asked about is confirmed by that. */
  async function sendAgain(item: OutboxItem) {
    const { change } = item
    if (item.question && change.kind === 'entry' && change.entry) change.entry.confirmed = true
    failures.delete(item.seq!)
    await setAside(item, { refused: undefined, question: undefined, again: undefined })
    await send()
  }
  async function allSent() {
    if (closed) return
    for (const holder of [...holders.values()])
      await holder.allSent().catch((error: unknown) => {
        if (!(error instanceof Problem)) throw error // it is looked at again with the next change
      })
  }
  /** The run of entries of one visit that the queue begins with; one by one, once the server failed with them. */
  function runOf(waiting: OutboxItem[]): OutboxItem[] {
    const { visit } = waiting[0]!.change as EntryChange
    if (failed(waiting[0]!) >= MOST_FAILURES) return [waiting[0]!]
    const until = waiting.findIndex(
      (one) => one.change.kind !== 'entry' || one.change.visit !== visit || failed(one) >= MOST_FAILURES,
    )
    return waiting.slice(0, Math.min(until < 0 ? waiting.length : until, MOST_AT_ONCE))
  }
  async function sendEntries(run: OutboxItem[]) {
    const { visit } = run[0]!.change as EntryChange
    const holder = holders.get(visit) ?? stored(draftsOnThisDevice(person, visit), me)
    const sent: (Settled & { item: OutboxItem })[] = []
    for (const item of run) {
      const change = item.change as EntryChange
      const entry = entryToSend(change, await holder.cell(change.key))
      if (entry && !sent.some((one) => one.entry.id === entry.id))
        sent.push({ key: change.key, entry, item, outcome: undefined as never })
    }
    const aside = new Set<number>()
    /** What another window, or one that is gone, typed has no field here in which it could be said. */
    async function keepAside(
      { key, entry, item }: Settled & { item: OutboxItem },
      why: string,
      question = false,
    ) {
      if ((await holder.cell(key))?.id === entry.id) return false
      aside.add(item.seq!)
      await setAside(item, { refused: why, question })
      return true
    }
    if (sent.length) {
      const entries = sent.map((one) => one.entry)
      try {
        const { outcomes, progress, clock_off } = await api.enter(visit, entries)
        clockOff.value = clock_off ?? ''
        holder.progress(progress)
        for (const [i, one] of sent.entries()) one.outcome = outcomes[i]!
        for (const one of sent)
          if (one.outcome.state === 'question' || one.outcome.state === 'refused')
            await keepAside(one, one.outcome.message, one.outcome.state === 'question')
        await holder.settled(sent)
      } catch (error) {
        if (!(error instanceof Problem) || waits(error) || meansAside(error)) throw error
        for (const one of sent)
          if (!(await keepAside(one, error.message))) await holder.refused(one.key, one.entry, error.message)
      }
    }
    await remove(...run.flatMap((one) => (aside.has(one.seq!) ? [] : [one.seq!])))
  }
  async function sendOne(item: OutboxItem) {
    const { change } = item
    if (change.kind === 'note')
      answered.set(change.id, await api.leaveNote(change.visit, change.id, change.unit, change.text))
    else if (change.kind === 'undo') answered.set(change.id, await api.undo(change.row, change.id))
    else if (change.kind === 'decision') {
      const { id, keep, why } = change
      answered.set(id, await api.decide(change.conflicting, { id, keep, why }))
    } else if (change.kind === 'operation') {
      const { trial, site, id, body, etag } = change
      answered.set(id, await api.keepOperation(trial, site, id, body, etag))
    } else if (change.kind === 'log') {
      const { trial, site, id, body, etag } = change
      answered.set(id, await fieldLogApi.keep(trial, site, id, body, etag))
    } else if (change.kind === 'photograph') {
      const { trial, site, entry, id, name } = change
      const kept = await box.photograph(id)
      if (!kept) throw new Problem(422, 'gone', texts.global.t('outbox.photographGone'))
      const file = new Blob([kept.bytes], { type: kept.type })
      answered.set(id, await fieldLogApi.keepPhotograph(trial, site, entry, id, file, name))
    } else if (change.kind === 'stage') {
      answered.set(change.id, await stagesApi.keep(change.trial, change.site, change.id, change.body))
    }
    await remove(item.seq!)
  }

  function hold(visit: string, holder: Holder): () => void {
    holders.set(visit, holder)
    return () => holders.get(visit) === holder && holders.delete(visit)
  }
  const online = () => void send()
  addEventListener('online', online)
  function close() {
    closed = true
    clearTimeout(again)
    removeEventListener('online', online)
  }
  const keepPhotograph: Box['keepPhotograph'] = (id, kept) => box.keepPhotograph(id, kept)
  return {
    items,
    others,
    offline,
    problem,
    clockOff,
    full,
    look,
    add,
    perform,
    drop,
    withdraw,
    sendAgain,
    send,
    sendUnlessFailing,
    hold,
    close,
    keepPhotograph,
  }
}
export type Outbox = ReturnType<typeof outboxOf>

/** One window of the application sends at a time, where the browser can say so. */
async function alone(work: () => Promise<void>): Promise<void> {
  if (!navigator.locks) return work()
  await navigator.locks.request('apercu-outbox', work)
}
