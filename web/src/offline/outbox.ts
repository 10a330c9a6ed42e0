import type { OperationIn } from '@/api/queries'

import { shelf } from './shelf'

/** What a person did that the server has still to hear of. An entry’s values stand in the drafts of its visit. */
export type Change =
  | { kind: 'entry'; visit: string; key: string }
  | { kind: 'note'; visit: string; id: string; unit: string | null; text: string }
  | { kind: 'undo'; visit: string; id: string; row: string }
  | { kind: 'decision'; visit: string; id: string; contested: string; keep: string; why: string }
  | { kind: 'operation'; trial: string; site: string | null; id: string; body: OperationIn; etag?: string }

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

/** Where what waits is kept, in order. */
export interface Box {
  of(person: string): Promise<OutboxItem[]>
  /** How many items of other people wait here. */
  others(person: string): Promise<number>
  add(item: OutboxItem): Promise<void>
  change(item: OutboxItem): Promise<void>
  remove(seq: number): Promise<void>
}

export const boxOnThisDevice: Box = {
  async of(person) {
    return (await shelf()).getAllFromIndex('outbox', 'person', person)
  },
  async others(person) {
    const db = await shelf()
    return (await db.count('outbox')) - (await db.countFromIndex('outbox', 'person', person))
  },
  async add(item) {
    await (await shelf()).add('outbox', JSON.parse(JSON.stringify(item)) as OutboxItem)
  },
  async change(item) {
    await (await shelf()).put('outbox', JSON.parse(JSON.stringify(item)) as OutboxItem)
  },
  async remove(seq) {
    await (await shelf()).delete('outbox', seq)
  },
}
