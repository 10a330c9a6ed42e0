<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import type { KillWindow, KillWindows } from '@/api/stages'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import { dayNumber } from '@/strip/scale'
import { day, month } from '@/texts/format'

/**
 * All covers on one time axis: the stages ahead of each plant, ripe seed as a hatched end, the kill with its range, and
 * the crop. A row is chosen to see what its ways and schools mean.
 */
const props = defineProps<{ trial: Trial; kills: KillWindows }>()
const chosen = defineModel<string>({ required: true })
const { t } = useI18n()
const frame = ref<HTMLElement>()
const width = ref(760)
const ROW = 44
const LEFT = 8
let observer: ResizeObserver | undefined
onMounted(() => {
  observer = new ResizeObserver(([entry]) => (width.value = Math.max(260, entry!.contentRect.width)))
  if (frame.value) observer.observe(frame.value)
})
onBeforeUnmount(() => observer?.disconnect())

const first = computed(() => dayNumber(props.kills.starts))
const span = computed(() => Math.max(1, dayNumber(props.kills.ends) - first.value))
const x = (date: string) => LEFT + ((dayNumber(date) - first.value) / span.value) * (width.value - 2 * LEFT)
const held = (date: string) => Math.min(width.value - LEFT, Math.max(LEFT, x(date)))
const inside = (date?: string | null): date is string =>
  Boolean(date) && x(date!) >= LEFT - 1 && x(date!) <= width.value - LEFT + 1

const weeks = computed(() => {
  const found = []
  const start = first.value + ((8 - new Date(first.value * 86_400_000).getUTCDay()) % 7)
  const every = Math.max(1, Math.ceil(58 / ((width.value / span.value) * 7)))
  for (let at = start; at <= first.value + span.value; at += 7 * every) {
    const date = new Date(at * 86_400_000)
    const iso = date.toISOString().slice(0, 10)
    found.push({ iso, text: `${date.getUTCDate()} ${month(date.getUTCMonth())}` })
  }
  return found
})
const order = computed(() => new Map(props.trial.treatments.map((one, i) => [one.id, i])))
const codeOf = (id: string) => props.trial.treatments.find((one) => one.id === id)?.code ?? ''
/** Stages of a plant that lie on the axis, each with its code where there is room for it. */
function ticks(plant: KillWindow['plants'][number]) {
  let last = -100
  const seen = plant.day && plant.code !== null ? [{ code: plant.code, day: plant.day, seen: '' }] : []
  return [...seen, ...plant.stages]
    .filter((one) => inside(one.day))
    .map((one) => {
      const at = x(one.day!)
      const named = at - last > 24
      if (named) last = at
      return { code: one.code, day: one.day!, x: at, named, done: one.day! <= props.kills.today }
    })
}
const heightOf = (window: KillWindow) => ROW * Math.max(1, window.plants.length)
function summary(window: KillWindow): string {
  const kill = window.kill?.day ? t('kill.killOn', { day: day(window.kill.day) }) : t('kill.noKill')
  const crop = window.crop?.day ? t('kill.cropOn', { day: day(window.crop.day) }) : ''
  return [kill, crop].filter(Boolean).join(', ')
}
</script>

<template>
  <div class="picture">
    <div ref="frame" class="axis">
      <svg :width="width" height="26" aria-hidden="true">
        <text v-for="week in weeks" :key="week.iso" :x="x(week.iso)" y="17" text-anchor="middle">
          {{ week.text }}
        </text>
      </svg>
    </div>
    <button
      v-for="window in kills.windows"
      :key="window.treatment"
      type="button"
      class="row"
      :aria-pressed="chosen === window.treatment"
      @click="chosen = window.treatment"
    >
      <span class="who">
        <TreatmentTag :index="order.get(window.treatment) ?? 0" :code="codeOf(window.treatment)" />
        <span v-for="plant in window.plants" :key="plant.name" class="name">{{ plant.name }}</span>
        <span class="seen-by-readers-only">{{ summary(window) }}</span>
      </span>
      <svg :width="width" :height="heightOf(window)" aria-hidden="true">
        <path
          v-for="week in weeks"
          :key="week.iso"
          class="week"
          :d="`M${x(week.iso)} 0V${heightOf(window)}`"
        />
        <g v-for="(plant, i) in window.plants" :key="plant.name" :transform="`translate(0 ${i * ROW})`">
          <path
            class="life"
            :d="`M${held(plant.day ?? kills.starts)} 26H${held(window.kill?.day ?? kills.ends)}`"
          />
          <rect
            v-if="inside(plant.seed_early)"
            class="seed"
            :x="x(plant.seed_early)"
            y="21"
            :width="width - LEFT - x(plant.seed_early)"
            height="10"
          />
          <g
            v-for="tick in ticks(plant)"
            :key="tick.code"
            class="tick"
            :class="{ done: tick.done, gone: window.kill?.day && tick.day > window.kill.day }"
          >
            <circle :cx="tick.x" cy="26" r="4" />
            <text v-if="tick.named" :x="tick.x" y="14" text-anchor="middle">{{ tick.code }}</text>
          </g>
        </g>
        <g v-if="inside(window.crop?.day)" class="crop">
          <path :d="`M${x(window.crop.day)} 0V${heightOf(window)}`" />
        </g>
        <rect
          v-if="window.kill?.early && window.kill.late && inside(window.kill.day)"
          class="range"
          :x="held(window.kill.early)"
          y="2"
          :width="Math.max(2, held(window.kill.late) - held(window.kill.early))"
          :height="heightOf(window) - 4"
        />
        <g v-if="inside(window.kill?.day)" class="kill">
          <path :d="`M${x(window.kill.day)} 2V${heightOf(window) - 2}`" />
          <path class="wedge" :d="`M${x(window.kill.day) - 7} ${heightOf(window) - 1}h14l-7 -11z`" />
        </g>
        <path v-if="inside(kills.today)" class="today" :d="`M${x(kills.today)} 0V${heightOf(window)}`" />
      </svg>
    </button>
    <p class="legend small quiet">
      <span><i class="key stage" /> {{ t('kill.legend.stage') }}</span>
      <span><i class="key seed" /> {{ t('kill.legend.seed') }}</span>
      <span><i class="key kill" /> {{ t('kill.legend.kill') }}</span>
      <span><i class="key crop" /> {{ t('kill.legend.crop') }}</span>
      <span><i class="key today" /> {{ t('kill.legend.today') }}</span>
    </p>
  </div>
</template>

<style scoped>
.picture {
  margin: 8px 0 18px;
}
.axis {
  margin-left: 150px;
}
.row {
  display: flex;
  width: 100%;
  padding: 0;
  border: 0;
  border-top: 1px solid var(--rule);
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.row[aria-pressed='true'] {
  background: var(--ground);
  box-shadow: inset 4px 0 var(--accent);
}
.who {
  width: 150px;
  flex: none;
  display: flex;
  flex-direction: column;
  justify-content: center;
  align-items: flex-start;
  gap: 2px;
  padding: 6px 6px 6px 12px;
}
.name {
  font-size: 13px;
  line-height: 1.2;
}
text {
  font-size: 12px;
  fill: var(--quiet);
}
.week {
  stroke: var(--rule);
}
.life {
  stroke: var(--gain);
  stroke-width: 3;
}
.tick circle {
  fill: var(--paper);
  stroke: var(--gain);
  stroke-width: 2;
}
.tick.done circle {
  fill: var(--gain);
}
.tick.gone {
  opacity: 0.45;
}
.tick text {
  fill: var(--ink);
}
.seed,
.key.seed {
  fill: var(--unsettled);
  background: var(--unsettled);
  opacity: 0.45;
}
.kill path {
  stroke: var(--ink);
  stroke-width: 2;
}
.kill .wedge {
  fill: var(--ink);
}
.range {
  fill: var(--margin);
  opacity: 0.7;
}
.crop path {
  stroke: var(--link);
  stroke-width: 3;
  stroke-dasharray: 2 3;
}
.today {
  stroke: var(--accent);
  stroke-width: 3;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  border-top: 1px solid var(--rule);
  padding-top: 6px;
}
.key {
  display: inline-block;
  width: 14px;
  height: 10px;
  margin-right: 3px;
}
.key.stage {
  width: 10px;
  border: 2px solid var(--gain);
  border-radius: 50%;
}
.key.kill {
  border-bottom: 11px solid var(--ink);
  border-left: 7px solid transparent;
  border-right: 7px solid transparent;
  width: 0;
  height: 0;
}
.key.crop {
  width: 0;
  height: 14px;
  border-left: 3px dashed var(--link);
  vertical-align: middle;
}
.key.today {
  width: 3px;
  height: 14px;
  background: var(--accent);
  vertical-align: middle;
}
@media (max-width: 720px) {
  .axis {
    margin-left: 0;
  }
  .row {
    flex-direction: column;
  }
  .who {
    width: auto;
    flex-direction: row;
    align-items: center;
    justify-content: flex-start;
    gap: 10px;
  }
}
</style>
