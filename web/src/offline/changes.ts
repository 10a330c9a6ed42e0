import type { LogEntryIn } from '@/api/fieldLog'
import type { OperationIn } from '@/api/queries'
import type { StageIn } from '@/api/stages'

/**
 * What a person did that the server has still to hear of. An entry’s values stand in the drafts of its visit, the bytes
 * of a photograph on their own shelf.
 */
export type Change =
  | { kind: 'entry'; visit: string; key: string }
  | { kind: 'note'; visit: string; id: string; unit: string | null; text: string }
  | { kind: 'undo'; visit: string; id: string; row: string }
  | { kind: 'decision'; visit: string; id: string; conflicting: string; keep: string; why: string }
  | { kind: 'operation'; trial: string; site: string | null; id: string; body: OperationIn; etag?: string }
  | { kind: 'log'; trial: string; site: string | null; id: string; body: LogEntryIn; etag?: string }
  | { kind: 'photograph'; trial: string; site: string | null; entry: string; id: string; name: string }
  | { kind: 'stage'; trial: string; site: string | null; id: string; body: StageIn }

/** `seq`: its place in the order; `about`: what it is about, in words; `path`: where that is shown; `refused`: why the
 * server didn’t take it.
 */
export interface OutboxItem {
  seq?: number
  person: string
  change: Change
  at: string
  about?: string
  path?: string
  refused?: string
}
