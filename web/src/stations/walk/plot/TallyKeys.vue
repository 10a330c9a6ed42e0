<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SheetMeasure } from '@/api/queries'
import type { Step } from '@/offline/cells'

import type { Sheet } from '@/stations/walk/useSheet'

/** A key for each species of a frame: a tap adds one, holding it takes one away. */
const props = defineProps<{ measure: SheetMeasure; steps: Step[]; sheet: Sheet; mayRecord: boolean }>()
const emit = defineEmits<{ at: [step: Step] }>()
const { t } = useI18n()
const HELD_MS = 500

const countOf = (step: Step) => Number(props.sheet.cell(step).fields[step.field] ?? 0) || 0
const seen = (step: Step) => props.sheet.cell(step).status !== 'empty'
const groupOf = (step: Step) => props.measure.parts.find((part) => part.name === step.component)?.group ?? ''
const total = computed(() => props.steps.reduce((sum, step) => sum + countOf(step), 0))

let timer: ReturnType<typeof setTimeout> | undefined
let held = false
function change(step: Step, by: number) {
  emit('at', step)
  props.sheet.type(step, String(Math.max(0, countOf(step) + by)))
}
function press(step: Step) {
  held = false
  timer = setTimeout(() => {
    held = true
    change(step, -1)
  }, HELD_MS)
}
function release() {
  clearTimeout(timer)
}
function tap(step: Step) {
  if (!held) change(step, 1)
  held = false
}
function key(step: Step, event: KeyboardEvent) {
  if (!['-', 'Backspace'].includes(event.key)) return
  event.preventDefault()
  change(step, -1)
}
</script>

<template>
  <p class="total" role="status">{{ t('walk.tally.total', { n: total }) }}</p>
  <div class="keys">
    <button
      v-for="step in steps"
      :key="step.component"
      type="button"
      :class="{ seen: seen(step) }"
      :disabled="!mayRecord"
      :aria-label="t('walk.tally.key', { name: step.component, n: countOf(step) })"
      @pointerdown="press(step)"
      @pointerup="release"
      @pointerleave="release"
      @contextmenu.prevent
      @click="tap(step)"
      @keydown="key(step, $event)"
    >
      <span class="who"
        >{{ step.component }}<small v-if="groupOf(step)">{{ groupOf(step) }}</small></span
      >
      <span class="count">{{ seen(step) ? countOf(step) : '–' }}</span>
    </button>
  </div>
  <p class="quiet small how">{{ t('walk.tally.how') }}</p>
</template>

<style scoped>
.total {
  margin: 0 0 6px;
  font-weight: 650;
}
.keys {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px;
}
button {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  min-height: 64px;
  padding: 6px 12px;
  border: 1px solid var(--field);
  border-radius: 12px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  text-align: left;
  touch-action: manipulation;
  user-select: none;
}
button.seen {
  border: 2px solid var(--accent);
}
.who {
  display: flex;
  flex-direction: column;
  font-weight: 650;
  line-height: 1.2;
  overflow-wrap: anywhere;
}
small {
  font-weight: 400;
  color: var(--quiet);
}
.count {
  font-size: 28px;
  font-weight: 750;
  font-variant-numeric: tabular-nums;
}
.how {
  margin: 6px 0 0;
}
</style>
