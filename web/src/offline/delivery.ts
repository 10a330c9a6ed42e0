import type { Problem } from '@/api/client'
import type { EntryIn } from '@/api/queries'

import { entryOf, type Cell } from './cells'
import type { Change } from './changes'

export type EntryChange = Extract<Change, { kind: 'entry' }>

const LATER = [0, 401, 429, 502, 503, 504]
/** No signal, not signed in, too many at once or a server that isn’t there: what waits goes on waiting. */
export const waits = (error: Problem) => LATER.includes(error.status)

const PASSING = [408, 425]
/** The server failed, or two requests met: it is tried again some times, and doesn’t hold up the rest for ever. */
export const meansAside = (error: Problem) =>
  !waits(error) && (error.status >= 500 || PASSING.includes(error.status) || error.code === 'at-once')

/**
 * The entry that a change stands for. While its cell still holds it, it names the row that the cell has seen since;
 * what another window typed into the same place goes as it was finished there.
 */
export function entryToSend(change: EntryChange, cell: Cell | undefined): EntryIn | null {
  const mine = cell && (!change.entry || cell.id === change.entry.id)
  if (mine && cell.status === 'queued') return entryOf(cell)
  if (!change.entry || (mine && cell.status === 'saved')) return null
  return { ...change.entry, ...(mine && cell.row ? { replaces: cell.row.id } : {}) }
}
