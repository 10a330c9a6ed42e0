<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { day, month } from '@/texts/format'

import { layMarks, stripScale } from './scale'

const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const frame = ref<HTMLElement>()
const width = ref(900)
const HEIGHT = 84

const scale = computed(() => {
  const { starts, ends, today } = props.trial
  return starts && ends ? stripScale(starts, ends, today) : null
})
const dated = computed(() => props.trial.visits.filter((visit) => visit.date))
const undated = computed(() => props.trial.visits.filter((visit) => !visit.date).map((visit) => visit.name))
const marks = computed(() =>
  scale.value
    ? layMarks(
        dated.value.map((v) => ({ id: v.id, name: v.name, x: scale.value!.place(v.date!) })),
        width.value,
      )
    : [],
)
const todayX = computed(() => Math.min(1, scale.value?.place(props.trial.today) ?? 0) * width.value)
const state = computed(() => {
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
    <template v-else>
      <div ref="frame" class="time">
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
          <g v-for="m in marks" :key="m.id" class="mark">
            <path :d="`M${m.x * width} ${m.row ? 28 : 8}V${HEIGHT - 27}`" />
            <circle :cx="m.x * width" :cy="HEIGHT - 22" r="5.5" />
            <text
              :x="m.x * width + (m.x > 0.86 ? -6 : 6)"
              :y="m.row ? 36 : 16"
              :text-anchor="m.x > 0.86 ? 'end' : 'start'"
            >
              {{ m.name }}
            </text>
          </g>
          <g class="today">
            <path :d="`M${todayX} 4V${HEIGHT - 18}`" />
            <text :x="todayX" :y="HEIGHT - 5" :text-anchor="todayX > width - 24 ? 'end' : 'middle'">
              {{ t('strip.today') }}
            </text>
          </g>
        </svg>
        <ol class="seen-by-readers-only">
          <li v-for="v in dated" :key="v.id">{{ v.name }}, {{ day(v.date!) }}</li>
        </ol>
      </div>
      <p class="due">
        {{ state }}
        <span v-if="undated.length" class="undated">{{
          t('strip.undated', { names: undated.join(', ') })
        }}</span>
      </p>
    </template>
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
  margin: 8px 0;
  color: var(--quiet);
}
.time {
  flex: 1;
  min-width: 0;
  height: 84px;
  position: relative;
}
.time svg {
  position: absolute;
  inset: 0;
}
.due {
  width: 170px;
  margin: 0;
  font-size: 13px;
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
.mark text {
  fill: var(--ink);
  font-weight: 650;
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
    padding: 6px 0;
  }
  .undated {
    display: inline;
  }
}
</style>
