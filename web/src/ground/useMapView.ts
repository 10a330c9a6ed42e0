import { onBeforeUnmount, onMounted, ref, type Ref } from 'vue'

import { zoomAbout, type Size, type View } from './geometry'

/** Steps of the arrow keys on the ground, where y grows away from the viewer. */
export const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
}
/** Pixels that a pointer may tremble before it drags. */
const TREMBLE = 5

/**
 * What every map does alike: it fills its frame until somebody zooms or pans, by buttons, keys, wheel or dragging.
 * `fitted`: the view that shows all of it in a frame; `scales`: least and most pixels per metre.
 */
export function useMapView(
  frame: Ref<HTMLElement | undefined>,
  start: Size,
  fitted: (size: Size) => View,
  scales: [number, number],
) {
  const size = ref(start)
  const view = ref<View>(fitted(start))
  let touched = false

  function fit() {
    view.value = fitted(size.value)
    touched = false
  }
  function zoom(factor: number, x = size.value.width / 2, y = size.value.height / 2) {
    const next = view.value.scale * factor
    if (next < scales[0] || next > scales[1]) return
    view.value = zoomAbout(view.value, factor, x, y)
    touched = true
  }
  function wheel(event: WheelEvent) {
    zoom(event.deltaY < 0 ? 1.15 : 1 / 1.15, event.offsetX, event.offsetY)
  }
  /** Whether the key was one of the map’s: + − 0. */
  function zoomKey(event: KeyboardEvent): boolean {
    if (event.key === '+' || event.key === '=') zoom(1.25)
    else if (event.key === '-') zoom(0.8)
    else if (event.key === '0') fit()
    else return false
    event.preventDefault()
    return true
  }

  let held: { x: number; y: number; view: View; moved: boolean } | undefined
  function hold(event: PointerEvent) {
    held = { x: event.clientX, y: event.clientY, view: view.value, moved: false }
  }
  /** How far the pointer has been dragged, pixels; nothing as long as it only trembles. */
  function drag(event: PointerEvent): { dx: number; dy: number } | null {
    if (!held || !(event.buttons & 1)) return null
    const [dx, dy] = [event.clientX - held.x, event.clientY - held.y]
    held.moved ||= Math.hypot(dx, dy) >= TREMBLE
    return held.moved ? { dx, dy } : null
  }
  function panTo(by: { dx: number; dy: number }) {
    if (!held) return
    view.value = { ...held.view, left: held.view.left + by.dx, top: held.view.top + by.dy }
    touched = true
  }
  const wasDragged = () => !!held?.moved

  let observer: ResizeObserver | undefined
  onMounted(() => {
    observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect
      if (width > 0 && height > 0) size.value = { width, height }
      if (!touched) fit()
    })
    observer.observe(frame.value!)
  })
  onBeforeUnmount(() => observer?.disconnect())
  return { size, view, fit, zoom, wheel, zoomKey, hold, drag, panTo, wasDragged }
}
