<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Mark } from '@/api/samplePhotographs'

/**
 * A straightened picture to tap on. A tap beside all marks adds one; a tap on one takes it away, on a suggested one
 * accepts it. `others`: another person’s marks, to be compared with.
 */
const props = defineProps<{ src: string; shape: number; open: Mark[]; others: Mark[]; may: boolean }>()
const marks = defineModel<Mark[]>({ required: true })
const emit = defineEmits<{ accept: [mark: Mark] }>()
const { t } = useI18n()
const zoom = ref(1)
const ZOOMS = [1, 1.5, 2, 3, 4]
const height = computed(() => 1000 * props.shape)
const radius = computed(() => 11 / Math.sqrt(zoom.value))
/** How far from a mark a finger still means it, as a share of the picture’s width on the screen. */
const REACH_PX = 20

function tap(event: MouseEvent) {
  if (!props.may) return
  const box = (event.currentTarget as Element).getBoundingClientRect()
  const x = (event.clientX - box.left) / box.width
  const y = (event.clientY - box.top) / box.height
  const far = (one: Mark) => Math.hypot((one.x - x) * box.width, (one.y - y) * box.height)
  const nearest = <T extends Mark>(list: T[]) =>
    list.reduce<T | null>((best, one) => (best === null || far(one) < far(best) ? one : best), null)
  const mine = nearest(marks.value)
  const suggestion = nearest(props.open)
  const [toMine, toOpen] = [mine ? far(mine) : Infinity, suggestion ? far(suggestion) : Infinity]
  if (suggestion && toOpen <= REACH_PX && toOpen < toMine) emit('accept', suggestion)
  else if (mine && toMine <= REACH_PX / 1.5) marks.value = marks.value.filter((one) => one !== mine)
  else marks.value = [...marks.value, { x, y, suggested: false }]
}
</script>

<template>
  <div class="marked">
    <p class="zooms" role="group" :aria-label="t('walk.count.size')">
      <button
        v-for="one in ZOOMS"
        :key="one"
        type="button"
        class="pill"
        :aria-pressed="zoom === one"
        @click="zoom = one"
      >
        {{ one }}×
      </button>
    </p>
    <div class="view" tabindex="0" role="region" :aria-label="t('walk.count.straight')">
      <div
        class="picture"
        :style="{ width: `calc(min(88vw, 940px, 60vh / ${shape}) * ${zoom})`, aspectRatio: `1 / ${shape}` }"
        @click="tap"
      >
        <img :src="src" :alt="t('walk.count.straight')" draggable="false" />
        <svg :viewBox="`0 0 1000 ${height}`" aria-hidden="true">
          <circle
            v-for="(one, i) in others"
            :key="`o${i}`"
            class="other"
            :cx="one.x * 1000"
            :cy="one.y * height"
            :r="radius * 1.7"
          />
          <circle
            v-for="(one, i) in open"
            :key="`s${i}`"
            class="open"
            :cx="one.x * 1000"
            :cy="one.y * height"
            :r="radius"
          />
          <g v-for="(one, i) in marks" :key="`m${i}`" class="mine">
            <circle :cx="one.x * 1000" :cy="one.y * height" :r="radius" />
            <circle :cx="one.x * 1000" :cy="one.y * height" :r="radius / 3.5" class="dot" />
          </g>
        </svg>
      </div>
    </div>
  </div>
</template>

<style scoped>
.zooms {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 0 0 8px;
}
.zooms [aria-pressed='true'] {
  background: var(--band);
  color: var(--on-band, #fff);
}
.view {
  overflow: auto;
  max-height: 62vh;
  width: fit-content;
  max-width: 100%;
  border-radius: 8px;
}
.picture {
  position: relative;
  cursor: crosshair;
}
img,
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
img {
  object-fit: fill;
}
svg {
  pointer-events: none;
}
circle {
  fill: none;
  stroke-width: 3px;
  vector-effect: non-scaling-stroke;
}
.mine circle {
  stroke: #fff;
  fill: rgb(196 30 58 / 55%);
}
.mine .dot {
  fill: #fff;
  stroke: none;
}
.open {
  stroke: #ffd54a;
  stroke-dasharray: 5 4;
}
.other {
  stroke: #5bd1ff;
}
</style>
