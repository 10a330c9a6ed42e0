<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Plot, Trial, Visit } from '@/api/queries'
import { pace, paces } from '@/parts/usePace'
import { saidIn, shownIn } from '@/texts/format'

/** Where the samples of a plot are taken: drawn in the plot, and said in paces from its corner. */
const props = defineProps<{ trial: Trial; visit: Visit; plot: Plot; sample: number }>()
const { t } = useI18n()
const MOST = { width: 96, height: 92 }
const changing = ref(false)

const places = computed(() => props.visit.places.by_plot[props.plot.id] ?? [])
const here = computed(() => places.value[props.sample - 1])
const scale = computed(() => Math.min(MOST.width / props.plot.width, MOST.height / props.plot.length))
/** In the plot’s metres to the picture; along the plot is up. */
const box = (x: number, y: number, width: number, length: number) => ({
  x: x * scale.value,
  y: (props.plot.length - y - length) * scale.value,
  width: Math.max(3, width * scale.value),
  height: Math.max(3, length * scale.value),
})
const size = computed(() => ({
  width: props.plot.width * scale.value,
  height: props.plot.length * scale.value,
}))
const area = computed(() => {
  const own = props.visit.places.area[props.plot.id]
  return own && box(own.x, own.y, own.width, own.length)
})
const drawn = computed(() =>
  places.value.map(({ across, along }, i) => ({
    n: i + 1,
    ...box(across, along, props.visit.places.width, props.visit.places.length),
  })),
)
const way = computed(() => {
  if (!here.value) return ''
  const [x, y] = [here.value.across * scale.value, (props.plot.length - here.value.along) * scale.value]
  return `M0 ${size.value.height}V${y}H${x}`
})
const unit = computed(() => props.trial.length_unit)
const said = (metres: number) => `${saidIn(props.trial.length_factor, metres)} ${unit.value}`
const own = computed({
  get: () => shownIn(props.trial.length_factor, pace.value),
  set: (typed: string) => {
    const metres = Number(typed.replace(',', '.')) / props.trial.length_factor
    if (metres >= 0.3 && metres <= 2) pace.value = metres
  },
})
</script>

<template>
  <div v-if="here" class="places">
    <svg
      :width="size.width + 2"
      :height="size.height + 2"
      :viewBox="`-1 -1 ${size.width + 2} ${size.height + 2}`"
      role="img"
      :aria-label="t('walk.places.picture', { p: plot.label, n: places.length })"
    >
      <rect class="plot" v-bind="size" />
      <rect v-if="area" class="area" v-bind="area" />
      <path class="way" :d="way" />
      <rect
        v-for="{ n, ...one } in drawn"
        :key="n"
        v-memo="[drawn, n === sample]"
        class="sample"
        :class="{ here: n === sample }"
        v-bind="one"
      />
      <circle class="corner" cx="0" :cy="size.height" r="4.5" />
    </svg>
    <div>
      <slot />
      <p>
        {{ t('walk.places.from', { corner: visit.places.corner }) }}
        <strong>{{ t('walk.places.along', { m: said(here.along) }, paces(here.along)) }}</strong>
        {{ t('walk.places.then') }}
        <strong>{{ t('walk.places.across', { m: said(here.across) }, paces(here.across)) }}</strong>
        {{ ' ' }}
        <button v-if="!changing" type="button" class="link-button small" @click="changing = true">
          {{ t('walk.places.change', { m: said(pace) }) }}
        </button>
      </p>
      <label v-if="changing" class="pace">
        {{ t('walk.places.pace', { unit }) }}
        <input v-model.lazy="own" inputmode="decimal" @keydown.enter="changing = false" />
      </label>
    </div>
  </div>
  <template v-else>
    <slot />
    <p v-if="visit.places.why_none" class="quiet small">{{ visit.places.why_none }}</p>
  </template>
</template>

<style scoped>
.places {
  display: flex;
  gap: 14px;
  align-items: center;
  margin-bottom: 10px;
}
svg {
  flex: none;
  overflow: visible;
}
p {
  margin: 0;
}
.plot {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.area {
  fill: var(--ground);
  stroke: var(--rule);
  stroke-dasharray: 3 3;
}
.way {
  fill: none;
  stroke: var(--accent);
  stroke-width: 2;
  stroke-dasharray: 5 4;
}
.sample {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.sample.here {
  fill: var(--accent);
  stroke: var(--accent);
}
.corner {
  fill: var(--accent);
}
.pace input {
  width: 72px;
  min-height: 44px;
  margin-left: 8px;
  padding: 4px 8px;
  border: 1px solid var(--field);
  border-radius: 6px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
}
</style>
