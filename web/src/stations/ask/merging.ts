import type { AskDraft } from './draft'

/** A place that two people changed in different ways: what stands in the draft, and what the other one typed. */
export interface Collision {
  where: string[]
  mine: unknown
  theirs: unknown
  /** Put the other's in the place of one's own. */
  take: () => void
}
/** `taken`: what only the other one changed, and what is in the draft now. */
export interface Merged {
  taken: string[][]
  collisions: Collision[]
}

type Json = Record<string, unknown>
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)
const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** By what the rows of a list are told apart; null where they can't be. */
function keyOf(row: unknown): string | null {
  if (!isObject(row)) return null
  if (isObject(row.site)) return String(row.site.id)
  return typeof row.id === 'string' ? row.id : null
}
/** What a person calls a row. */
function nameOf(row: Json): string {
  const inside = isObject(row.site) ? row.site : row
  return String(inside.name ?? '')
}

/**
 * Bring what another person kept (`theirs`) into the draft, both having started from `base`. What only one of them
 * changed is taken; where both changed the same place, the draft stays as it is and the place is told.
 */
export function mergeInto(draft: AskDraft, base: AskDraft, theirs: AskDraft): Merged {
  const merged: Merged = { taken: [], collisions: [] }
  objects(draft as unknown as Json, base as unknown as Json, theirs as unknown as Json, [], merged)
  return merged
}

function objects(mine: Json, base: Json, theirs: Json, where: string[], merged: Merged) {
  for (const key of new Set([...Object.keys(mine), ...Object.keys(theirs)])) {
    const [a, b, c] = [mine[key], base[key], theirs[key]]
    const at = [...where, key]
    if (same(a, c) || same(b, c)) continue
    if (isObject(a) && isObject(b) && isObject(c)) objects(a, b, c, at, merged)
    else if (hasRows(a) && hasRows(b) && hasRows(c)) mine[key] = rows(a, b, c, at, merged)
    else if (same(a, b)) {
      mine[key] = c
      merged.taken.push(at)
    } else merged.collisions.push({ where: at, mine: a, theirs: c, take: () => (mine[key] = c) })
  }
}

const hasRows = (list: unknown): list is Json[] =>
  Array.isArray(list) && list.every((row) => keyOf(row) !== null)

function rows(mine: Json[], base: Json[], theirs: Json[], where: string[], merged: Merged): Json[] {
  const find = (list: Json[], key: string | null) => list.find((row) => keyOf(row) === key)
  const kept = mine.filter((row) => {
    const [before, now] = [find(base, keyOf(row)), find(theirs, keyOf(row))]
    const at = [...where, nameOf(row)]
    if (now && before) objects(row, before, now, at, merged)
    if (now || !before) return true
    if (same(row, before)) {
      merged.taken.push(at)
      return false
    }
    merged.collisions.push({ where: at, mine: row, theirs: undefined, take: () => drop(kept, row) })
    return true
  })
  for (const row of theirs) {
    if (find(mine, keyOf(row))) continue
    const before = find(base, keyOf(row))
    const at = [...where, nameOf(row)]
    if (!before) {
      kept.push(row)
      merged.taken.push(at)
    } else if (!same(row, before)) {
      merged.collisions.push({ where: at, mine: undefined, theirs: row, take: () => kept.push(row) })
    }
  }
  const moved = !same(common(base, theirs), common(theirs, base))
  if (moved && same(common(mine, base), common(base, mine))) inOrderOf(theirs, kept)
  return kept
}

/** Keys of the rows that stand in both, in the order of the first. */
function common(list: Json[], other: Json[]): (string | null)[] {
  const there = new Set(other.map(keyOf))
  return list.map(keyOf).filter((key) => there.has(key))
}

/** Where only the other one has put rows in another order, that is taken too. */
function inOrderOf(theirs: Json[], kept: Json[]) {
  const place = new Map(theirs.map((row, i) => [keyOf(row), i]))
  kept.sort((a, b) => (place.get(keyOf(a)) ?? kept.length) - (place.get(keyOf(b)) ?? kept.length))
}

function drop(list: Json[], row: Json) {
  const at = list.findIndex((one) => keyOf(one) === keyOf(row))
  if (at >= 0) list.splice(at, 1)
}
