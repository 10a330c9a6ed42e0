import { openDB, type DBSchema, type IDBPDatabase } from 'idb'

import type { Cell } from './cells'

/** Where typed figures are kept on this device, key by key, until the server has them. */
export interface Drafts {
  all(): Promise<Record<string, Cell>>
  put(key: string, cell: Cell): Promise<void>
  remove(key: string): Promise<void>
}

interface Shelf extends DBSchema {
  entries: { key: [string, string, string]; value: Cell }
}

let opened: Promise<IDBPDatabase<Shelf>> | undefined
function shelf() {
  opened ??= openDB<Shelf>('apercu', 1, {
    upgrade(db) {
      db.createObjectStore('entries')
    },
  })
  return opened
}

/** The drafts of one person at one visit; nobody else's are seen. */
export function draftsOnThisDevice(person: string, visit: string): Drafts {
  const range = IDBKeyRange.bound([person, visit, ''], [person, visit, '\uffff'])
  return {
    async all() {
      const entries = (await shelf()).transaction('entries').store
      const [keys, cells] = await Promise.all([entries.getAllKeys(range), entries.getAll(range)])
      return Object.fromEntries(keys.map((key, i) => [key[2], cells[i]!]))
    },
    async put(key, cell) {
      await (await shelf()).put('entries', JSON.parse(JSON.stringify(cell)) as Cell, [person, visit, key])
    },
    async remove(key) {
      await (await shelf()).delete('entries', [person, visit, key])
    },
  }
}
