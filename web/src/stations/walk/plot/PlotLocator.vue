<script setup lang="ts">
import { computed } from 'vue'

import type { Trial } from '@/api/queries'
import { extentOf, fitView, toScreen } from '@/ground/geometry'
import { wearOf } from '@/shell/palette'

/**
 * Where one stands: the whole map small, what is done solid, the present plot ringed. Read out by the words beside.
 * `large`: with the plots’ numbers, to be chosen from.
 */
const props = defineProps<{ trial: Trial; states: Record<string, string>; unit: string; large?: boolean }>()
const emit = defineEmits<{ jump: [label: string] }>()
const SIZE = props.large ? { width: 320, height: 260 } : { width: 92, height: 80 }
/** At a blind visit no plot has a treatment. */
const hueOf = (index: number) => (index < 0 ? 'var(--quiet)' : wearOf(index).hue)
const boxes = computed(() => {
  const ground = extentOf(props.trial.plots)
  const view = fitView(ground, SIZE, 4)
  return props.trial.plots.map((plot) => ({
    id: plot.id,
    label: plot.label,
    hue: hueOf(props.trial.treatments.findIndex((one) => one.id === plot.treatment)),
    done: props.states[plot.id] !== 'todo' && props.states[plot.id] !== 'begun',
    box: toScreen(plot, ground, view),
  }))
})
const here = computed(() => boxes.value.find((one) => one.id === props.unit))
</script>

<template>
  <svg
    :width="SIZE.width"
    :height="SIZE.height"
    :viewBox="`0 0 ${SIZE.width} ${SIZE.height}`"
    aria-hidden="true"
  >
    <g
      v-for="b in boxes"
      :key="b.id"
      v-memo="[b]"
      :class="{ choice: large }"
      @click="large && emit('jump', b.label)"
    >
      <rect v-bind="b.box" rx="2" :fill="b.hue" :opacity="b.done ? 1 : 0.28" />
      <text
        v-if="large && b.box.width > 22"
        :x="b.box.x + b.box.width / 2"
        :y="b.box.y + b.box.height / 2 + 4"
        text-anchor="middle"
      >
        {{ b.label }}
      </text>
    </g>
    <rect v-if="here" v-bind="here.box" rx="2" class="here" />
  </svg>
</template>

<style scoped>
svg {
  flex: none;
}
.choice {
  cursor: pointer;
}
text {
  fill: var(--ink);
  font-size: 11px;
  font-weight: 700;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3;
}
.here {
  pointer-events: none;
  fill: none;
  stroke: var(--accent);
  stroke-width: 3.5;
}
</style>
