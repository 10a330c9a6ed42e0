<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'

import type { FieldLog } from '@/api/fieldLog'
import type { Season, Trial } from '@/api/queries'
import { capital, day, figure, month, plain } from '@/texts/format'

import { eventsOf } from './events'
import NextDue from './NextDue.vue'
import { layMarks, stripScale } from './scale'

const props = defineProps<{ trial: Trial; season?: Season; log?: FieldLog }>()
const { t } = useI18n()
const frame = ref<HTMLElement>()
const width = ref(900)
const HEIGHT = 112

/** Troubles and decisions; notes stand in the log alone. */
const logged = computed(() =>
  (props.log?.entries ?? []).flatMap((one) => {
    if (one.kind === 'note') return []
    const name =
      one.kind === 'decision'
        ? t(`log.decision.${one.decision || 'other'}`)
        : t(`log.trouble.${one.trouble || 'other'}`)
    return [{ id: one.id, name: capital(name), day: one.day }]
  }),
)
const events = computed(() => eventsOf(props.trial, props.season, logged.value))
const scale = computed(() => {
  const { starts, ends, today } = props.trial
  return starts && ends ? stripScale(starts, ends, today) : null
})
const dated = computed(() => events.value.filter((e) => e.date))
const marks = computed(() =>
  scale.value
    ? layMarks(
        dated.value.map((e) => ({ ...e, x: Math.min(1, Math.max(0, scale.value!.place(e.date!))) })),
        width.value,
      )
    : [],
)
/** Marks with room for their name; the others are only drawn, and stand in Season. */
const named = computed(() => marks.value.filter((m) => !m.silent))
/** A bar for each week’s rain, and a line of the weeks’ mean temperatures behind the marks. */
const BAR = 26
const weather = computed(() => {
  const given = props.season?.weather
  const at = scale.value
  if (!given || !at) return null
  const weeks = given.bars.map((bar) => {
    const x = at.place(bar.first) * width.value
    return { ...bar, x, wide: Math.max(1, (bar.days / at.days) * width.value - 1) }
  })
  const points = weeks.filter((one) => one.warmth !== null)
  const line = points.map((one) => `${one.x + one.wide / 2} ${HEIGHT - 26 - BAR * one.warmth!}`).join('L')
  return { ...given, weeks: weeks.filter((one) => one.share), line: points.length > 1 ? `M${line}` : '' }
})
const todayX = computed(() => Math.min(1, scale.value?.place(props.trial.today) ?? 0) * width.value)
/** Scrolled out of view: a line under the band says what is due instead. */
const folded = ref(false)
const strip = useTemplateRef('strip')
let watcher: IntersectionObserver | undefined
let observer: ResizeObserver | undefined
onMounted(() => {
  observer = new ResizeObserver(([entry]) => (width.value = Math.max(200, entry!.contentRect.width)))
  if (frame.value) observer.observe(frame.value)
  watcher = new IntersectionObserver(([entry]) => (folded.value = !entry!.isIntersecting), {
    rootMargin: '-52px 0px 0px 0px',
  })
  if (strip.value) watcher.observe(strip.value)
})
onBeforeUnmount(() => {
  observer?.disconnect()
  watcher?.disconnect()
})
</script>

<template>
  <section ref="strip" class="strip" :aria-label="t('strip.label')">
    <p v-if="!scale" class="empty">{{ t('strip.empty') }}</p>
    <div v-else ref="frame" class="time">
      <svg :width="width" :height="HEIGHT" :viewBox="`0 0 ${width} ${HEIGHT}`" aria-hidden="true">
        <path class="line" :d="`M0 ${HEIGHT - 22}H${width}`" />
        <g v-for="m in scale.months" :key="`${m.year}-${m.month}`" class="month">
          <path :d="`M${m.x * width} 14V${HEIGHT - 22}`" />
          <text
            v-if="
              (width / scale.months.length > 34 || m.month % 3 === 0) &&
              m.x * width < width - 34 &&
              Math.abs(m.x * width + 14 - todayX) > 38
            "
            :x="m.x * width + 4"
            :y="HEIGHT - 7"
          >
            {{ month(m.month) }}{{ m.month === 0 ? ` ${m.year}` : '' }}
          </text>
        </g>
        <g v-if="weather" class="weather">
          <rect
            v-for="week in weather.weeks"
            :key="week.first"
            :x="week.x"
            :y="HEIGHT - 22 - BAR * week.share!"
            :width="week.wide"
            :height="BAR * week.share!"
          />
          <path v-if="weather.line" :d="weather.line" />
        </g>
        <g v-for="m in marks" :key="m.id" class="mark" :class="[m.shape, m.state]">
          <path :d="`M${m.x * width} ${m.silent ? HEIGHT - 40 : 10 + 24 * m.row}V${HEIGHT - 27}`" />
          <circle v-if="m.shape === 'visit'" :cx="m.x * width" :cy="HEIGHT - 22" r="5.5" />
          <rect
            v-else-if="m.shape === 'log'"
            class="wedge"
            :x="m.x * width - 4.5"
            :y="HEIGHT - 26.5"
            width="9"
            height="9"
            :transform="`rotate(45 ${m.x * width} ${HEIGHT - 22})`"
          />
          <path v-else class="wedge" :d="`M${m.x * width - 6} ${HEIGHT - 29}h12l-6 11z`" />
        </g>
        <g class="today">
          <path :d="`M${todayX} 4V${HEIGHT - 18}`" />
          <text :x="todayX" :y="HEIGHT - 5" :text-anchor="todayX > width - 24 ? 'end' : 'middle'">
            {{ t('strip.today') }}
          </text>
        </g>
      </svg>
      <router-link
        v-for="m in named"
        :key="m.id"
        class="name"
        :class="[`row-${m.row}`, { left: m.left }]"
        :to="m.to"
        :style="{ left: `${m.x * width}px` }"
        :aria-label="`${m.name}, ${day(m.date!)}, ${t(`season.state.${m.state}`)}`"
        >{{ m.name }}</router-link
      >
    </div>
    <div class="due">
      <NextDue :trial="trial" :season="season" />
      <p v-if="weather && weather.most_rain" class="legend">
        {{
          t('stripWeather.bars', {
            rain: plain(weather.most_rain),
            rainUnit: weather.rain_unit,
            low: figure(weather.coldest, 0),
            high: figure(weather.warmest, 0),
            unit: weather.temperature_unit,
          })
        }}
      </p>
    </div>
    <slot />
  </section>
  <div v-if="folded" class="folded"><NextDue :trial="trial" :season="season" /></div>
</template>

<style scoped>
.strip {
  display: flex;
  gap: 20px;
  align-items: center;
  padding: 6px 20px;
  background: var(--ground);
  border-bottom: 1px solid var(--rule);
}
.empty {
  flex: 1;
  margin: 8px 0;
  color: var(--quiet);
}
.time {
  flex: 1;
  min-width: 0;
  height: 112px;
  position: relative;
}
.time svg {
  position: absolute;
  inset: 0;
}
.due {
  width: 190px;
}
.legend {
  margin: 4px 0 0;
  font-size: 12px;
  line-height: 1.25;
  color: var(--quiet);
}
.weather rect {
  fill: var(--rain);
}
.weather path {
  fill: none;
  stroke: var(--quiet);
  stroke-width: 1.5;
}
.due :deep(.undated) {
  display: block;
}
.folded {
  position: fixed;
  z-index: 5;
  top: 44px;
  left: 0;
  right: 0;
  padding: 6px 20px;
  background: var(--ground);
  border-bottom: 1px solid var(--rule);
  white-space: nowrap;
  overflow: hidden;
}
text {
  font-size: 12px;
  fill: var(--quiet);
}
.line,
.month path {
  stroke: var(--rule);
  stroke-width: 1;
}
.mark path {
  stroke: var(--ink);
}
.mark rect {
  stroke: var(--ink);
}
.mark circle {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2.5;
}
.mark.done circle,
.mark.done .wedge {
  fill: var(--ink);
}
.mark .wedge {
  fill: var(--paper);
  stroke-width: 2;
}
.mark.later path,
.mark.soon path {
  stroke-dasharray: 3 3;
}
.mark.later .wedge,
.mark.soon .wedge {
  stroke-dasharray: none;
}
.mark.overdue circle,
.mark.due circle,
.mark.begun circle,
.mark.overdue .wedge,
.mark.due .wedge {
  stroke: var(--accent);
}
.name {
  position: absolute;
  top: 0;
  padding: 2px 6px;
  min-height: 24px;
  white-space: nowrap;
  font-size: 12px;
  font-weight: 650;
  color: var(--ink);
  text-decoration: none;
  /* Today’s line runs behind the words. */
  background: var(--ground);
  background-clip: content-box;
}
.name:hover {
  text-decoration: underline;
}
.name.row-1 {
  top: 24px;
}
.name.row-2 {
  top: 48px;
}
.name.left {
  transform: translateX(-100%);
}
.today path {
  stroke: var(--accent);
  stroke-width: 3;
}
.today text {
  fill: var(--accent);
  font-weight: 700;
  paint-order: stroke;
  stroke: var(--ground);
  stroke-width: 4;
}
@media (max-width: 720px) {
  .strip {
    position: sticky;
    z-index: 5;
    top: 48px;
    height: 48px;
    padding: 0 6px 0 14px;
    gap: 8px;
  }
  .time,
  .legend,
  .folded {
    display: none;
  }
  .empty,
  .due {
    flex: 1;
    min-width: 0;
    margin: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .empty + .due {
    display: none;
  }
  .due :deep(a) {
    display: block;
    padding: 16px 0;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .due :deep(.undated) {
    display: inline;
  }
}
</style>
