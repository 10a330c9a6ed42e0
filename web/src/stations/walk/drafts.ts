import { openDB, type DBSchema, type IDBPDatabase } from 'idb'

import { WHOLE, type Cell } from './cells'

/** Where typed figures are kept on this device, key by key, until the server has them. */
export interface Drafts {
  all(): Promise<Record<string, Cell>>
  put(key: string, cell: Cell): Promise<void>
  remove(key: string): Promise<void>
}

interface Shelf extends DBSchema {
  entries: { key: [string, string, string]; value: Cell }
}

/** Of what is kept here. 1: a place had `part` (or nothing, before there were zones) and `subsample`. */
const VERSION = 2

interface OldPlace {
  part?: string
  subsample?: number
}

/** An entry that an earlier release has kept, as this one knows it: nothing that waits is lost. */
export function ofThisVersion(cell: Cell, version: number): Cell {
  if (version >= 2) return cell
  const moved = <T extends object>(old: T & OldPlace) => {
    const { part, subsample, ...rest } = old
    return { ...rest, zone: part ?? '', sample: subsample ?? 1 }
  }
  const row = cell.row && { ...moved(cell.row), ...WHOLE }
  return { ...cell, place: moved(cell.place), row } as Cell
}

let opened: Promise<IDBPDatabase<Shelf>> | undefined
function shelf() {
  opened ??= openDB<Shelf>('apercu', VERSION, {
    async upgrade(db, before, _now, transaction) {
      if (before < 1) db.createObjectStore('entries')
      const entries = transaction.objectStore('entries')
      for (let at = await entries.openCursor(); at; at = await at.continue())
        await at.update(ofThisVersion(at.value, before))
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
