<script setup lang="ts">
import { useI18n } from 'vue-i18n'

type End = number[]
/** A picture on which two taps make a line; `lines`: those that are there already, with what they say. */
const props = defineProps<{
  src: string
  shape: number
  lines: { ends: End[]; said: string }[]
  may: boolean
}>()
const ends = defineModel<End[]>({ required: true })
const { t } = useI18n()
function tap(event: MouseEvent) {
  if (!props.may) return
  const box = (event.currentTarget as Element).getBoundingClientRect()
  const end = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height]
  ends.value = ends.value.length === 1 ? [...ends.value, end] : [end]
}
</script>

<template>
  <div
    class="picture"
    :style="{ aspectRatio: `1 / ${shape}`, width: `min(100%, 66vh / ${shape})` }"
    @click="tap"
  >
    <img :src="src" :alt="t('walk.photos.picture')" draggable="false" />
    <svg :viewBox="`0 0 1000 ${1000 * shape}`" aria-hidden="true">
      <g v-for="(line, i) in [...lines, { ends, said: '' }]" :key="i">
        <line
          v-if="line.ends.length === 2"
          :x1="line.ends[0]![0]! * 1000"
          :y1="line.ends[0]![1]! * 1000 * shape"
          :x2="line.ends[1]![0]! * 1000"
          :y2="line.ends[1]![1]! * 1000 * shape"
        />
        <circle
          v-for="(end, k) in line.ends"
          :key="k"
          :cx="end[0]! * 1000"
          :cy="end[1]! * 1000 * shape"
          r="8"
        />
        <text v-if="line.said" :x="line.ends[1]![0]! * 1000 + 14" :y="line.ends[1]![1]! * 1000 * shape">
          {{ line.said }}
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
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
svg {
  pointer-events: none;
}
line {
  stroke: #ffd54a;
  stroke-width: 3px;
  vector-effect: non-scaling-stroke;
}
circle {
  fill: rgb(0 0 0 / 30%);
  stroke: #ffd54a;
  stroke-width: 2px;
  vector-effect: non-scaling-stroke;
}
text {
  fill: #fff;
  paint-order: stroke;
  stroke: #000;
  stroke-width: 6px;
  font-size: 26px;
  font-weight: 700;
}
</style>
