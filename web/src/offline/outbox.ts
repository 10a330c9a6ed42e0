import type { OutboxItem } from './changes'
import { shelf, type PhotographKept } from './shelf'

/** Where what waits is kept, in order. */
export interface Box {
  of(person: string): Promise<OutboxItem[]>
  /** How many items of other people wait here. */
  others(person: string): Promise<number>
  /** Returns its place in the order. */
  add(item: OutboxItem): Promise<number>
  change(item: OutboxItem): Promise<void>
  /** The items, and with a photograph its bytes. */
  remove(...seqs: number[]): Promise<void>
  keepPhotograph(id: string, kept: PhotographKept): Promise<void>
  photograph(id: string): Promise<PhotographKept | undefined>
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
    return (await shelf()).add('outbox', JSON.parse(JSON.stringify(item)) as OutboxItem)
  },
  async change(item) {
    await (await shelf()).put('outbox', JSON.parse(JSON.stringify(item)) as OutboxItem)
  },
  async remove(...seqs) {
    const both = (await shelf()).transaction(['outbox', 'photographs'], 'readwrite')
    for (const seq of seqs) {
      const item = await both.objectStore('outbox').get(seq)
      if (item?.change.kind === 'photograph') await both.objectStore('photographs').delete(item.change.id)
      await both.objectStore('outbox').delete(seq)
    }
    await both.done
  },
  async keepPhotograph(id, kept) {
    await (await shelf()).put('photographs', kept, id)
  },
  async photograph(id) {
    return (await shelf()).get('photographs', id)
  },
}
