<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SheetMeasure } from '@/api/queries'
import { plain } from '@/texts/format'

/** Readings one below the other, the surface on top; a dashed line where the limit is. */
const props = defineProps<{
  depths: NonNullable<SheetMeasure['fields'][number]['depths']>
  readings: string[]
  unit: string
}>()
const { t } = useI18n()
const WIDTH = 250
const STEP = 26
const LEFT = 52

/** What isn’t typed as a plain number is left out of the picture; the server reads it. */
const points = computed(() =>
  props.readings.flatMap((one, i) => {
    const value = Number(one.replace(',', '.'))
    return Number.isFinite(value) ? [{ i, value }] : []
  }),
)
const highest = computed(() =>
  Math.max(...points.value.map((one) => one.value), (props.depths.limit ?? 0) * 1.25, 1e-9),
)
const x = (value: number) => LEFT + (value / highest.value) * (WIDTH - LEFT - 10)
const y = (i: number) => 16 + i * STEP
const height = computed(() => y(props.readings.length - 1) + 30)
const way = computed(() =>
  points.value.map(({ i, value }, n) => `${n ? 'L' : 'M'}${x(value)} ${y(i)}`).join(''),
)
const depth = (i: number) => `${plain(props.depths.first + i * props.depths.step)} ${props.depths.unit}`
</script>

<template>
  <svg
    v-if="points.length > 1"
    :width="WIDTH"
    :height="height"
    :viewBox="`0 0 ${WIDTH} ${height}`"
    role="img"
    :aria-label="t('walk.readings.profile', { from: depth(0), to: depth(readings.length - 1) })"
  >
    <text v-for="(_, i) in readings" :key="i" :x="LEFT - 8" :y="y(i) + 4" text-anchor="end">
      {{ depth(i) }}
    </text>
    <path class="surface" :d="`M${LEFT} 4H${WIDTH}M${LEFT} 4V${y(readings.length - 1) + 6}`" />
    <template v-if="depths.limit !== null">
      <path class="limit" :d="`M${x(depths.limit)} 4V${y(readings.length - 1) + 6}`" />
      <text :x="x(depths.limit)" :y="height - 5" text-anchor="middle">
        {{ t('walk.readings.limit', { value: `${plain(depths.limit)} ${unit}` }) }}
      </text>
    </template>
    <path class="way" :d="way" />
    <circle
      v-for="{ i, value } in points"
      :key="i"
      :cx="x(value)"
      :cy="y(i)"
      r="5"
      :class="{ above: depths.limit !== null && value >= depths.limit }"
    />
  </svg>
</template>

<style scoped>
svg {
  max-width: 100%;
}
text {
  fill: var(--ink);
  font-size: 13px;
  font-variant-numeric: tabular-nums;
}
path {
  fill: none;
}
.surface {
  stroke: var(--ink);
  stroke-width: 1.5;
}
.limit {
  stroke: var(--loss);
  stroke-width: 2;
  stroke-dasharray: 5 4;
}
.way {
  stroke: var(--accent);
  stroke-width: 2.5;
}
circle {
  fill: var(--paper);
  stroke: var(--accent);
  stroke-width: 2.5;
}
.above {
  fill: var(--loss);
  stroke: var(--loss);
}
</style>
