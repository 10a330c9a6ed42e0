<script setup lang="ts">
import { wearOf } from '@/shell/palette'

/** The fills of the first `count` treatments as SVG patterns, named `wear-0`, `wear-1`, … under `prefix`. */
defineProps<{ count: number; prefix: string }>()
const MARK = 'rgba(255,255,255,0.55)'
</script>

<template>
  <defs>
    <pattern
      v-for="i in count"
      :id="`${prefix}-${i - 1}`"
      :key="i"
      width="8"
      height="8"
      patternUnits="userSpaceOnUse"
    >
      <rect width="8" height="8" :fill="wearOf(i - 1).hue" />
      <g :stroke="MARK" stroke-width="1.5" fill="none">
        <path v-if="wearOf(i - 1).pattern === 'rising'" d="M-2 2l4-4M0 8l8-8M6 10l4-4" />
        <path v-else-if="wearOf(i - 1).pattern === 'falling'" d="M-2 6l4 4M0 0l8 8M6-2l4 4" />
        <path v-else-if="wearOf(i - 1).pattern === 'upright'" d="M2 0v8M6 0v8" />
        <path v-else-if="wearOf(i - 1).pattern === 'level'" d="M0 2h8M0 6h8" />
        <path v-else-if="wearOf(i - 1).pattern === 'lattice'" d="M0 0l8 8M8 0l-8 8" />
        <path v-else-if="wearOf(i - 1).pattern === 'bricks'" d="M0 1h8M0 5h8M2 1v4M6 5v4" />
        <path v-else-if="wearOf(i - 1).pattern === 'waves'" d="M0 3q2-3 4 0t4 0M0 7q2-3 4 0t4 0" />
        <circle v-else-if="wearOf(i - 1).pattern === 'rings'" cx="4" cy="4" r="2.2" />
      </g>
      <g v-if="wearOf(i - 1).pattern === 'dots'" :fill="MARK">
        <circle cx="2" cy="2" r="1.1" />
        <circle cx="6" cy="6" r="1.1" />
      </g>
    </pattern>
  </defs>
</template>
