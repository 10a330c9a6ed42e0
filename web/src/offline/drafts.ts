import type { Cell } from './cells'
import { begin, done, recover } from './journal'
import { shelf } from './shelf'

/** Where typed values are kept on this device, key by key, until the server has them. */
export interface Drafts {
  all(): Promise<Record<string, Cell>>
  get(key: string): Promise<Cell | undefined>
  put(key: string, cell: Cell): Promise<void>
  remove(...keys: string[]): Promise<void>
}

/** The drafts of one person at one visit; nobody else's are seen. */
export function draftsOnThisDevice(person: string, visit: string): Drafts {
  const range = IDBKeyRange.bound([person, visit, ''], [person, visit, '\uffff'])
  return {
    async all() {
      await recoverAll()
      const entries = (await shelf()).transaction('entries').store
      const [keys, cells] = await Promise.all([entries.getAllKeys(range), entries.getAll(range)])
      return Object.fromEntries(keys.map((key, i) => [key[2], cells[i]!]))
    },
    async get(key) {
      return (await shelf()).get('entries', [person, visit, key])
    },
    async put(key, cell) {
      const kept = begin([person, visit, key], cell)
      await (await shelf()).put('entries', kept, [person, visit, key])
      done([person, visit, key], kept)
    },
    async remove(...keys) {
      for (const key of keys) done([person, visit, key])
      const all = (await shelf()).transaction('entries', 'readwrite')
      await Promise.all(keys.map((key) => all.store.delete([person, visit, key])))
      await all.done
    },
  }
}

const recoverAll = () => recover(async (place, cell) => (await shelf()).put('entries', cell, place))

/** How many of a person’s values the rules have asked back about. */
export const askedBack = async (person: string): Promise<number> =>
  (await withStatus(person, ['question', 'refused'])).length

/** A person’s finished entries that the server hasn’t answered, with where they stand. */
export const queuedDrafts = (person: string) => withStatus(person, ['queued'])

async function withStatus(
  person: string,
  states: Cell['status'][],
): Promise<{ visit: string; key: string; cell: Cell }[]> {
  await recoverAll()
  const entries = (await shelf()).transaction('entries').store
  const range = IDBKeyRange.bound([person, '', ''], [person, '\uffff', '\uffff'])
  const found = []
  for (let at = await entries.openCursor(range); at; at = await at.continue())
    if (states.includes(at.value.status)) found.push({ visit: at.key[1], key: at.key[2], cell: at.value })
  return found
}
