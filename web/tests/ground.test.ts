import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'

import { extentOf, fitView, neighbour, scaleBar, toScreen, zoomAbout } from '@/ground/geometry'
import { useMapView } from '@/ground/useMapView'
import { palettes, wearOf } from '@/shell/palette'
import { layMarks, stripScale } from '@/strip/scale'

const plots = [0, 1, 2].flatMap((row) =>
  [0, 1, 2].map((col) => ({ id: `${row}${col}`, x: col * 7, y: row * 15, width: 6, length: 12 })),
)

describe('the map', () => {
  const ground = extentOf(plots)
  const view = fitView(ground, { width: 340, height: 500 }, 20)

  it('is to scale, both ways, with y growing away from the viewer', () => {
    const near = toScreen(plots[0]!, ground, view)
    const far = toScreen(plots[6]!, ground, view)
    expect(near.height / near.width).toBeCloseTo(2)
    expect(near.y - far.y).toBeCloseTo(30 * view.scale)
  })
  it('keeps the point under the pointer when it zooms', () => {
    const zoomed = zoomAbout(view, 1.7, 120, 80)
    const ground_x = (120 - view.left) / view.scale
    expect(zoomed.left + ground_x * zoomed.scale).toBeCloseTo(120)
  })
  it('has a scale bar of 1, 2 or 5 that is exactly as long as it says', () => {
    for (const scale of [0.7, 3.3, 8, 41, 180]) {
      const bar = scaleBar(scale, 110)
      expect(bar.pixels).toBeCloseTo(bar.length * scale)
      expect(bar.pixels).toBeLessThanOrEqual(110)
      expect(bar.pixels).toBeGreaterThan(110 / 2.6)
      expect(['1', '2', '5']).toContain(String(bar.length).replace(/[0.]/g, ''))
    }
  })
  it('moves to the plot next door, and stays at the edge', () => {
    expect(neighbour(plots[0]!, plots, 1, 0).id).toBe('01')
    expect(neighbour(plots[0]!, plots, 0, 1).id).toBe('10')
    expect(neighbour(plots[0]!, plots, -1, 0).id).toBe('00')
  })
})

describe('the season strip', () => {
  const scale = stripScale('2025-08-28', '2026-10-14', '2026-10-20')
  it('is to scale', () => {
    const days = (a: string, b: string) => (scale.place(b) - scale.place(a)) * scale.days
    expect(days('2025-10-01', '2025-10-31')).toBeCloseTo(30)
    expect(days('2026-02-01', '2026-03-01')).toBeCloseTo(28)
    expect(scale.place('2026-10-20')).toBeLessThan(1)
  })
  it('lays labels that would meet on rows of their own, and keeps the mark of one that fits nowhere', () => {
    const lay = (...events: [string, number][]) =>
      layMarks(
        events.map(([name, x]) => ({ name, x })),
        800,
      )
    expect(lay(['Cover biomass', 0.5], ['Kill', 0.52], ['Weeds', 0.8]).map((m) => m.row)).toEqual([0, 1, 0])
    const crowd = lay(
      ['Cover biomass', 0.5],
      ['Crimp and mow', 0.51],
      ['Drill the beet', 0.52],
      ['Stand', 0.53],
    )
    expect(crowd.map((m) => [m.row, m.silent])).toEqual([[0, false], [1, false], [2, false], [0, true]]) // prettier-ignore
  })
  it('turns labels near the end to the left, where they meet others', () => {
    const marks = layMarks([{ name: 'Weeds', x: 0.84 }, { name: 'Harvest', x: 0.95 }], 800) // prettier-ignore
    expect(marks.map((m) => [m.left, m.row])).toEqual([[false, 0], [true, 1]]) // prettier-ignore
  })
})

function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const c = parseInt(hex.slice(i, i + 2), 16) / 255
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
  })
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!
}
function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x)
  return (light! + 0.05) / (dark! + 0.05)
}

describe('the palette', () => {
  it('carries text at 4.5:1 in every mode', () => {
    for (const p of Object.values(palettes)) {
      for (const back of ['paper', 'ground', 'edge'])
        for (const text of ['text', 'quiet', 'link'])
          expect(contrast(p[text]!, p[back]!)).toBeGreaterThan(4.5)
      for (const text of ['gain', 'loss', 'unsettled', 'neutral', 'accent'])
        expect(contrast(p[text]!, p.paper!)).toBeGreaterThan(4.5)
      expect(contrast(p['on-accent']!, p.accent!)).toBeGreaterThan(4.5)
      expect(contrast(p['band-quiet']!, p.band!)).toBeGreaterThan(4.5)
    }
  })
  it('gives thirty treatments hues that carry white text, and no two the same wear', () => {
    const wears = Array.from({ length: 30 }, (_, i) => wearOf(i))
    for (const wear of wears) expect(contrast('#FFFFFF', wear.hue)).toBeGreaterThan(4.5)
    expect(new Set(wears.map((w) => w.hue + w.pattern)).size).toBe(30)
  })
})

describe('the view of a map', () => {
  const start = { scale: 10, left: 5, top: 7 }
  function open() {
    let map!: ReturnType<typeof useMapView>
    const page = mount(
      defineComponent({
        setup() {
          const frame = ref<HTMLElement>()
          map = useMapView(frame, { width: 200, height: 100 }, () => start, [8, 20])
          return () => h('div', { ref: frame })
        },
      }),
    )
    return { map, page }
  }
  const pointer = (x: number, y: number, buttons = 1) => ({ clientX: x, clientY: y, buttons }) as PointerEvent
  const key = (name: string) => new KeyboardEvent('keydown', { key: name, cancelable: true })

  it('is dragged from a few pixels on, and only while the button is down', () => {
    const { map } = open()
    map.hold(pointer(50, 50))
    expect([map.drag(pointer(53, 52)), map.wasDragged()]).toEqual([null, false])
    expect(map.drag(pointer(60, 45, 0))).toBeNull()
    const by = map.drag(pointer(60, 45))!
    map.panTo(by)
    expect(map.view.value).toEqual({ scale: 10, left: 15, top: 2 })
    expect(map.wasDragged()).toBe(true)
  })
  it('is zoomed by keys about its middle, within limits, and shows all of it again', () => {
    const { map } = open()
    expect([map.zoomKey(key('+')), map.zoomKey(key('x'))]).toEqual([true, false])
    expect(map.view.value).toEqual({ scale: 12.5, left: 100 - 95 * 1.25, top: 50 - 43 * 1.25 })
    for (let i = 0; i < 9; i++) map.zoomKey(key('='))
    expect(map.view.value.scale).toBeLessThanOrEqual(20)
    for (let i = 0; i < 9; i++) map.zoomKey(key('-'))
    expect(map.view.value.scale).toBeGreaterThanOrEqual(8)
    map.zoomKey(key('0'))
    expect(map.view.value).toEqual(start)
  })
})
