<script setup lang="ts">
import { computed } from 'vue'

import { wearOf } from '@/shell/palette'

/** A point in its treatment's colour and one of five shapes, so that neither is needed alone. */
const props = defineProps<{ x: number; y: number; index: number; chosen?: boolean; label: string }>()
const SHAPES = [
  'M-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0',
  'M-5 -5h10v10h-10z',
  'M0 -6.5l6.5 6.5-6.5 6.5-6.5-6.5z',
  'M0 -6l6 10.5h-12z',
  'M0 6l6-10.5h-12z',
]
const shape = computed(() => SHAPES[props.index % SHAPES.length])
</script>

<template>
  <path
    :d="shape"
    :transform="`translate(${x} ${y})`"
    :fill="wearOf(index).hue"
    :class="{ chosen }"
    class="mark"
    role="img"
    :aria-label="label"
  />
</template>

<style scoped>
.mark {
  stroke: var(--paper);
  stroke-width: 1;
}
.chosen {
  stroke: var(--accent);
  stroke-width: 3.5;
}
</style>
