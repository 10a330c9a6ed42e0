<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SheetMeasure, Trial } from '@/api/queries'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import { keyOf, type Step } from '@/offline/cells'

import { figureOf } from './figureOf'
import FigureInput from './plot/FigureInput.vue'
import type { Sheet } from './useSheet'

/** A field of the row, worked out once: what is typed draws nothing anew but its own row. */
export interface RowField {
  step: Step
  label: string
  field: SheetMeasure['fields'][number]
}
/** A plot of the sheet. `fields`: beside the columns of each measure; none where the plot hasn’t the zone. */
const props = defineProps<{
  trial: Trial
  plot: Trial['plots'][number]
  fields: { m: SheetMeasure; along: (RowField | null)[] }[]
  sheet: Sheet
  state?: string
  here: boolean
  mayRecord: boolean
}>()
const emit = defineEmits<{ at: [step: Step]; key: [step: Step, event: KeyboardEvent] }>()
const { t } = useI18n()
const index = computed(() => props.trial.treatments.findIndex((one) => one.id === props.plot.treatment))

/** What stands in the plot, in words: the reason why there is no figure, or the values that the server made. */
function said({ m, along }: { m: SheetMeasure; along: (RowField | null)[] }): string {
  const places = new Map(along.flatMap((one) => (one ? [[keyOf(one.step), one.step] as const] : [])))
  const cells = [...places.values()].map((step) => props.sheet.cell(step))
  const missingStatus = cells.find((cell) => cell.missingStatus)
  if (missingStatus)
    return `${t(`walk.missingStatus.${missingStatus.missingStatus as 'failed'}`)}: ${missingStatus.reason}`
  return cells
    .map((cell) => figureOf(cell.row, m))
    .filter(Boolean)
    .join(' · ')
}
const words = computed(() => props.fields.map(said))
</script>

<template>
  <tr :data-row="plot.id" :class="[state, { here }]">
    <th scope="row">
      {{ plot.label }}{{ ' ' }}<span v-if="plot.block" class="block quiet small">{{ plot.block }}</span>
    </th>
    <td class="treatment">
      <template v-if="index >= 0">
        <TreatmentTag :index="index" :code="trial.treatments[index]?.code ?? ''" />
        {{ trial.treatments[index]?.name }}
      </template>
      <span v-else class="quiet">{{ t('walk.blind.hidden') }}</span>
    </td>
    <template v-for="({ m, along }, k) in fields" :key="m.id">
      <td v-for="(one, i) in along" :key="i" class="figure">
        <span v-if="!one" class="quiet small">{{ t('walk.noZone') }}</span>
        <FigureInput
          v-else
          :step="one.step"
          :sheet="sheet"
          :label="one.label"
          :disabled="!mayRecord"
          :field="one.field"
          @at="emit('at', $event)"
          @key="(s, event) => emit('key', s, event)"
        />
      </td>
      <td class="said" :title="words[k]">{{ words[k] }}</td>
    </template>
  </tr>
</template>

<style scoped>
th,
td {
  text-align: left;
  padding: 4px 8px;
  border-bottom: 1px solid var(--rule);
}
th {
  font-size: 16px;
  font-weight: 750;
  white-space: nowrap;
}
.block {
  margin-left: 8px;
  font-weight: 500;
}
.figure {
  width: 92px;
  min-width: 78px;
}
.treatment {
  white-space: nowrap;
}
.said {
  max-width: 220px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--quiet);
}
.here {
  background: var(--ground);
  box-shadow: inset 4px 0 var(--accent);
}
.done th::after {
  content: ' ✓';
  color: var(--gain);
}
</style>
