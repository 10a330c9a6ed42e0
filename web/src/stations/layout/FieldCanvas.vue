<script setup lang="ts">
import { computed, ref, useId } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Layout, Trial } from '@/api/queries'
import { fitting, plateLength } from '@/ground/geometry'
import ScaleBar from '@/ground/ScaleBar.vue'
import TreatmentPatterns from '@/ground/TreatmentPatterns.vue'
import { ARROWS, useMapView } from '@/ground/useMapView'
import ZoomTools from '@/ground/ZoomTools.vue'
import { saidIn } from '@/texts/format'

import { snap, stepOf, type Point, type ShownLayout } from './draft'

/**
 * The field to scale: its outline, what is in it, and the plots, whose blocks can be dragged or nudged with the arrow
 * keys. While `drawing`, a click sets a corner of the outline.
 */
const props = defineProps<{
  trial: Trial
  layout: ShownLayout
  found: Layout | undefined
  drawing: boolean
  mayMove: boolean
}>()
const emit = defineEmits<{ move: [block: string, by: Point]; corner: [at: Point] }>()
const { t } = useI18n()
const prefix = useId()
const frame = ref<HTMLElement>()
const dragged = ref<{ block: string; by: Point } | null>(null)

const path = (points: number[][]) => points.map((p) => `${X(p[0]!)},${Y(p[1]!)}`).join(' ')
const faults = computed(() => new Map((props.found?.plots ?? []).map((one) => [one.label, one])))
/** Where the combine and the samples go; drawn once one of them was asked about. */
function areasOf(fit: Layout['plots'][number] | undefined) {
  const asked = props.layout.field.harvest_width || props.layout.field.guard || props.layout.field.tracks
  if (!fit || !asked) return []
  return (['harvest', 'sample'] as const).flatMap((kind) => (fit[kind] ? [{ kind, ...fit[kind] }] : []))
}
const order = computed(() => new Map(props.trial.treatments.map((one, i) => [one.id, i])))

/** Where a block has been moved to, with the drag that is under way. */
function shiftOf(block: string): Point {
  const [x, y] = (props.layout.shifts?.[block] ?? [0, 0]) as Point
  const by = dragged.value?.block === block ? dragged.value.by : [0, 0]
  return [x + by[0]!, y + by[1]!]
}
const plots = computed(() =>
  props.trial.plots.map((plot) => {
    const [dx, dy] = shiftOf(plot.block)
    const at = order.value.get(plot.treatment) ?? 0
    const [x, y] = [plot.x + dx, plot.y + dy]
    return { ...plot, x, y, at, code: props.trial.treatments[at]?.code ?? '', fault: faults.value.get(plot.label) }
  }),
) // prettier-ignore
const blocks = computed(() =>
  [...new Set(plots.value.map((plot) => plot.block))].map((name) => {
    const own = plots.value.filter((plot) => plot.block === name)
    const x = Math.min(...own.map((p) => p.x))
    const y = Math.min(...own.map((p) => p.y))
    const width = Math.max(...own.map((p) => p.x + p.width)) - x
    return { name, own, x, y, width, length: Math.max(...own.map((p) => p.y + p.length)) - y }
  }),
)
const bounds = computed(() => {
  const outline = props.layout.field.outline ?? []
  const xs = [0, ...outline.map((p) => p[0]!), ...plots.value.flatMap((p) => [p.x, p.x + p.width])]
  const ys = [0, ...outline.map((p) => p[1]!), ...plots.value.flatMap((p) => [p.y, p.y + p.length])]
  return { x0: Math.min(...xs), x1: Math.max(...xs), y0: Math.min(...ys), y1: Math.max(...ys) }
})
/** Lines of tracks or tree rows, as far as the field or the plots reach. */
function bands(lines: { first: number; spacing: number; width: number } | null | undefined) {
  if (!lines || !(lines.spacing > 0) || (bounds.value.x1 - bounds.value.x0) / lines.spacing > 400) return []
  const from = Math.ceil((bounds.value.x0 - lines.first) / lines.spacing)
  const to = Math.floor((bounds.value.x1 - lines.first) / lines.spacing)
  return Array.from({ length: Math.max(0, to - from + 1) }, (_, k) => lines.first + (from + k) * lines.spacing)
} // prettier-ignore
const said = (metres: number) => saidIn(props.trial.length_factor, metres)
/** How large all of it is, drawn along two sides. */
const whole = computed(() => {
  const p = plots.value
  if (!p.length) return null
  const x = Math.min(...p.map((one) => one.x))
  const y = Math.min(...p.map((one) => one.y))
  return {
    x,
    y,
    width: Math.max(...p.map((one) => one.x + one.width)) - x,
    length: Math.max(...p.map((one) => one.y + one.length)) - y,
  }
})

const PAD = 46
/** Room under the field for the scale bar. */
const BELOW = 20
const { size, view, fit, zoom, wheel, zoomKey, hold, drag, panTo, wasDragged } = useMapView(
  frame,
  { width: 760, height: 520 },
  ({ width, height }) => {
    const { x0, x1, y0, y1 } = bounds.value
    const scale = Math.min(
      (width - 2 * PAD) / Math.max(1, x1 - x0),
      (height - 2 * PAD - BELOW) / Math.max(1, y1 - y0),
    )
    return { scale, left: (width - (x1 + x0) * scale) / 2, top: (height - BELOW + (y1 + y0) * scale) / 2 }
  },
  [0.2, 200],
)
const X = (x: number) => view.value.left + x * view.value.scale
const Y = (y: number) => view.value.top - y * view.value.scale
defineExpose({ fit })

const step = computed(() => stepOf(props.trial.length_factor).metres)
let grabbed = ''
function press(event: PointerEvent) {
  const block = (event.target as Element).closest('[data-block]')?.getAttribute('data-block') ?? ''
  grabbed = props.mayMove && !props.drawing ? block : ''
  hold(event)
  ;(event.currentTarget as Element).setPointerCapture?.(event.pointerId)
}
function move(event: PointerEvent) {
  const by = drag(event)
  if (!by) return
  const { scale } = view.value
  if (grabbed)
    dragged.value = {
      block: grabbed,
      by: [snap(by.dx / scale, step.value), snap(-by.dy / scale, step.value)],
    }
  else panTo(by)
}
function release(event: PointerEvent) {
  if (dragged.value) {
    const { block, by } = dragged.value
    dragged.value = null
    if (by[0] || by[1]) emit('move', block, by)
  } else if (!wasDragged() && props.drawing) {
    const box = frame.value!.getBoundingClientRect()
    const { scale, left, top } = view.value
    const [x, y] = [event.clientX - box.left, event.clientY - box.top]
    emit('corner', [snap((x - left) / scale, step.value), snap((top - y) / scale, step.value)])
  }
}
function nudge(event: KeyboardEvent, block: string) {
  const way = ARROWS[event.key]
  if (!way || !props.mayMove) return
  const by = (event.shiftKey ? 10 : 1) * step.value
  emit('move', block, [way[0] * by, way[1] * by])
  event.preventDefault()
}
</script>

<template>
  <div
    ref="frame"
    class="canvas"
    :class="{ drawing }"
    @pointerdown="press"
    @pointermove="move"
    @pointerup="release"
    @wheel.prevent="wheel"
    @keydown="zoomKey"
  >
    <svg :width="size.width" :height="size.height" role="group" :aria-label="t('layout.canvas')">
      <TreatmentPatterns :count="trial.treatments.length" :prefix="prefix" />
      <polygon v-if="layout.field.outline?.length" class="field" :points="path(layout.field.outline)" />
      <g aria-hidden="true">
        <circle
          v-for="(p, i) in drawing ? layout.field.outline : []"
          :key="i"
          class="corner"
          :cx="X(p[0]!)"
          :cy="Y(p[1]!)"
          r="4"
        />
        <polygon
          v-for="(ring, i) in layout.field.headland ? found?.usable : []"
          :key="`u${i}`"
          class="usable"
          :points="path(ring)"
        />
        <rect
          v-for="x in bands(layout.field.tree_rows)"
          :key="`t${x}`"
          class="trees"
          :x="X(x - layout.field.tree_rows!.width / 2)"
          :y="Y(bounds.y1)"
          :width="layout.field.tree_rows!.width * view.scale"
          :height="(bounds.y1 - bounds.y0) * view.scale"
        />
        <polygon
          v-for="(one, i) in layout.field.obstacles"
          :key="`o${i}`"
          class="obstacle"
          :points="path(one.points)"
        />
        <text
          v-for="(one, i) in layout.field.obstacles"
          :key="`n${i}`"
          class="note"
          :x="X(one.points[0]![0]!)"
          :y="Y(one.points[0]![1]!) + 13"
        >
          {{ one.name }}
        </text>
      </g>
      <g
        v-for="block in blocks"
        :key="block.name"
        class="block"
        :class="{ fixed: !mayMove }"
        :data-block="block.name"
        :tabindex="mayMove ? 0 : -1"
        :role="mayMove ? 'button' : 'img'"
        :aria-label="
          t('layout.block', {
            b: block.name || t('layout.all'),
            x: said(block.x),
            y: said(block.y),
            unit: trial.length_unit,
          })
        "
        @keydown="nudge($event, block.name)"
      >
        <g v-for="p in block.own" :key="p.id" :class="{ wrong: p.fault?.wrong.length }">
          <title>{{ [p.label, p.code, ...(p.fault?.wrong ?? [])].join(', ') }}</title>
          <rect
            class="land"
            :x="X(p.x)"
            :y="Y(p.y + p.length)"
            :width="p.width * view.scale"
            :height="p.length * view.scale"
            :fill="`url(#${prefix}-${p.at})`"
          />
          <rect
            v-for="area in dragged ? [] : areasOf(p.fault)"
            :key="area.kind"
            :class="area.kind"
            :x="X(area.x)"
            :y="Y(area.y + area.length)"
            :width="area.width * view.scale"
            :height="area.length * view.scale"
          />
          <g v-if="p.width * view.scale > 22 && p.length * view.scale > 26">
            <rect
              class="plate"
              :x="X(p.x + p.width / 2) - Math.min(17, (p.width * view.scale) / 2 - 1)"
              :y="Y(p.y + p.length / 2) - 13"
              :width="Math.min(34, p.width * view.scale - 2)"
              height="26"
              rx="3"
            />
            <text
              class="code"
              :x="X(p.x + p.width / 2)"
              :y="Y(p.y + p.length / 2) - 1"
              text-anchor="middle"
              :style="{ fontSize: `${fitting(p.code, Math.min(34, p.width * view.scale - 2) - 4)}px` }"
            >
              {{ p.code }}
            </text>
            <text
              class="number"
              :x="X(p.x + p.width / 2)"
              :y="Y(p.y + p.length / 2) + 10"
              text-anchor="middle"
            >
              {{ p.label }}
            </text>
          </g>
          <g
            v-else-if="p.width * view.scale > 13 && p.length * view.scale > 34"
            :transform="`translate(${X(p.x + p.width / 2)} ${Y(p.y + p.length / 2)}) rotate(-90)`"
          >
            <rect
              class="plate"
              :x="-plateLength(p.code, p.length * view.scale) / 2"
              y="-7"
              :width="plateLength(p.code, p.length * view.scale)"
              height="14"
              rx="3"
            />
            <text
              class="code"
              y="4"
              text-anchor="middle"
              :style="{
                fontSize: `${fitting(p.code, plateLength(p.code, p.length * view.scale) - 6, 11)}px`,
              }"
            >
              {{ p.code }}
            </text>
          </g>
        </g>
        <rect
          class="hold"
          :x="X(block.x) - 3"
          :y="Y(block.y + block.length) - 3"
          :width="block.width * view.scale + 6"
          :height="block.length * view.scale + 6"
        />
        <text class="name" :x="X(block.x) - 9" :y="Y(block.y + block.length / 2) + 4" text-anchor="end">
          {{ block.name }}
        </text>
      </g>
      <g aria-hidden="true" class="over">
        <rect
          v-for="x in bands(layout.field.tracks)"
          :key="`w${x}`"
          class="track"
          :x="X(x - layout.field.tracks!.width / 2)"
          :y="Y(bounds.y1)"
          :width="layout.field.tracks!.width * view.scale"
          :height="(bounds.y1 - bounds.y0) * view.scale"
        />
        <g v-if="whole" class="measure">
          <path :d="`M${X(whole.x)} ${Y(whole.y) + 10}v6m0-3H${X(whole.x + whole.width)}m0-3v6`" />
          <text :x="X(whole.x + whole.width / 2)" :y="Y(whole.y) + 27" text-anchor="middle">
            {{ said(whole.width) }} {{ trial.length_unit }}
          </text>
          <path
            :d="`M${X(whole.x + whole.width) + 10} ${Y(whole.y)}h6m-3 0V${Y(whole.y + whole.length)}m-3 0h6`"
          />
          <text :x="X(whole.x + whole.width) + 20" :y="Y(whole.y + whole.length / 2) + 4">
            {{ said(whole.length) }} {{ trial.length_unit }}
          </text>
        </g>
        <ScaleBar
          :scale="view.scale"
          :length-unit="trial.length_unit"
          :length-factor="trial.length_factor"
          :y="size.height - 16"
        />
        <g :transform="`translate(${size.width - 30} 34) rotate(${-(layout.bearing ?? 0)})`">
          <path class="north" d="M0 -14l6 22-6-5-6 5z" />
          <text class="n" y="-17" text-anchor="middle">N</text>
        </g>
        <g
          v-if="layout.field.gradient !== null && layout.field.gradient !== undefined"
          :transform="`translate(${size.width - 80} 34) rotate(${layout.field.gradient - (layout.bearing ?? 0)})`"
        >
          <path class="gradient" d="M0 18V-14m0-4l-6 9h12z" />
        </g>
      </g>
    </svg>
    <p v-if="layout.field.gradient !== null && layout.field.gradient !== undefined" class="fall small">
      {{ t('layout.falls') }}
    </p>
    <ZoomTools class="tools" @zoom="zoom" @fit="fit" />
  </div>
</template>

<style scoped>
.canvas {
  position: relative;
  height: min(68vh, 640px);
  min-height: 340px;
  background: var(--ground);
  border: 1px solid var(--rule);
  border-radius: 8px;
  overflow: hidden;
  touch-action: none;
}
.drawing {
  cursor: crosshair;
}
svg {
  position: absolute;
  inset: 0;
  user-select: none;
}
.field {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2;
  stroke-linejoin: round;
}
.usable {
  fill: none;
  stroke: var(--quiet);
  stroke-dasharray: 7 5;
}
.corner {
  fill: var(--accent);
}
.trees {
  fill: var(--gain);
  opacity: 0.45;
}
.obstacle {
  fill: var(--neutral);
  opacity: 0.7;
}
.track {
  fill: var(--ink);
  opacity: 0.22;
  pointer-events: none;
}
.block {
  cursor: grab;
}
.block.fixed {
  cursor: default;
}
.block:focus {
  outline: none;
}
.hold {
  fill: none;
  pointer-events: none;
}
.block:hover:not(.fixed) .hold {
  stroke: var(--field);
}
.block:focus-visible .hold {
  stroke: var(--link);
  stroke-width: 3;
}
.land {
  stroke: var(--paper);
  stroke-width: 1;
}
.wrong .land {
  stroke: var(--loss);
  stroke-width: 3;
  stroke-dasharray: 6 3;
}
.harvest {
  fill: rgb(255 255 255 / 0.3);
  stroke: #ffffff;
  stroke-dasharray: 3 2;
  pointer-events: none;
}
.sample {
  fill: none;
  stroke: #ffffff;
  stroke-width: 1.6;
  stroke-dasharray: 1 3;
  stroke-linecap: round;
  pointer-events: none;
}
.plate {
  fill: #ffffff;
  opacity: 0.93;
}
text {
  font-size: 12px;
  fill: var(--ink);
}
.code {
  fill: #20262b;
  font-weight: 700;
}
.number {
  fill: #4a5056;
  font-size: 10px;
}
.name {
  font-weight: 700;
  font-size: 13px;
}
.over {
  pointer-events: none;
}
.measure path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.3;
}
.north {
  fill: var(--ink);
}
.n {
  font-weight: 700;
}
.gradient {
  fill: var(--link);
  stroke: var(--link);
  stroke-width: 2.5;
}
.fall {
  position: absolute;
  right: 58px;
  top: 56px;
  margin: 0;
  color: var(--link);
  width: 46px;
  text-align: center;
}
.tools {
  right: 12px;
}
</style>
