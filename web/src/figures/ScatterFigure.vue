<script setup lang="ts">
import { computed } from 'vue'

import { airyScale } from './axis'
import PlotMark from './PlotMark.vue'

/** Residuals against something, a point for each plot, with the line where they should lie about. */
export interface Point {
  label: string
  x: number
  y: number
  index: number
  chosen: boolean
}
const props = defineProps<{
  points: Point[]
  xName: string
  yName: string
  line: 'zero' | 'slope'
  slope?: number
}>()
const WIDTH = 400
const HEIGHT = 250
const LEFT = 50
const x = computed(() =>
  airyScale(
    props.points.map((p) => p.x),
    [LEFT, WIDTH - 10],
  ),
)
const y = computed(() => airyScale([0, ...props.points.map((p) => p.y)], [HEIGHT - 40, 16]))
const path = computed(() => {
  const xs = props.points.map((p) => p.x)
  const [a, b] = [Math.min(...xs), Math.max(...xs)]
  const at = (v: number) => y.value.at(props.line === 'zero' ? 0 : v * (props.slope ?? 1))
  return `M${x.value.at(a)} ${at(a)}L${x.value.at(b)} ${at(b)}`
})
</script>

<template>
  <svg :width="WIDTH" :height="HEIGHT" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`">
    <g v-for="tick in y.ticks" :key="tick" class="axis">
      <path :d="`M${LEFT} ${y.at(tick)}H${WIDTH}`" />
      <text :x="LEFT - 6" :y="y.at(tick) + 4" text-anchor="end">{{ y.format(tick).replace('-', '−') }}</text>
    </g>
    <g v-for="tick in x.ticks" :key="`x${tick}`">
      <text :x="x.at(tick)" :y="HEIGHT - 24" text-anchor="middle">
        {{ x.format(tick).replace('-', '−') }}
      </text>
    </g>
    <text x="0" y="10">{{ yName }}</text>
    <text :x="WIDTH" :y="HEIGHT - 6" text-anchor="end">{{ xName }}</text>
    <path class="line" :d="path" />
    <PlotMark
      v-for="p in points"
      :key="p.label"
      v-bind="{ x: x.at(p.x), y: y.at(p.y), index: p.index, chosen: p.chosen, label: p.label }"
    />
  </svg>
</template>

<style scoped>
.axis path {
  stroke: var(--rule);
}
.line {
  stroke: var(--field);
  stroke-width: 1.5;
}
text {
  fill: var(--quiet);
  font-size: 12px;
}
</style>
