<script setup lang="ts">
import TreatmentPattern from './TreatmentPattern.vue'

/** The fills of the first `count` treatments as SVG patterns, named `wear-0`, `wear-1`, … under `prefix`. */
defineProps<{ count: number; prefix: string }>()
</script>

<template>
  <defs>
    <TreatmentPattern v-for="i in count" :id="`${prefix}-${i - 1}`" :key="i" :index="i - 1" />
  </defs>
</template>
