<script setup lang="ts">
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { DrillFound } from '@/api/sow'
import { threeDigits } from '@/texts/format'

/** Catches against the limit: its band around the expected mass, each catch as a dot, the mean with its interval. */
const props = defineProps<{ found: DrillFound; unit: string }>()
const { t } = useI18n()
const WIDTH = 520
const limits = computed(() => [
  props.found.expected_g * (1 - props.found.limit),
  props.found.expected_g * (1 + props.found.limit),
])
const ends = computed(() =>
  [props.found.off_low, props.found.off_high].map((off) =>
    off === null ? props.found.mean_g : props.found.expected_g * (1 + off),
  ),
)
const x = computed(() => {
  const all = [...limits.value, ...ends.value, ...props.found.catches]
  const [low, high] = [Math.min(...all), Math.max(...all)]
  const room = (high - low) * 0.08 || 1
  return scaleLinear()
    .domain([low - room, high + room])
    .range([10, WIDTH - 10])
})
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} 84`" role="img" :aria-label="t('sow.drill.picture')" class="picture">
    <rect class="band" :x="x(limits[0]!)" y="6" :width="x(limits[1]!) - x(limits[0]!)" height="50" />
    <line class="zero" :x1="x(found.expected_g)" :x2="x(found.expected_g)" y1="4" y2="58" />
    <line class="interval" :x1="x(ends[0]!)" :x2="x(ends[1]!)" y1="42" y2="42" />
    <rect
      class="mean"
      :x="x(found.mean_g) - 5"
      y="37"
      width="10"
      height="10"
      :transform="`rotate(45 ${x(found.mean_g)} 42)`"
    />
    <circle v-for="(one, i) in found.catches" :key="i" :cx="x(one)" cy="20" r="5" />
    <text :x="x(limits[0]!)" y="72" text-anchor="middle">{{ threeDigits(limits[0]!) }}</text>
    <text :x="x(found.expected_g)" y="72" text-anchor="middle">
      {{ threeDigits(found.expected_g) }} {{ unit }} {{ t('sow.drill.expected') }}
    </text>
    <text :x="x(limits[1]!)" y="72" text-anchor="middle">{{ threeDigits(limits[1]!) }}</text>
  </svg>
</template>

<style scoped>
.picture {
  width: 100%;
  max-width: 560px;
  display: block;
  margin: 12px 0 0;
}
.band {
  fill: var(--rule);
  opacity: 0.55;
}
.zero {
  stroke: var(--ink);
  stroke-width: 1.5;
}
.interval {
  stroke: var(--ink);
  stroke-width: 3;
}
.mean,
circle {
  fill: var(--ink);
}
circle {
  opacity: 0.75;
}
text {
  font-size: 12px;
  fill: var(--ink);
}
</style>
