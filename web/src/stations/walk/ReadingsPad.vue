<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SheetMeasure } from '@/api/queries'
import { keyOf, type Step } from '@/offline/cells'
import { plain } from '@/texts/format'

import DepthProfile from './DepthProfile.vue'
import type { Sheet } from './useSheet'

/**
 * Several readings of a plot, typed one after the other with the digits of a phone. What is kept is their list, as it
 * is typed in one go on a computer.
 */
const props = defineProps<{
  step: Step
  sheet: Sheet
  label: string
  disabled: boolean
  field: SheetMeasure['fields'][number]
}>()
const emit = defineEmits<{ at: [step: Step]; key: [step: Step, event: KeyboardEvent] }>()
const { t } = useI18n()

const text = computed(() => props.sheet.cell(props.step).fields[props.step.field] ?? '')
const readings = computed(() =>
  text.value
    .split(text.value.includes(';') ? ';' : /\s+/)
    .map((one) => one.trim())
    .filter(Boolean),
)
/** Which reading is typed; the one after the last is the next. */
const nth = ref(readings.value.length)
watch(
  () => `${keyOf(props.step)}|${props.step.field}`,
  () => (nth.value = readings.value.length),
)
watch(readings, (now) => (nth.value = Math.min(nth.value, now.length)))
const status = computed(() => props.sheet.cell(props.step).status)
const input = ref<HTMLInputElement>()

function place(i: number): string {
  const { depths } = props.field
  return depths ? `${plain(depths.first + i * depths.step)} ${depths.unit}` : `${i + 1}.`
}
function type(one: string) {
  const now = [...readings.value]
  // A list that is pasted is one; so is what a keyboard with a space bar types.
  const typed = one.split(/[;\s]+/).filter(Boolean)
  now.splice(nth.value, 1, ...typed)
  const more = /[;\s]$/.test(one) && typed.length > 0
  props.sheet.type(props.step, now.join('; '))
  if (typed.length > 1 || more) nth.value = Math.min(nth.value + typed.length - (more ? 0 : 1), now.length)
}
function next() {
  if (readings.value[nth.value]) nth.value += 1
  input.value?.focus()
}
function change(i: number) {
  nth.value = i
  input.value?.focus()
}
function key(event: KeyboardEvent) {
  if (event.key === 'Enter' && readings.value[nth.value]) {
    event.preventDefault()
    next()
  } else emit('key', props.step, event)
}
function leave() {
  if (status.value === 'draft') void props.sheet.finish(props.step)
}
</script>

<template>
  <div class="pad">
    <ol v-if="readings.length" :aria-label="label">
      <li v-for="(one, i) in readings" :key="i">
        <button
          type="button"
          class="reading"
          :aria-current="i === nth || undefined"
          :aria-label="t('walk.readings.change', { place: place(i), value: one })"
          :disabled="disabled"
          @click="change(i)"
        >
          <span class="quiet">{{ place(i) }}</span> {{ one }}
        </button>
      </li>
    </ol>
    <div class="entry">
      <span class="place">{{ place(nth) }}</span>
      <input
        ref="input"
        :value="readings[nth] ?? ''"
        :data-step="`${keyOf(step)}|${step.field}`"
        :class="status"
        :aria-label="`${label}, ${place(nth)}`"
        :aria-invalid="['refused', 'question'].includes(status)"
        :disabled="disabled"
        type="text"
        inputmode="decimal"
        autocomplete="off"
        enterkeyhint="next"
        maxlength="400"
        @input="type(($event.target as HTMLInputElement).value)"
        @keydown="key"
        @focus="emit('at', step)"
        @blur="leave"
      />
      <button
        type="button"
        class="next"
        :disabled="disabled || !readings[nth]"
        @mousedown.prevent
        @click="next"
      >
        {{ t('walk.readings.next') }}
      </button>
    </div>
    <DepthProfile v-if="field.depths" :depths="field.depths" :readings="readings" :unit="field.unit" />
  </div>
</template>

<style scoped>
.pad {
  display: grid;
  gap: 10px;
}
ol {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.reading {
  min-height: 48px;
  padding: 0 12px;
  border: 1px solid var(--rule);
  border-radius: 10px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  font-weight: 650;
  font-variant-numeric: tabular-nums;
}
.reading[aria-current] {
  border: 2px solid var(--accent);
}
.reading .quiet {
  font-weight: 400;
}
.entry {
  display: grid;
  grid-template-columns: auto 1fr auto;
  gap: 10px;
  align-items: center;
}
.place {
  min-width: 34px;
  font-weight: 650;
}
input {
  min-width: 0;
  min-height: 56px;
  padding: 4px 8px;
  border: 1px solid var(--field);
  border-radius: 6px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  font-size: 30px;
  font-weight: 750;
  font-variant-numeric: tabular-nums;
  text-align: center;
}
input.queued {
  border-style: dashed;
}
input.question {
  border: 2px solid var(--unsettled);
}
input.refused,
input.conflict {
  border: 2px solid var(--loss);
}
.next {
  min-height: 56px;
  padding: 0 16px;
  border: 1px solid var(--field);
  border-radius: 12px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  font-weight: 650;
}
</style>
