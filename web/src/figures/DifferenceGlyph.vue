<script setup lang="ts">
import { computed } from 'vue'

import type { Cell } from '@/api/queries'
import { differenceScale } from '@/figures/axis'

import { toneOfCell } from './verdicts'

/** Margin band, zero line, interval, lozenge: filled when the interval lies wholly beyond the margin. */
const props = defineProps<{
  cell: Pick<Cell, 'verdict' | 'estimate' | 'lower' | 'upper'>
  cells: Pick<Cell, 'lower' | 'upper'>[]
  band: { low: number; high: number } | null
  direction: string
  label: string
}>()
const WIDTH = 110
const HEIGHT = 26
const x = computed(() => differenceScale(props.cells, props.band, WIDTH))
const tone = computed(() => toneOfCell(props.cell, props.direction))
const clear = computed(() => props.cell.verdict.startsWith('clear'))
const middle = computed(() => x.value(props.cell.estimate ?? 0))
</script>

<template>
  <svg
    class="glyph"
    :width="WIDTH"
    :height="HEIGHT"
    :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
    role="img"
    :aria-label="label"
  >
    <rect v-if="band" class="band" :x="x(band.low)" y="5" :width="x(band.high) - x(band.low)" height="16" />
    <path class="zero" :d="`M${x(0)} 2V24`" />
    <g v-if="cell.lower !== null && cell.upper !== null" :class="`tone-${tone}`">
      <path class="interval" :d="`M${x(cell.lower)} 13H${x(cell.upper)}`" />
      <path class="lozenge" :class="{ clear }" :d="`M${middle} 6.5l6.5 6.5-6.5 6.5-6.5-6.5z`" />
    </g>
  </svg>
</template>

<style scoped>
.glyph {
  display: block;
}
.band {
  fill: var(--margin);
}
.zero {
  stroke: var(--field);
  stroke-width: 1.5;
}
.interval {
  stroke: currentColor;
  stroke-width: 3;
  stroke-linecap: round;
}
.lozenge {
  stroke: currentColor;
  stroke-width: 2;
  fill: var(--paper);
}
.lozenge.clear {
  fill: currentColor;
}
</style>
