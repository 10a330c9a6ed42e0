/** The map's arithmetic: metres on the ground to pixels on the screen and back. y grows away from the viewer. */

export interface Box {
  x: number
  y: number
  width: number
  length: number
}
export interface Size {
  width: number
  height: number
}
/** `scale`: pixels per metre; `left`, `top`: screen position of the ground's upper left corner. */
export interface View {
  scale: number
  left: number
  top: number
}

export function extentOf(boxes: Box[]): Size {
  return {
    width: Math.max(1, ...boxes.map((b) => b.x + b.width)),
    height: Math.max(1, ...boxes.map((b) => b.y + b.length)),
  }
}

/** The view that shows all of the ground inside the frame, the same scale both ways. */
export function fitView(ground: Size, frame: Size, padding: number): View {
  const scale = Math.max(
    0.5,
    Math.min((frame.width - 2 * padding) / ground.width, (frame.height - 2 * padding) / ground.height),
  )
  return {
    scale,
    left: (frame.width - ground.width * scale) / 2,
    top: Math.max(padding, (frame.height - ground.height * scale) / 2),
  }
}

/** Zoom about a point of the screen, which stays where it is. */
export function zoomAbout(view: View, factor: number, x: number, y: number): View {
  return {
    scale: view.scale * factor,
    left: x - (x - view.left) * factor,
    top: y - (y - view.top) * factor,
  }
}

export function toScreen(box: Box, ground: Size, view: View) {
  return {
    x: view.left + box.x * view.scale,
    y: view.top + (ground.height - box.y - box.length) * view.scale,
    width: box.width * view.scale,
    height: box.length * view.scale,
  }
}

/** The longest bar of 1, 2 or 5 × 10ⁿ units, `scale` pixels each, that is at most `most` pixels long, and its true length in pixels. */
export function scaleBar(scale: number, most: number): { length: number; pixels: number } {
  const limit = most / scale
  const power = 10 ** Math.floor(Math.log10(limit))
  const length = [5, 2, 1].map((step) => step * power).find((m) => m <= limit) ?? power
  return { length, pixels: length * scale }
}

/** The nearest plot in a direction, by centre; itself if there is none. */
export function neighbour<T extends Box>(from: T, all: T[], dx: number, dy: number): T {
  const centre = (b: Box) => ({ x: b.x + b.width / 2, y: b.y + b.length / 2 })
  const here = centre(from)
  let best = from
  let shortest = Infinity
  for (const plot of all) {
    const there = centre(plot)
    const along = (there.x - here.x) * dx + (there.y - here.y) * dy
    const aside = Math.abs((there.x - here.x) * dy) + Math.abs((there.y - here.y) * dx)
    if (along <= 1e-6) continue
    const distance = along + 3 * aside
    if (distance < shortest) [best, shortest] = [plot, distance]
  }
  return best
}

/** Size of a plot's number or code, px: as large as usual, or as its plate allows; a digit is about 0.62 as wide as high. */
export const fitting = (label: string, width: number, usual = 12) =>
  Math.max(7, Math.min(usual, width / (0.62 * Math.max(1, label.length))))

/** The plate of a code that stands upright: long enough for it, and never longer than its plot. */
export const plateLength = (code: string, height: number) =>
  Math.min(height - 4, Math.max(34, 7.5 * code.length + 8))
