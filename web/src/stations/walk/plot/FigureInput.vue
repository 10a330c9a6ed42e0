<script setup lang="ts">
import { computed } from 'vue'

import { keyOf, type Step } from '@/offline/cells'
import type { SheetMeasure } from '@/api/queries'
import type { Sheet } from '@/stations/walk/useSheet'

/** One figure, kept on this device with every key; what is one of several words is chosen from a list. */
const props = defineProps<{
  step: Step
  sheet: Sheet
  label: string
  disabled: boolean
  field: SheetMeasure['fields'][number]
}>()
const emit = defineEmits<{ at: [step: Step]; key: [step: Step, event: KeyboardEvent] }>()

const typed = computed(() => ['readings', 'text', 'moment', 'squares'].includes(props.field.kind))
function choose(one: string) {
  props.sheet.type(props.step, one)
  void props.sheet.finish(props.step)
}
function leave() {
  // Leaving a questioned figure isn't saying that it is right.
  if (props.sheet.cell(props.step).status === 'draft') void props.sheet.finish(props.step)
}
</script>

<template>
  <select
    v-if="field.kind === 'choice'"
    :value="sheet.cell(step).fields[step.field] ?? ''"
    :data-step="`${keyOf(step)}|${step.field}`"
    :class="sheet.cell(step).status"
    :aria-label="label"
    :disabled="disabled"
    @change="choose(($event.target as HTMLSelectElement).value)"
    @keydown.enter="emit('key', step, $event)"
    @focus="emit('at', step)"
  >
    <option value=""></option>
    <option v-for="one in field.choices" :key="one">{{ one }}</option>
  </select>
  <input
    v-else
    :value="sheet.cell(step).fields[step.field] ?? ''"
    :data-step="`${keyOf(step)}|${step.field}`"
    :class="sheet.cell(step).status"
    :aria-label="label"
    :aria-invalid="['refused', 'question'].includes(sheet.cell(step).status)"
    :disabled="disabled"
    type="text"
    :inputmode="typed ? 'text' : 'decimal'"
    autocomplete="off"
    :maxlength="typed ? 400 : 40"
    @input="sheet.type(step, ($event.target as HTMLInputElement).value)"
    @keydown="emit('key', step, $event)"
    @focus="(emit('at', step), ($event.target as HTMLInputElement).select())"
    @blur="leave"
  />
</template>

<style scoped>
input,
select {
  width: 100%;
  min-width: 0;
  padding: 4px 8px;
  border: 1px solid var(--field);
  border-radius: 6px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  font-variant-numeric: tabular-nums;
  text-align: right;
}
input.saved {
  background: transparent;
  border-color: var(--rule);
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
