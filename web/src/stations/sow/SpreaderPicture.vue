<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SpreaderFound } from '@/api/sow'
import DownloadChart from '@/parts/DownloadChart.vue'
import { threeDigits } from '@/texts/format'

/** One pass over the trays, the laps laid over each other for both ways of driving, and CV by working width. */
const props = defineProps<{
  found: SpreaderFound
  mode: 'same_way' | 'there_and_back'
  /** As it is typed, ahead of what was found for it. */
  width: number
  length: string
  mass: string
}>()
const emit = defineEmits<{ width: [width: number] }>()
const { t } = useI18n()
const WIDTH = 360
const HEIGHT = 130
const PAD = { left: 34, right: 10, top: 8, bottom: 24 }
const WAYS = ['there_and_back', 'same_way'] as const
/** CV in per cent up to which a width is good, and above which it is poor. */
const GOOD = 15
const POOR = 20

type Corner = [number, number]
const pathOf = (corners: Corner[]) => `M${corners.map((corner) => corner.join(' ')).join('L')}`
const trays = computed(() => props.found.positions.map((x, i) => [x, props.found.masses[i]!] as const))
const tallest = computed(() =>
  Math.max(...props.found.masses, ...WAYS.flatMap((way) => props.found.laps[way].map((piece) => Math.max(piece[2]!, piece[3]!)))),
) // prettier-ignore
const y = computed(() =>
  scaleLinear()
    .domain([0, tallest.value * 1.05])
    .range([HEIGHT - PAD.bottom, PAD.top]),
)
const across = computed(() => {
  const [first, last] = [props.found.positions[0]!, props.found.positions.at(-1)!]
  return scaleLinear()
    .domain([Math.min(first, -props.found.width / 2), Math.max(last, props.found.width / 2)])
    .range([PAD.left, WIDTH - PAD.right])
})
const pattern = computed(() =>
  pathOf([
    [across.value(trays.value[0]![0]), y.value(0)],
    ...trays.value.map(([x, mass]): Corner => [across.value(x), y.value(mass)]),
    [across.value(trays.value.at(-1)![0]), y.value(0)],
  ]),
)
function laps(way: (typeof WAYS)[number]) {
  const pieces = props.found.laps[way]
  const x = scaleLinear()
    .domain([0, pieces.at(-1)![1]!])
    .range([PAD.left, WIDTH - PAD.right])
  const points = pieces.flatMap(([a, b, p, q]) => [[a!, p!], [b!, q!]] as [number, number][]) // prettier-ignore
  const mean = pieces.reduce((sum, [a, b, p, q]) => sum + ((b! - a!) * (p! + q!)) / 2, 0) / pieces.at(-1)![1]!
  return {
    way,
    mean: y.value(mean),
    end: pieces.at(-1)![1]!,
    x,
    path: pathOf(points.map(([at, mass]) => [x(at), y.value(mass)])),
  } // prettier-ignore
}
const both = computed(() => WAYS.map(laps))

const widths = computed(() => props.found.widths[props.mode])
const cvX = computed(() =>
  scaleLinear()
    .domain([widths.value[0]!.width, widths.value.at(-1)!.width])
    .range([PAD.left, WIDTH - PAD.right]),
)
const cvY = computed(() =>
  scaleLinear()
    .domain([0, Math.max(30, ...widths.value.map((one) => one.cv_percent))])
    .range([HEIGHT - PAD.bottom, PAD.top]),
)
const cvPath = computed(() =>
  pathOf(widths.value.map((one) => [cvX.value(one.width), cvY.value(one.cv_percent)])),
)
const chart = ref<SVGSVGElement>()
const dragging = ref(false)
/** A tenth of the unit is as exact as one drives. */
function drag(event: PointerEvent) {
  if (!dragging.value || !chart.value) return
  const box = chart.value.getBoundingClientRect()
  const at = cvX.value.invert(((event.clientX - box.left) / box.width) * WIDTH)
  const [low, high] = cvX.value.domain() as [number, number]
  emit('width', Math.round(Math.min(high, Math.max(low, at)) * 10) / 10)
}
function start(event: PointerEvent) {
  dragging.value = true
  ;(event.currentTarget as Element).setPointerCapture?.(event.pointerId)
  drag(event)
}
function key(event: KeyboardEvent) {
  const step = { ArrowLeft: -0.1, ArrowRight: 0.1 }[event.key]
  if (!step) return
  event.preventDefault()
  emit('width', Math.round((props.width + step) * 10) / 10)
}
</script>

<template>
  <div class="pictures">
    <figure>
      <figcaption>{{ t('sow.spreader.pattern') }} ({{ mass }})</figcaption>
      <DownloadChart :name="t('sow.spreader.pattern')">
        <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="t('sow.spreader.pattern')">
          <path class="pass" :d="pattern" />
          <circle v-for="[x, m] in trays" :key="x" :cx="across(x)" :cy="y(m)" r="2.5" />
          <line class="axis" :x1="PAD.left" :x2="WIDTH - PAD.right" :y1="y(0)" :y2="y(0)" />
          <line class="centre" :x1="across(0)" :x2="across(0)" :y1="PAD.top" :y2="y(0)" />
          <text v-for="at in across.ticks(5)" :key="at" :x="across(at)" :y="HEIGHT - 8" text-anchor="middle">
            {{ at }}{{ at === 0 ? ` ${length}` : '' }}
          </text>
          <text v-for="at in y.ticks(3)" :key="`y${at}`" :x="PAD.left - 5" :y="y(at) + 4" text-anchor="end">
            {{ at }}
          </text>
        </svg>
      </DownloadChart>
    </figure>
    <figure v-for="one in both" :key="one.way" :class="{ other: one.way !== mode }">
      <figcaption>{{ t(`sow.spreader.laps.${one.way}`) }} ({{ mass }})</figcaption>
      <DownloadChart :name="t(`sow.spreader.laps.${one.way}`)">
        <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="t(`sow.spreader.laps.${one.way}`)">
          <line class="mean" :x1="PAD.left" :x2="WIDTH - PAD.right" :y1="one.mean" :y2="one.mean" />
          <path class="laps" :d="one.path" />
          <line class="axis" :x1="PAD.left" :x2="WIDTH - PAD.right" :y1="y(0)" :y2="y(0)" />
          <text v-for="at in one.x.ticks(5)" :key="at" :x="one.x(at)" :y="HEIGHT - 8" text-anchor="middle">
            {{ at }}{{ at === 0 ? ` ${length}` : '' }}
          </text>
          <text v-for="at in y.ticks(3)" :key="`y${at}`" :x="PAD.left - 5" :y="y(at) + 4" text-anchor="end">
            {{ at }}
          </text>
        </svg>
      </DownloadChart>
    </figure>
    <figure>
      <figcaption>{{ t('sow.spreader.cvs') }} (%)</figcaption>
      <DownloadChart :name="t('sow.spreader.cvs')">
        <svg
          ref="chart"
          :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
          class="drag"
          role="slider"
          tabindex="0"
          :aria-label="t('sow.spreader.drag')"
          :aria-valuenow="width"
          :aria-valuemin="widths[0]!.width"
          :aria-valuemax="widths.at(-1)!.width"
          :aria-valuetext="`${threeDigits(width)} ${length}`"
          @pointerdown="start"
          @pointermove="drag"
          @pointerup="dragging = false"
          @keydown="key"
        >
          <rect
            class="fine"
            :x="PAD.left"
            :y="cvY(GOOD)"
            :width="WIDTH - PAD.left - PAD.right"
            :height="cvY(0) - cvY(GOOD)"
          />
          <line class="mean" :x1="PAD.left" :x2="WIDTH - PAD.right" :y1="cvY(POOR)" :y2="cvY(POOR)" />
          <path class="laps" :d="cvPath" />
          <line class="here" :x1="cvX(width)" :x2="cvX(width)" :y1="PAD.top" :y2="cvY(0)" />
          <circle class="here" :cx="cvX(found.width)" :cy="cvY(found.cv_percent)" r="6" />
          <text v-for="at in cvX.ticks(5)" :key="at" :x="cvX(at)" :y="HEIGHT - 8" text-anchor="middle">
            {{ at }} {{ length }}
          </text>
          <text
            v-for="at in [0, GOOD, POOR]"
            :key="`y${at}`"
            :x="PAD.left - 5"
            :y="cvY(at) + 4"
            text-anchor="end"
          >
            {{ at }}
          </text>
        </svg>
      </DownloadChart>
    </figure>
  </div>
</template>

<style scoped>
.pictures {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(280px, 1fr));
  gap: 12px 20px;
  margin-top: 10px;
}
figure {
  margin: 0;
}
figcaption {
  font-size: 13px;
  font-weight: 650;
}
.other {
  opacity: 0.75;
}
svg {
  width: 100%;
  display: block;
}
.drag {
  cursor: ew-resize;
  touch-action: none;
}
.pass {
  fill: var(--gain);
  opacity: 0.35;
}
.laps {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.axis {
  stroke: var(--quiet);
}
.centre {
  stroke: var(--quiet);
  stroke-dasharray: 3 3;
}
.mean {
  stroke: var(--quiet);
  stroke-dasharray: 5 4;
}
.fine {
  fill: var(--gain);
  opacity: 0.14;
}
line.here {
  stroke: var(--accent);
  stroke-width: 2;
}
circle {
  fill: var(--ink);
}
circle.here {
  fill: var(--accent);
}
text {
  font-size: 11px;
  fill: var(--ink);
}
</style>
