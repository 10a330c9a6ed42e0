<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Corners } from '@/api/samplePhotographs'

/** A photograph with the four corners of the frame on it, to be dragged to where they are. */
defineProps<{ src: string }>()
const corners = defineModel<Corners>({ required: true })
const { t } = useI18n()
const picture = ref<HTMLElement | null>(null)
const held = ref<number | null>(null)
const NAMES = ['upperLeft', 'upperRight', 'lowerRight', 'lowerLeft'] as const
const outline = computed(() => corners.value.map(([x, y]) => `${x! * 100},${y! * 100}`).join(' '))

const within = (value: number) => Math.min(1, Math.max(0, value))
function move(at: number, x: number, y: number) {
  corners.value = corners.value.map((one, i) => (i === at ? [within(x), within(y)] : one))
}
function hold(event: PointerEvent, at: number) {
  held.value = at
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent) {
  if (held.value === null || !picture.value) return
  const box = picture.value.getBoundingClientRect()
  move(held.value, (event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height)
}
const STEP = 0.005
const KEYS: Record<string, [number, number]> = {
  ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, -STEP], ArrowDown: [0, STEP],
} // prettier-ignore
function key(event: KeyboardEvent, at: number) {
  const by = KEYS[event.key]
  if (!by) return
  event.preventDefault()
  const [x, y] = corners.value[at]!
  move(at, x! + by[0], y! + by[1])
}
</script>

<template>
  <div ref="picture" class="picture">
    <img :src="src" :alt="t('walk.count.photograph')" draggable="false" />
    <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
      <polygon :points="outline" vector-effect="non-scaling-stroke" />
    </svg>
    <button
      v-for="(name, i) in NAMES"
      :key="name"
      type="button"
      :style="{ left: `${corners[i]![0]! * 100}%`, top: `${corners[i]![1]! * 100}%` }"
      :class="{ held: held === i }"
      :aria-label="t(`walk.count.corner.${name}`)"
      @pointerdown.prevent="hold($event, i)"
      @pointermove="drag"
      @pointerup="held = null"
      @pointercancel="held = null"
      @keydown="key($event, i)"
    />
  </div>
</template>

<style scoped>
.picture {
  position: relative;
  touch-action: none;
  user-select: none;
  margin: 24px;
}
img {
  display: block;
  width: 100%;
}
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}
polygon {
  fill: none;
  stroke: #ffd54a;
  stroke-width: 3px;
}
button {
  position: absolute;
  width: 48px;
  height: 48px;
  margin: -24px 0 0 -24px;
  border: 3px solid #ffd54a;
  border-radius: 50%;
  background: rgb(0 0 0 / 25%);
  cursor: grab;
  touch-action: none;
}
button.held {
  background: transparent;
  cursor: grabbing;
}
button:focus-visible {
  outline: 3px solid #fff;
}
</style>
