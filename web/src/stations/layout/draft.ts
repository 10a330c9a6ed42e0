import type { Layout, LayoutIn } from '@/api/queries'
import { newId } from '@/parts/newId'
import { plain, typedFigure } from '@/texts/format'

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

const emptyLines = (): LinesDraft => ({ first: '', spacing: '', width: '' })
const round = (value: number) => Number(value.toPrecision(9))

export function draftOf(layout: Layout, factor: number): LayoutDraft {
  const text = (metres: number | null | undefined) =>
    metres === null || metres === undefined ? '' : plain(metres * factor)
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

const isFigure = (text: string) => text.trim() !== '' && !Number.isNaN(typedFigure(text))

/** What is sent: half-typed figures and lines judge nothing. */
export function layoutOf(draft: LayoutDraft, factor: number): LayoutIn {
  const metres = (text: string) => (isFigure(text) ? round(typedFigure(text)! / factor) : null)
  const lines = (typed: LinesDraft) => {
    const [first, spacing, width] = [metres(typed.first) ?? 0, metres(typed.spacing), metres(typed.width)]
    return spacing === null || width === null ? null : { first, spacing, width }
  }
  return {
    field: {
      outline: draft.outline,
      headland: metres(draft.headland) ?? 0,
      gradient: isFigure(draft.gradient) ? ((typedFigure(draft.gradient)! % 360) + 360) % 360 : null,
      obstacles: draft.obstacles.flatMap((one) => {
        const [x, y, w, l] = [metres(one.x), metres(one.y), metres(one.width), metres(one.length)]
        if (x === null || y === null || !w || !l) return []
        const points = [[x, y], [x + w, y], [x + w, y + l], [x, y + l]] // prettier-ignore
        return [{ name: one.name.trim(), points }]
      }),
      tracks: lines(draft.tracks),
      tree_rows: lines(draft.tree_rows),
      sown_width: metres(draft.sown_width),
      sown_every: Math.min(20, Math.max(1, Math.round(typedFigure(draft.sown_every) || 1))),
      harvest_width: metres(draft.harvest_width),
      guard: metres(draft.guard) ?? 0,
    },
    bearing: isFigure(draft.bearing) ? typedFigure(draft.bearing)! : 0,
    shifts: draft.shifts,
    corner: draft.corner,
  }
}

/** To the nearest half metre, which is as near as one paces. */
export const snap = (metres: number) => Math.round(metres * 2) / 2
