<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SheetMeasure } from '@/api/queries'
import { keyOf, type Step } from '@/offline/cells'
import { plain } from '@/texts/format'

import DepthProfile from './DepthProfile.vue'
import type { Sheet } from '@/stations/walk/useSheet'

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
/** Which reading is typed, and as what: an emptied one keeps its place until somebody goes on. */
const nth = ref(0)
const raw = ref('')
let [before, after]: [string[], string[]] = [[], []]
let told = ''
function turnTo(i: number) {
  nth.value = i
  raw.value = readings.value[i] ?? ''
  before = readings.value.slice(0, i)
  after = readings.value.slice(i + 1)
}
turnTo(readings.value.length)
/** Another plot, an undo or the timer: one goes on behind the last. */
watch(
  () => [text.value, `${keyOf(props.step)}|${props.step.field}`],
  ([now], [, place]) => {
    if (now !== told || place !== `${keyOf(props.step)}|${props.step.field}`) turnTo(readings.value.length)
  },
)
const status = computed(() => props.sheet.cell(props.step).status)
const input = ref<HTMLInputElement>()

function place(i: number): string {
  const { depths } = props.field
  return depths ? `${plain(depths.first + i * depths.step)} ${depths.unit}` : `${i + 1}.`
}
function type(one: string) {
  // A list that is pasted is one; so is what a keyboard with a space bar types. A unit stays with its number.
  const parting = /[a-zµ°%]/i.test(one) ? /;/ : /[;\s]+/
  const typed = one.split(parting).filter((part) => part.trim())
  const more = typed.length > 0 && new RegExp(`(?:${parting.source})$`).test(one)
  raw.value = one
  told = [...before, ...typed, ...after].join('; ')
  props.sheet.type(props.step, told)
  if (typed.length > 1 || more) turnTo(before.length + typed.length - (more ? 0 : 1))
}
function next() {
  if (raw.value.trim()) turnTo(nth.value + 1)
  input.value?.focus()
}
function change(i: number) {
  turnTo(i)
  input.value?.focus()
}
function key(event: KeyboardEvent) {
  if (event.key === 'Enter' && raw.value.trim()) {
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
          :aria-current="(i === nth && Boolean(raw.trim())) || undefined"
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
        :value="raw"
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
      <button type="button" class="tap" :disabled="disabled || !raw.trim()" @mousedown.prevent @click="next">
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
</style>
