<script setup lang="ts">
import { computed, nextTick, ref, useId, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Plot, Treatment } from '@/api/queries'

import { useKeys } from '@/help/useKeys'

import { extentOf, fitting, fitView, neighbour, plateLength, toScreen } from './geometry'
import ScaleBar from './ScaleBar.vue'
import TreatmentPatterns from './TreatmentPatterns.vue'
import { ARROWS, useMapView } from './useMapView'
import ZoomTools from './ZoomTools.vue'

/** What a plot shows beside its treatment: a figure under the code, a shade in place of the treatment's wear. */
export interface PlotFace {
  figure?: string
  shade?: string
  state?: 'lost' | 'doubtful'
}

/** A leg of a drill’s way, metres from the corner; `plot`: which one is sown on it, empty for driving on. */
export interface WayLeg {
  plot: string
  points: number[][]
}

const props = defineProps<{
  plots: Plot[]
  treatments: Treatment[]
  faces: Record<string, PlotFace>
  bearing: number
  schematic: boolean
  gradient: string
  lengthUnit?: string
  lengthFactor?: number
  way?: WayLeg[]
  /** At which of the sown legs the drill is cleaned first. */
  cleaned?: number[]
  strips?: Record<string, number[][]>
  /** Where samples are taken, metres: x, y, width, length. */
  samples?: number[][]
  /** Ground that has failed, metres: x, y, width, length. */
  failed?: number[][]
}>()
const chosen = defineModel<string[]>('chosen', { required: true })

const { t } = useI18n()
useKeys(() => [
  ['← ↑ → ↓', t('keys.arrows')],
  ['Enter', t('keys.choose')],
  ['+ − 0', t('keys.zoom')],
])
const prefix = useId()
const frame = ref<HTMLElement>()
const land = ref<SVGSVGElement>()
const focused = ref(0)

const ground = computed(() => extentOf(props.plots))
const { size, view, fit, zoom, zoomKey, hold, drag, panTo, wasDragged } = useMapView(
  frame,
  { width: 340, height: 520 },
  ({ width, height }) => fitView(ground.value, { width, height: height - 44 }, 22),
  [1, 200],
)
const order = computed(() => new Map(props.treatments.map((treatment, i) => [treatment.id, i])))
const drawn = computed(() =>
  props.plots.map((plot, i) => {
    const at = order.value.get(plot.treatment) ?? 0
    const face = props.faces[plot.label] ?? {}
    return {
      plot,
      i,
      at,
      face,
      code: props.treatments[at]?.code ?? '',
      box: toScreen(plot, ground.value, view.value),
    }
  }),
)
/** What of plots isn’t sown, on the screen: beside and between their strips. */
const unsown = computed(() =>
  drawn.value.flatMap(({ plot, box }) => {
    const strips = props.strips?.[plot.label]
    if (!strips) return []
    const scale = box.width / plot.width
    const edges = strips.map(([x, , width]) => [(x! - plot.x) * scale, (x! + width! - plot.x) * scale])
    const gaps: { x: number; width: number }[] = []
    let at = 0
    for (const [from, to] of [...edges, [box.width, box.width]] as [number, number][]) {
      if (from - at > 0.5) gaps.push({ x: box.x + at, width: from - at })
      at = to
    }
    return gaps.map((gap) => ({ ...gap, y: box.y, height: box.height }))
  }),
)
const onScreen = (rectangles: number[][] = []) =>
  rectangles.map(([x, y, width, length]) => {
    const box = toScreen({ x: x!, y: y!, width: width!, length: length! }, ground.value, view.value)
    return { ...box, width: Math.max(2, box.width), height: Math.max(2, box.height) }
  })
const samplesDrawn = computed(() => onScreen(props.samples))
const failedDrawn = computed(() => onScreen(props.failed))
/** The drill’s way on the screen, beside the labels of the plots. */
const wayDrawn = computed(() => {
  const { scale } = view.value
  return (props.way ?? []).map((leg) => {
    const at = leg.points.map(([x, y]) => {
      const spot = toScreen({ x: x!, y: y!, width: 0, length: 0 }, ground.value, view.value)
      const outside = x! < 0 || x! > ground.value.width // round the plots, where no label is
      const at = outside ? spot.x : spot.x - aside.value * scale
      return [Math.min(size.value.width - 6, Math.max(6, at)), spot.y]
    })
    return { sown: leg.plot !== '', start: at[0]!, line: `M${at.map((one) => one.join(' ')).join('L')}` }
  })
})
const aside = computed(() => Math.min(...props.plots.map((plot) => plot.width)) * 0.34)
const cleanedAt = computed(() => {
  const sown = wayDrawn.value.filter((leg) => leg.sown)
  return (props.cleaned ?? []).flatMap((i) => (sown[i] ? [sown[i].start] : []))
})
const blocks = computed(() => {
  const names = [...new Set(props.plots.map((plot) => plot.block))].filter(Boolean)
  return names.map((name) => {
    const boxes = drawn.value.filter((d) => d.plot.block === name).map((d) => d.box)
    const top = Math.min(...boxes.map((b) => b.y))
    return {
      name,
      x: Math.min(...boxes.map((b) => b.x)),
      y: (top + Math.max(...boxes.map((b) => b.y + b.height))) / 2,
    }
  })
})
/** Frames about whole plots and incomplete blocks, which lie within a block. */
const within = computed(() =>
  [...new Set(props.plots.map(insideOf))].filter(Boolean).map((name) => {
    const boxes = drawn.value.filter((d) => insideOf(d.plot) === name).map((d) => d.box)
    const [x, y] = [Math.min(...boxes.map((b) => b.x)), Math.min(...boxes.map((b) => b.y))]
    return {
      name,
      x: x - 2,
      y: y - 2,
      width: Math.max(...boxes.map((b) => b.x + b.width)) - x + 4,
      height: Math.max(...boxes.map((b) => b.y + b.height)) - y + 4,
    }
  }),
)
const insideOf = (plot: Plot) => plot.whole_plot || plot.incomplete_block

watch(() => props.plots, fit)

function toggle(label: string, more: boolean) {
  const there = chosen.value.includes(label)
  if (more) chosen.value = there ? chosen.value.filter((l) => l !== label) : [...chosen.value, label]
  else chosen.value = there && chosen.value.length === 1 ? [] : [label]
}

async function key(event: KeyboardEvent) {
  const step = ARROWS[event.key]
  if (step) {
    const next = neighbour(props.plots[focused.value]!, props.plots, ...step)
    focused.value = props.plots.indexOf(next)
    await nextTick()
    frame.value?.querySelector<SVGElement>(`[data-plot="${focused.value}"]`)?.focus()
  } else if (event.key === 'Enter' || event.key === ' ') {
    toggle(props.plots[focused.value]!.label, event.shiftKey || event.ctrlKey)
  } else if (event.key === 'Escape') chosen.value = []
  else {
    zoomKey(event)
    return
  }
  event.preventDefault()
}

/** While it is dragged the picture is moved as a whole, which the screen does by itself; it is drawn anew at the end. */
let moved: { dx: number; dy: number } | null = null
function move(event: PointerEvent) {
  moved = drag(event) ?? moved
  if (moved) land.value!.style.transform = `translate(${moved.dx}px, ${moved.dy}px)`
}
function settle() {
  if (!moved) return
  land.value!.style.transform = ''
  panTo(moved)
  moved = null
}
function release(label: string, index: number, event: MouseEvent) {
  if (wasDragged()) return
  focused.value = index
  toggle(label, event.shiftKey || event.ctrlKey || event.metaKey)
}
function describe(d: (typeof drawn.value)[number]): string {
  // The words that are seen come first, as they stand, so that a spoken name matches the one on the screen.
  const last = d.face.state === 'lost' ? t('ground.lost') : (d.face.figure ?? '')
  const named = props.treatments[d.at]?.name
  const parts = [[d.plot.label, d.code, last].filter(Boolean).join(' '), ...(named ? [named] : [])]
  if (d.plot.block) parts.push(t('ground.block', { b: d.plot.block }))
  if (d.plot.whole_plot) parts.push(t('ground.wholePlot', { w: d.plot.whole_plot }))
  if (d.plot.incomplete_block) parts.push(t('ground.incompleteBlock', { b: d.plot.incomplete_block }))
  if (d.face.state === 'doubtful') parts.push(t('ground.doubtful'))
  return parts.join(', ')
}
</script>

<template>
  <div
    ref="frame"
    class="map"
    @pointerdown="hold"
    @pointermove="move"
    @pointerup="settle"
    @pointercancel="settle"
    @pointerleave="settle"
  >
    <svg
      ref="land"
      class="picture"
      :width="size.width"
      :height="size.height"
      :viewBox="`0 0 ${size.width} ${size.height}`"
      role="listbox"
      aria-multiselectable="true"
      :aria-label="t('ground.label')"
      @keydown="key"
    >
      <TreatmentPatterns :count="treatments.length" :prefix="prefix" />
      <text
        v-for="b in blocks"
        :key="b.name"
        class="block"
        :x="b.x - 8"
        :y="b.y + 4"
        text-anchor="end"
        aria-hidden="true"
      >
        {{ b.name.length > 3 ? '' : b.name }}
      </text>
      <rect
        v-for="{ name, ...box } in within"
        :key="name"
        class="within"
        v-bind="box"
        rx="5"
        :data-within="name"
        aria-hidden="true"
      />
      <g
        v-for="d in drawn"
        :key="d.plot.id"
        role="option"
        class="plot"
        :class="d.face.state"
        :data-plot="d.i"
        :data-label="d.plot.label"
        :tabindex="d.i === focused ? 0 : -1"
        :aria-selected="chosen.includes(d.plot.label)"
        :aria-label="describe(d)"
        @click="release(d.plot.label, d.i, $event)"
        @focus="focused = d.i"
      >
        <rect
          class="land"
          v-bind="d.box"
          :rx="Math.min(4, d.box.width / 8)"
          :fill="d.face.state === 'lost' ? 'none' : (d.face.shade ?? `url(#${prefix}-${d.at})`)"
        />
        <template v-if="d.box.width > 30 && d.box.height > 34">
          <rect
            class="plate"
            :x="d.box.x + 4"
            :y="d.box.y + d.box.height / 2 - 21"
            :width="d.box.width - 8"
            :height="d.face.figure || d.face.state === 'lost' ? 46 : 34"
            rx="3"
          />
          <text
            class="number"
            :x="d.box.x + d.box.width / 2"
            :y="d.box.y + d.box.height / 2 - 10"
            text-anchor="middle"
            :style="{ fontSize: `${fitting(d.plot.label, d.box.width - 8)}px` }"
          >
            {{ d.plot.label.length > 7 ? '' : d.plot.label }}
          </text>
          {{ ' ' }}
          <text
            class="code"
            :x="d.box.x + d.box.width / 2"
            :y="d.box.y + d.box.height / 2 + 5"
            text-anchor="middle"
            :style="{ fontSize: `${fitting(d.code, d.box.width - 10, 14)}px` }"
          >
            {{ d.code }}
          </text>
          {{ ' ' }}
          <text
            v-if="d.face.state === 'lost'"
            class="figure gone"
            :x="d.box.x + d.box.width / 2"
            :y="d.box.y + d.box.height / 2 + 20"
            text-anchor="middle"
          >
            {{ t('ground.lost') }}
          </text>
          <text
            v-else-if="d.face.figure"
            class="figure"
            :x="d.box.x + d.box.width / 2"
            :y="d.box.y + d.box.height / 2 + 20"
            text-anchor="middle"
          >
            {{ d.face.figure }}
          </text>
        </template>
        <!-- On a narrow plot the code stands upright. -->
        <g
          v-else-if="d.box.width > 13 && d.box.height > 40"
          :transform="`translate(${d.box.x + d.box.width / 2} ${d.box.y + d.box.height / 2}) rotate(-90)`"
        >
          <rect
            class="plate"
            :x="-plateLength(d.code, d.box.height) / 2"
            y="-7.5"
            :width="plateLength(d.code, d.box.height)"
            height="15"
            rx="3"
          />
          <text
            class="upright"
            y="4"
            text-anchor="middle"
            :style="{ fontSize: `${fitting(d.code, plateLength(d.code, d.box.height) - 6, 11)}px` }"
          >
            {{ d.code }}
          </text>
        </g>
        <path
          v-if="d.face.state === 'doubtful'"
          class="flag"
          :d="`M${d.box.x + d.box.width - 14} ${d.box.y}h14v14z`"
        />
        <rect v-if="chosen.includes(d.plot.label)" class="ring" v-bind="d.box" rx="4" />
      </g>
      <rect
        v-for="(one, i) in failedDrawn"
        :key="`failed ${i}`"
        class="failed"
        v-bind="one"
        aria-hidden="true"
      />
      <rect
        v-for="(one, i) in samplesDrawn"
        :key="`sample ${i}`"
        class="sample"
        v-bind="one"
        aria-hidden="true"
      />
    </svg>
    <svg
      v-if="way?.length || unsown.length"
      class="marks"
      :width="size.width"
      :height="size.height"
      aria-hidden="true"
    >
      <defs>
        <pattern :id="`${prefix}-unsown`" width="8" height="8" patternUnits="userSpaceOnUse">
          <rect width="8" height="8" class="bare" />
          <path d="M0 0L8 8M8 0L0 8" class="crossed" />
        </pattern>
      </defs>
      <rect v-for="(gap, i) in unsown" :key="i" v-bind="gap" :fill="`url(#${prefix}-unsown)`" />
      <path v-for="(leg, i) in wayDrawn" :key="i" class="way" :class="{ on: !leg.sown }" :d="leg.line" />
      <circle v-if="wayDrawn[0]" class="start" :cx="wayDrawn[0].start[0]" :cy="wayDrawn[0].start[1]" r="5" />
      <rect
        v-for="[x, y] in cleanedAt"
        :key="`${x} ${y}`"
        class="cleaned"
        :x="x! - 4"
        :y="y! - 4"
        width="8"
        height="8"
      />
    </svg>
    <svg v-if="!schematic" class="marks" :width="size.width" :height="size.height" aria-hidden="true">
      <ScaleBar
        :scale="view.scale"
        :length-unit="lengthUnit"
        :length-factor="lengthFactor"
        :y="size.height - 24"
      />
      <g
        class="north"
        :transform="`translate(${size.width - 26} ${size.height - 26}) rotate(${-bearing})`"
        aria-hidden="true"
      >
        <path d="M0 -12l6 20-6-5-6 5z" />
      </g>
    </svg>
    <p class="foot small">
      <span v-if="schematic">{{ t('ground.schematic', { w: plots[0]?.width, l: plots[0]?.length }) }}</span>
      <span v-else
        >{{ gradient
        }}<span class="seen-by-readers-only"
          >, {{ t('ground.north', { d: Math.round(bearing) }) }}</span
        ></span
      >
    </p>
    <ZoomTools class="tools" @zoom="zoom" @fit="fit" />
  </div>
</template>

<style scoped>
.failed {
  fill: var(--loss);
  opacity: 0.6;
  pointer-events: none;
}
.sample {
  fill: var(--accent);
  stroke: var(--paper);
  stroke-width: 1;
  pointer-events: none;
}
.way {
  fill: none;
  stroke: var(--accent);
  stroke-width: 2.5;
  stroke-linejoin: round;
}
.way.on {
  stroke-width: 1.2;
  stroke-dasharray: 3 3;
}
.start {
  fill: var(--accent);
  stroke: #ffffff;
  stroke-width: 2;
}
.cleaned {
  fill: #ffffff;
  stroke: var(--accent);
  stroke-width: 2;
}
.bare {
  fill: var(--ground);
  opacity: 0.85;
}
.crossed {
  stroke: var(--quiet);
  stroke-width: 1;
}
.map {
  position: relative;
  flex: 1;
  min-height: 300px;
  touch-action: pan-y;
  overflow: hidden;
}
svg {
  position: absolute;
  inset: 0;
  display: block;
  user-select: none;
}
.picture {
  overflow: visible;
  will-change: transform;
}
.marks {
  pointer-events: none;
}
.plot {
  cursor: pointer;
}
.plot:focus {
  outline: none;
}
.plot:focus-visible .land {
  stroke: var(--link);
  stroke-width: 4;
}
.plate {
  fill: #ffffff;
  opacity: 0.93;
}
text {
  fill: #20262b;
  font-size: 12px;
}
.code {
  font-weight: 700;
  font-size: 14px;
}
.upright {
  font-weight: 700;
}
.number {
  font-size: 11px;
  fill: #4a5056;
}
.block {
  font-size: 13px;
  font-weight: 700;
  fill: var(--quiet);
}
.within {
  fill: none;
  stroke: var(--quiet);
  stroke-width: 1.5;
}
.lost .land {
  stroke: var(--loss);
  stroke-width: 1.5;
  stroke-dasharray: 5 4;
}
.gone {
  fill: #a8412a;
  font-weight: 700;
}
.flag {
  fill: var(--accent);
  stroke: var(--paper);
  stroke-width: 1.5;
}
.ring {
  fill: none;
  stroke: var(--accent);
  stroke-width: 4;
  pointer-events: none;
}
.north path {
  fill: var(--ink);
}
.foot {
  position: absolute;
  left: 18px;
  right: 166px;
  bottom: 3px;
  margin: 0;
  color: var(--quiet);
  font-size: 12px;
}
.tools {
  right: 52px;
}
@media (max-width: 720px) {
  .foot {
    right: 60px;
  }
  .tools {
    right: 0;
  }
}
</style>
