<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Season, Trial } from '@/api/queries'
import { day, month } from '@/texts/format'

import { layMarks, stripScale } from './scale'

const props = defineProps<{ trial: Trial; season?: Season }>()
const { t } = useI18n()
const frame = ref<HTMLElement>()
const width = ref(900)
const HEIGHT = 100

/** Visits and operations as one kind of mark: where it stands, whether it is over, and where it leads. */
const events = computed(() => {
  const trial = props.trial.id
  const visits = (props.season?.visits ?? []).map((v) => ({
    id: v.id, name: v.name, date: v.date ?? v.due, state: v.state, shape: 'visit' as const,
    to: { name: 'visit', params: { trial, visit: v.id } },
  })) // prettier-ignore
  const operations = (props.season?.operations ?? []).map((o) => ({
    id: o.id, name: o.name, date: o.done ?? o.due, state: o.state, shape: 'operation' as const,
    to: { name: 'season', params: { trial }, hash: `#${o.id}` },
  })) // prettier-ignore
  return [...visits, ...operations]
})
const scale = computed(() => {
  const { starts, ends, today } = props.trial
  return starts && ends ? stripScale(starts, ends, today) : null
})
const dated = computed(() => events.value.filter((e) => e.date))
const undated = computed(() => events.value.filter((e) => !e.date).map((e) => e.name))
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
const todayX = computed(() => Math.min(1, scale.value?.place(props.trial.today) ?? 0) * width.value)
const due = computed(() =>
  events.value.filter((e) => ['overdue', 'due', 'begun', 'conflict'].includes(e.state)),
)
const next = computed(
  () =>
    dated.value
      .filter((e) => ['soon', 'later'].includes(e.state))
      .sort((a, b) => a.date!.localeCompare(b.date!))[0],
)
const over = computed(() => {
  const { ends, today } = props.trial
  if (!ends) return ''
  return t(ends < today ? 'strip.past' : 'strip.running', { date: day(ends) })
})

let observer: ResizeObserver | undefined
onMounted(() => {
  observer = new ResizeObserver(([entry]) => (width.value = Math.max(200, entry!.contentRect.width)))
  if (frame.value) observer.observe(frame.value)
})
onBeforeUnmount(() => observer?.disconnect())
</script>

<template>
  <section class="strip" :aria-label="t('strip.label')">
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
        <g v-for="m in marks" :key="m.id" class="mark" :class="[m.shape, m.state]">
          <path :d="`M${m.x * width} ${m.silent ? HEIGHT - 40 : 10 + 24 * m.row}V${HEIGHT - 27}`" />
          <circle v-if="m.shape === 'visit'" :cx="m.x * width" :cy="HEIGHT - 22" r="5.5" />
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
    <p class="due">
      <router-link v-if="due[0]" :to="due[0].to" class="now"
        >{{ due[0].name }}: {{ t(`season.state.${due[0].state}`) }}</router-link
      >
      <template v-if="due.length > 1">{{ ' ' }}{{ t('strip.more', due.length - 1) }}</template>
      <router-link v-if="!due.length && next" :to="next.to">{{
        t('strip.next', { name: next.name, date: day(next.date!) })
      }}</router-link>
      <template v-else-if="!due.length">{{ over }}</template>
      {{ ' '
      }}<span v-if="undated.length" class="undated">{{
        t('strip.undated', { names: undated.join(', ') })
      }}</span>
    </p>
  </section>
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
  height: 100px;
  position: relative;
}
.time svg {
  position: absolute;
  inset: 0;
}
.due {
  width: 180px;
  margin: 0;
  font-size: 13px;
}
.now {
  color: var(--accent);
  font-weight: 700;
}
.undated {
  display: block;
  color: var(--unsettled);
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
    padding: 4px 14px;
  }
  .time {
    display: none;
  }
  .due {
    width: auto;
    padding: 4px 0;
  }
  .due a {
    display: inline-block;
    padding: 15px 0;
  }
  .undated {
    display: inline;
  }
}
</style>
