import { openDB, type DBSchema, type IDBPDatabase } from 'idb'

import { WHOLE, type Cell } from './cells'
import type { OutboxItem } from './changes'

/** A photograph that waits to be sent, under its id: bytes, since not every browser keeps files. */
export interface PhotographKept {
  bytes: ArrayBuffer
  type: string
}

/** What this device keeps: values being typed, by person, visit and place; and what waits to be sent, in order. */
export interface Shelf extends DBSchema {
  entries: { key: [string, string, string]; value: Cell }
  outbox: { key: number; value: OutboxItem; indexes: { person: string } }
  photographs: { key: string; value: PhotographKept }
}

/**
 * 1: a place had `part` (or nothing, before there were zones) and `subsample`. 2: what waited was found by its status.
 * 3: a missing status was a `fate`, a conflict `contested`.
 */
const VERSION = 5

interface OldPlace {
  part?: string
  subsample?: number
}
interface OldNames {
  fate?: string
  status: string
  row?: { fate?: string }
}

/** An entry that an earlier release has kept, as this one knows it: nothing that waits is lost. */
export function ofThisVersion(cell: Cell, version: number): Cell {
  return version >= 4 ? cell : renamed(version >= 2 ? cell : moved(cell))
}
function moved(cell: Cell): Cell {
  const placed = <T extends object>(old: T & OldPlace) => {
    const { part, subsample, ...rest } = old
    return { ...rest, zone: part ?? '', sample: subsample ?? 1 }
  }
  const row = cell.row && { ...placed(cell.row), ...WHOLE }
  return { ...cell, place: placed(cell.place), row } as Cell
}
function renamed(cell: Cell): Cell {
  const { fate, status, row, ...rest } = cell as unknown as OldNames
  const { fate: ofRow, ...stands } = row ?? {}
  return {
    ...rest,
    status: status === 'contested' ? 'conflict' : status,
    missingStatus: fate ?? '',
    row: row && { ...stands, missing_status: ofRow ?? '' },
  } as unknown as Cell
}
function withConflict(item: OutboxItem): OutboxItem {
  if (item.change.kind !== 'decision') return item
  const { contested, ...rest } = item.change as typeof item.change & { contested?: string }
  return { ...item, change: { ...rest, conflicting: rest.conflicting ?? contested } }
}

let opened: Promise<IDBPDatabase<Shelf>> | undefined
export function shelf(): Promise<IDBPDatabase<Shelf>> {
  return (opened ??= openShelf('apercu'))
}
export function openShelf(name: string): Promise<IDBPDatabase<Shelf>> {
  return openDB<Shelf>(name, VERSION, {
    async upgrade(db, before, _now, transaction) {
      if (before < 1) db.createObjectStore('entries')
      if (before < 3)
        db.createObjectStore('outbox', { keyPath: 'seq', autoIncrement: true }).createIndex(
          'person',
          'person',
        )
      if (before < 5) db.createObjectStore('photographs')
      const outbox = transaction.objectStore('outbox')
      for (let at = await outbox.openCursor(); at; at = await at.continue())
        await at.update(withConflict(at.value))
      for (let at = await transaction.objectStore('entries').openCursor(); at; at = await at.continue()) {
        await at.update(ofThisVersion(at.value, before))
        const [person, visit, key] = at.key
        if (before < 3 && at.value.status === 'queued')
          await outbox.add({
            person,
            change: { kind: 'entry', visit, key },
            at: at.value.enteredAt,
          } as OutboxItem)
      }
    },
  })
}
