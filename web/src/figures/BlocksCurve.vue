<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { MeasureOutlook } from '@/api/queries'
import { useSmallScreen } from '@/parts/useSmallScreen'
import { figure, plain } from '@/texts/format'

/** What so many blocks see and cost, with the margin as a line; every point is labelled. */
const props = defineProps<{
  points: MeasureOutlook['curve']
  margin: number | null
  unit: string
  decimals: number
  now: number
  /** The blocks are replicates, parted into incomplete blocks. */
  replicates?: boolean
}>()
const { t } = useI18n()
const small = useSmallScreen()
const W = computed(() => (small.value ? 340 : 560))
const H = 162
const PAD = { left: 12, right: 14, top: 24, bottom: 54 }
const x = computed(() =>
  scaleLinear()
    .domain([props.points[0]!.blocks, props.points.at(-1)!.blocks])
    .range([PAD.left + 82, W.value - PAD.right - 14]),
)
const y = computed(() =>
  scaleLinear()
    .domain([0, Math.max(props.margin ?? 0, ...props.points.map((p) => p.detectable))])
    .range([H - PAD.bottom, PAD.top]),
)
const path = computed(
  () => `M${props.points.map((p) => `${x.value(p.blocks)} ${y.value(p.detectable)}`).join('L')}`,
)
/** The label keeps out of the curve's way: at its low end where the margin lies high, before it starts where it lies low. */
const above = computed(() => (props.margin ?? 0) > props.points[0]!.detectable / 2)
/** On a narrow screen every other point is labelled, and the one that the plan is at. */
const labelled = (blocks: number) =>
  blocks === props.now || props.points.findIndex((p) => p.blocks === blocks) % 2 === 0
type Point = MeasureOutlook['curve'][number]
const rows = computed(() => [
  {
    name: t(props.replicates ? 'plan.replicates.row' : 'plan.row.blocks'),
    of: (p: Point) => plain(p.blocks),
  },
  { name: t('plan.row.plots'), of: (p: Point) => plain(p.plots) },
  { name: t('plan.row.hours'), of: (p: Point) => figure(p.hours, p.hours < 9.95 ? 1 : 0) },
])
const caption = computed(() => t(props.replicates ? 'plan.replicates.curve' : 'plan.curve'))
const said = computed(() =>
  props.points
    .map((p) => `${p.blocks}: ${figure(p.detectable, props.decimals)} (${figure(p.hours, 1)} h)`)
    .join(', '),
)
</script>

<template>
  <figure>
    <figcaption class="small quiet">{{ caption }}, {{ unit }}</figcaption>
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`${caption}: ${said} ${unit}`">
      <template v-if="margin !== null">
        <line :x1="PAD.left" :x2="W - PAD.right" :y1="y(margin)" :y2="y(margin)" class="margin" />
        <text
          :x="above ? W - PAD.right : PAD.left"
          :y="y(margin) - 4"
          :text-anchor="above ? 'end' : 'start'"
          class="margin-text"
        >
          {{ t('read.margin', { m: figure(margin, decimals) }) }}
        </text>
      </template>
      <path :d="path" class="curve" />
      <g v-for="p in points" :key="p.blocks" :transform="`translate(${x(p.blocks)} ${y(p.detectable)})`">
        <circle :r="p.blocks === now ? 6 : 3.5" :class="{ now: p.blocks === now }" />
        <text v-if="!small || labelled(p.blocks)" y="-9" text-anchor="middle">
          {{ figure(p.detectable, decimals) }}
        </text>
      </g>
      <g v-for="(row, i) in rows" :key="row.name" class="axis">
        <text :x="PAD.left" :y="H - 36 + 15 * i">{{ row.name }}</text>
        <text v-for="p in points" :key="p.blocks" :x="x(p.blocks)" :y="H - 36 + 15 * i" text-anchor="middle">
          {{ row.of(p) }}
        </text>
      </g>
    </svg>
  </figure>
</template>

<style scoped>
figure {
  margin: 10px 0;
  max-width: 620px;
}
svg {
  width: 100%;
  display: block;
}
text {
  font-size: 12px;
  fill: var(--ink);
}
.axis text {
  fill: var(--quiet);
}
.curve {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
}
circle {
  fill: var(--ink);
}
circle.now {
  fill: var(--accent);
}
.margin {
  stroke: var(--unsettled);
  stroke-dasharray: 5 4;
}
.margin-text {
  fill: var(--unsettled);
  font-weight: 700;
}
</style>
