import type { LogEntryIn } from '@/api/fieldLog'
import type { EntryIn, OperationIn } from '@/api/queries'
import type { StageIn } from '@/api/stages'

/**
 * What a person did that the server has still to hear of. An entry comes as it was finished, so that what two windows
 * typed into one place are two entries; one that an earlier release queued has its values in the drafts alone. The bytes
 * of a photograph stand on their own shelf.
 */
export type Change =
  | { kind: 'entry'; visit: string; key: string; entry?: EntryIn }
  | { kind: 'note'; visit: string; id: string; unit: string | null; text: string }
  | { kind: 'undo'; visit: string; id: string; row: string }
  | { kind: 'decision'; visit: string; id: string; conflicting: string; keep: string; why: string }
  | { kind: 'operation'; trial: string; site: string | null; id: string; body: OperationIn; etag?: string }
  | { kind: 'log'; trial: string; site: string | null; id: string; body: LogEntryIn; etag?: string }
  | { kind: 'photograph'; trial: string; site: string | null; entry: string; id: string; name: string }
  | { kind: 'stage'; trial: string; site: string | null; id: string; body: StageIn }

/** `seq`: its place in the order; `about`: what it is about, in words; `path`: where that is shown; `refused`: why the
 * server didn’t take it; `question`: it asks whether that is right; `again`: the server failed with it, and may not the
 * next time.
 */
export interface OutboxItem {
  seq?: number
  person: string
  change: Change
  at: string
  about?: string
  path?: string
  refused?: string
  question?: boolean
  again?: boolean
}
