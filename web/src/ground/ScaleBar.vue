<script setup lang="ts">
import { computed } from 'vue'

import { scaleBar } from './geometry'

/** A bar as long as it says, in the unit that the person reads. `scale`: pixels per metre. Goes into an SVG. */
const props = defineProps<{ scale: number; lengthUnit?: string; lengthFactor?: number; y: number }>()
const bar = computed(() => scaleBar(props.scale / (props.lengthFactor ?? 1), 110))
</script>

<template>
  <g class="bar" :transform="`translate(18 ${y})`" aria-hidden="true">
    <path :d="`M0.5 -5V0.5H${bar.pixels + 0.5}V-5`" data-part="scale-bar" />
    <text :x="bar.pixels + 8" y="3">{{ bar.length }} {{ lengthUnit ?? 'm' }}</text>
  </g>
</template>

<style scoped>
path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
text {
  fill: var(--ink);
  font-size: 12px;
}
</style>
