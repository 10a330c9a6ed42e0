import type { OutboxItem } from './changes'
import { shelf } from './shelf'

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
