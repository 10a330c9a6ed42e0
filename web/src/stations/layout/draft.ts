import type { Layout, LayoutIn } from '@/api/queries'
import { newId } from '@/parts/newId'
import { plain, shownIn } from '@/texts/format'

export type Point = [number, number]
/** Lines along y while they are typed: where the first lies, how far apart, how wide. */
export interface LinesDraft {
  first: string
  spacing: string
  width: string
}
export interface ObstacleDraft {
  id: string
  name: string
  x: string
  y: string
  width: string
  length: string
}
/** The layout while it is being made. Points and shifts are metres; what is typed is text in the person's unit. */
export interface LayoutDraft {
  outline: Point[]
  corner: Point | null
  bearing: string
  headland: string
  gradient: string
  tracks: LinesDraft
  tree_rows: LinesDraft
  obstacles: ObstacleDraft[]
  sown_width: string
  sown_every: string
  harvest_width: string
  guard: string
  shifts: Record<string, Point>
}

const NOTHING: Layout['field'] = {
  outline: [], headland: 0, gradient: null, obstacles: [], tracks: null, tree_rows: null, harvest_width: null, guard: 0,
  sown_width: null, sown_every: 1,
} // prettier-ignore
export interface ShownLayout {
  field: Layout['field']
  bearing: number
  shifts: Record<string, Point>
}

const emptyLines = (): LinesDraft => ({ first: '', spacing: '', width: '' })

export function draftOf(layout: Layout, factor: number): LayoutDraft {
  const text = (metres: number | null | undefined) =>
    metres === null || metres === undefined ? '' : shownIn(factor, metres)
  const some = (metres: number | undefined) => (metres ? text(metres) : '')
  const field = layout.field
  const lines = (kept: typeof field.tracks): LinesDraft =>
    kept ? { first: text(kept.first), spacing: text(kept.spacing), width: text(kept.width) } : emptyLines()
  return {
    outline: (field.outline ?? []) as Point[],
    corner: null,
    bearing: plain(layout.bearing),
    headland: some(field.headland),
    gradient: field.gradient === null || field.gradient === undefined ? '' : plain(field.gradient),
    tracks: lines(field.tracks),
    tree_rows: lines(field.tree_rows),
    obstacles: (field.obstacles ?? []).map((one) => {
      const xs = one.points.map((p) => p[0]!)
      const ys = one.points.map((p) => p[1]!)
      const [x, y] = [Math.min(...xs), Math.min(...ys)]
      const size = { width: text(Math.max(...xs) - x), length: text(Math.max(...ys) - y) }
      return { id: newId(), name: one.name, x: text(x), y: text(y), ...size }
    }),
    sown_width: text(field.sown_width),
    sown_every: plain(field.sown_every ?? 1),
    harvest_width: text(field.harvest_width),
    guard: some(field.guard),
    shifts: {},
  }
}

/** What is sent: numbers as they were typed, which the server reads; an obstacle without any is the line that waits. */
export function layoutOf(draft: LayoutDraft, reason = ''): LayoutIn {
  return {
    field: {
      outline: draft.outline,
      headland: draft.headland,
      gradient: draft.gradient,
      obstacles: draft.obstacles.map(({ name, x, y, width, length }) => ({ name, x, y, width, length })),
      tracks: draft.tracks,
      tree_rows: draft.tree_rows,
      sown_width: draft.sown_width,
      sown_every: draft.sown_every,
      harvest_width: draft.harvest_width,
      guard: draft.guard,
    },
    bearing: draft.bearing,
    shifts: draft.shifts,
    corner: draft.corner,
    reason,
  }
}

/** What is drawn: outline and shifts as they are now, the rest as the server last read it, in metres. */
export function shownLayout(draft: LayoutDraft, read: Layout | undefined): ShownLayout {
  return {
    field: { ...(read?.field ?? NOTHING), outline: draft.outline },
    bearing: read?.bearing ?? 0,
    shifts: draft.shifts,
  }
}

/** To the nearest half metre, which is as near as one paces. */
/** How far one step goes, m, and as it is said: half a metre, or a foot. `factor`: from metres to the person's unit. */
export const stepOf = (factor: number) =>
  factor === 1 ? { metres: 0.5, said: 0.5 } : { metres: 1 / factor, said: 1 }
export const snap = (metres: number, step: number) => Math.round(metres / step) * step
