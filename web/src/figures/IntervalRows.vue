<script setup lang="ts">
import { computed } from 'vue'

import { figure } from '@/texts/format'

import { airyScale } from './axis'

/** Rows of estimates with their intervals on one axis; the margin and zero behind them where there are any. */
export interface Row {
  key: string
  label: string
  estimate: number
  lower: number | null
  upper: number | null
  tone?: string
  side?: string
}
const props = defineProps<{
  rows: Row[]
  unit: string
  decimals: number
  band?: { low: number; high: number } | null
  zero?: boolean
}>()
const WIDTH = 620
const LEFT = 210
const ROW = 30
const height = computed(() => props.rows.length * ROW + 40)
const x = computed(() => {
  const values = props.rows.flatMap((r) => [r.lower, r.upper, r.estimate])
  if (props.zero) values.push(0)
  if (props.band) values.push(props.band.low, props.band.high)
  return airyScale(values, [LEFT, WIDTH - 70], 6)
})
const short = (text: string) => (text.length > 30 ? `${text.slice(0, 29)}…` : text)
</script>

<template>
  <svg :width="WIDTH" :height="height" :viewBox="`0 0 ${WIDTH} ${height}`">
    <rect
      v-if="band"
      class="band"
      :x="x.at(band.low)"
      y="0"
      :width="x.at(band.high) - x.at(band.low)"
      :height="height - 34"
    />
    <g v-for="tick in x.ticks" :key="tick" class="axis">
      <path :d="`M${x.at(tick)} 0V${height - 34}`" />
      <text :x="x.at(tick)" :y="height - 18" text-anchor="middle">
        {{ x.format(tick).replace('-', '−') }}
      </text>
    </g>
    <text :x="WIDTH - 66" :y="height - 18">{{ unit }}</text>
    <path v-if="zero" class="zero" :d="`M${x.at(0)} 0V${height - 34}`" />
    <g
      v-for="(r, i) in rows"
      :key="r.key"
      :class="`tone-${r.tone ?? 'plain'}`"
      :transform="`translate(0 ${i * ROW + ROW / 2})`"
    >
      <text class="name" x="0" y="4">
        <title>{{ r.label }}</title>
        {{ short(r.label) }}
      </text>
      <path
        v-if="r.lower !== null && r.upper !== null"
        class="interval"
        :d="`M${x.at(r.lower)} 0H${x.at(r.upper)}`"
      />
      <circle :cx="x.at(r.estimate)" r="5" class="dot" />
      <text class="figure" :x="WIDTH - 4" y="4" text-anchor="end">
        {{ r.side ?? figure(r.estimate, decimals) }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
.band {
  fill: var(--margin);
}
.axis path {
  stroke: var(--rule);
}
.zero {
  stroke: var(--field);
  stroke-width: 2;
}
text {
  fill: var(--quiet);
  font-size: 12px;
}
.name {
  fill: var(--ink);
  font-size: 13px;
}
.figure {
  fill: var(--ink);
  font-weight: 650;
}
.interval {
  stroke: currentColor;
  stroke-width: 3;
  stroke-linecap: round;
}
.dot {
  fill: currentColor;
}
</style>
