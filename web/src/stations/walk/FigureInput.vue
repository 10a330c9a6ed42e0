<script setup lang="ts">
import { keyOf, type Step } from '@/offline/cells'
import type { Sheet } from './useSheet'

/** One figure, kept on this device with every key. */
const props = defineProps<{ step: Step; sheet: Sheet; label: string; disabled: boolean; several?: boolean }>()
const emit = defineEmits<{ at: [step: Step]; key: [step: Step, event: KeyboardEvent] }>()

function leave() {
  // Leaving a questioned figure isn't saying that it is right.
  if (props.sheet.cell(props.step).status === 'draft') void props.sheet.finish(props.step)
}
</script>

<template>
  <input
    :value="sheet.cell(step).fields[step.field] ?? ''"
    :data-step="`${keyOf(step)}|${step.field}`"
    :class="sheet.cell(step).status"
    :aria-label="label"
    :aria-invalid="['refused', 'question'].includes(sheet.cell(step).status)"
    :disabled="disabled"
    type="text"
    :inputmode="several ? 'text' : 'decimal'"
    autocomplete="off"
    :maxlength="several ? 400 : 40"
    @input="sheet.type(step, ($event.target as HTMLInputElement).value)"
    @keydown="emit('key', step, $event)"
    @focus="(emit('at', step), ($event.target as HTMLInputElement).select())"
    @blur="leave"
  />
</template>

<style scoped>
input {
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
