<script setup lang="ts">
import { computed } from 'vue'

import type { MeasureReading, Treatment } from '@/api/queries'
import { found } from '@/texts/format'

import { airyScale } from './axis'
import PlotMark from './PlotMark.vue'

/** Every plot, one column for each block, plots of a treatment joined across blocks. */
const props = defineProps<{ measure: MeasureReading; treatments: Treatment[]; chosen: string[] }>()
const WIDTH = 620
const HEIGHT = 260
const LEFT = 52
const y = computed(() =>
  airyScale(
    props.measure.plots.map((p) => p.value),
    [HEIGHT - 28, 10],
  ),
)
const blocks = computed(() => [...new Set(props.measure.plots.map((p) => p.block))])
const step = computed(() => (WIDTH - LEFT - 90) / Math.max(1, blocks.value.length - 1 || 1))
const xOf = (block: string, shift: number) =>
  LEFT + 40 + blocks.value.indexOf(block) * (blocks.value.length > 1 ? step.value : 0) + shift
const series = computed(() =>
  props.treatments.map((treatment, index) => {
    const shift =
      (index - (props.treatments.length - 1) / 2) * Math.min(9, step.value / (props.treatments.length + 2))
    const points = props.measure.plots
      .filter((p) => p.treatment === treatment.name && p.value !== null)
      .map((p) => ({ ...p, x: xOf(p.block, shift), y: y.value.at(p.value!) }))
    return {
      treatment,
      index,
      points,
      path: blocks.value.length > 1 ? points.map((p, i) => `${i ? 'L' : 'M'}${p.x} ${p.y}`).join('') : '',
    }
  }),
)
</script>

<template>
  <ul class="legend">
    <li v-for="s in series" :key="s.treatment.id">
      <svg width="16" height="16" aria-hidden="true">
        <PlotMark :x="8" :y="8" :index="s.index" :label="s.treatment.name" />
      </svg>
      {{ s.treatment.name }}
    </li>
  </ul>
  <svg :width="WIDTH" :height="HEIGHT" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`">
    <g v-for="tick in y.ticks" :key="tick" class="axis">
      <path :d="`M${LEFT} ${y.at(tick)}H${WIDTH}`" />
      <text :x="LEFT - 6" :y="y.at(tick) + 4" text-anchor="end">{{ y.format(tick).replace('-', '−') }}</text>
    </g>
    <text class="unit" x="0" y="10">{{ measure.unit }}</text>
    <text v-for="b in blocks" :key="b" class="block" :x="xOf(b, 0)" :y="HEIGHT - 8" text-anchor="middle">
      {{ b }}
    </text>
    <g v-for="s in series" :key="s.treatment.id">
      <path class="join" :d="s.path" />
      <PlotMark
        v-for="p in s.points"
        :key="p.label"
        :x="p.x"
        :y="p.y"
        :index="s.index"
        :chosen="chosen.includes(p.label)"
        :label="`${p.label}, ${s.treatment.name}: ${found(p.value, measure.decimals)} ${measure.unit}`"
      />
    </g>
  </svg>
</template>

<style scoped>
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  list-style: none;
  padding: 0;
  margin: 2px 0 6px;
  font-size: 13px;
}
.legend li {
  display: flex;
  gap: 5px;
  align-items: center;
}
.axis path {
  stroke: var(--rule);
}
text {
  fill: var(--quiet);
  font-size: 12px;
}
.block {
  fill: var(--ink);
  font-weight: 700;
}
.join {
  fill: none;
  stroke: var(--rule);
  stroke-width: 1.2;
}
</style>
