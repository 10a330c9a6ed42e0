import type { Cell } from './cells'
import { newId } from '@/parts/newId'

/**
 * What was typed in this window and isn’t in the database of the device yet: that takes its time, and a window that is
 * killed meanwhile would lose it. Written at once; another window takes over what a dead one has left.
 */
type Pending = Record<string, { place: [person: string, visit: string, key: string]; cell: Cell }>

const PREFIX = 'apercu.journal.'
const WINDOW = newId()
const pending: Pending = {}
let alive = false

/** A window is known to live by a lock that it holds until it is gone. */
function live() {
  if (alive) return
  alive = true
  void navigator.locks?.request(PREFIX + WINDOW, () => new Promise(() => undefined))
}

function write() {
  try {
    if (Object.keys(pending).length) localStorage.setItem(PREFIX + WINDOW, JSON.stringify(pending))
    else localStorage.removeItem(PREFIX + WINDOW)
  } catch {
    // the device is full: what follows says so where it can't be kept
  }
}

export function begin(place: [string, string, string], cell: Cell): Cell {
  live()
  const kept = JSON.parse(JSON.stringify(cell)) as Cell
  pending[place.join('\n')] = { place, cell: kept }
  write()
  return kept
}

/** The database has it, if nothing newer was typed there since. */
export function done(place: [string, string, string], cell?: Cell) {
  const key = place.join('\n')
  if (cell && pending[key]?.cell !== cell) return
  delete pending[key]
  write()
}

/** Puts what dead windows have left into the database, each once. */
export async function recover(put: (place: [string, string, string], cell: Cell) => Promise<unknown>) {
  const left = Object.keys(localStorage).filter((key) => key.startsWith(PREFIX) && key !== PREFIX + WINDOW)
  if (!left.length) return
  const held = new Set((await navigator.locks?.query())?.held?.map((lock) => lock.name))
  for (const key of left.filter((one) => !held.has(one))) {
    const journal = JSON.parse(localStorage.getItem(key) ?? '{}') as Pending
    for (const { place, cell } of Object.values(journal)) await put(place, cell)
    localStorage.removeItem(key)
  }
}
