<script setup lang="ts">
import { computed } from 'vue'

import { wearOf } from '@/shell/palette'

/** The fill of a treatment as an SVG pattern of this id. */
const props = defineProps<{ index: number; id: string }>()
const MARK = 'rgba(255,255,255,0.55)'
const wear = computed(() => wearOf(props.index))
</script>

<template>
  <pattern :id="id" width="8" height="8" patternUnits="userSpaceOnUse">
    <rect width="8" height="8" :fill="wear.hue" />
    <g :stroke="MARK" stroke-width="1.5" fill="none">
      <path v-if="wear.pattern === 'rising'" d="M-2 2l4-4M0 8l8-8M6 10l4-4" />
      <path v-else-if="wear.pattern === 'falling'" d="M-2 6l4 4M0 0l8 8M6-2l4 4" />
      <path v-else-if="wear.pattern === 'upright'" d="M2 0v8M6 0v8" />
      <path v-else-if="wear.pattern === 'level'" d="M0 2h8M0 6h8" />
      <path v-else-if="wear.pattern === 'lattice'" d="M0 0l8 8M8 0l-8 8" />
      <path v-else-if="wear.pattern === 'bricks'" d="M0 1h8M0 5h8M2 1v4M6 5v4" />
      <path v-else-if="wear.pattern === 'waves'" d="M0 3q2-3 4 0t4 0M0 7q2-3 4 0t4 0" />
      <circle v-else-if="wear.pattern === 'rings'" cx="4" cy="4" r="2.2" />
    </g>
    <g v-if="wear.pattern === 'dots'" :fill="MARK">
      <circle cx="2" cy="2" r="1.1" />
      <circle cx="6" cy="6" r="1.1" />
    </g>
  </pattern>
</template>
