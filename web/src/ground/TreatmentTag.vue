<script setup lang="ts">
import { computed, useId } from 'vue'

import TreatmentPattern from './TreatmentPattern.vue'

/** A treatment's code on its colour and pattern; without them where it isn’t among the trial’s (index -1). */
const props = defineProps<{ index: number; code: string }>()
const fill = useId()
const width = computed(() => Math.max(26, 12 + props.code.length * 8))
</script>

<template>
  <svg class="tag" :width="width" height="24" :viewBox="`0 0 ${width} 24`" role="img" :aria-label="code">
    <defs v-if="index >= 0"><TreatmentPattern :id="fill" :index="index" /></defs>
    <rect :width="width" height="24" rx="4" :fill="index < 0 ? 'none' : `url(#${fill})`" />
    <rect x="3" y="4" :width="width - 6" height="16" rx="3" class="plate" />
    <text :x="width / 2" y="16.5" text-anchor="middle">{{ code }}</text>
  </svg>
</template>

<style scoped>
.tag {
  flex: none;
  vertical-align: middle;
}
.plate {
  fill: #ffffff;
}
text {
  font-size: 12px;
  font-weight: 700;
  fill: #20262b;
}
</style>
