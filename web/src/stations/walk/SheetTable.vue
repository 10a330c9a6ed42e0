<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SheetMeasure, Trial, Visit } from '@/api/queries'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import { plain } from '@/texts/format'

import { columnsOf, keyOf, stepsIn, type Step } from '@/offline/cells'
import FigureInput from './FigureInput.vue'
import type { Sheet } from './useSheet'

/** All plots of the visit in walking order, a row each. */
const props = defineProps<{
  trial: Trial
  visit: Visit
  sheet: Sheet
  states: Record<string, string>
  unit: string
  mayRecord: boolean
}>()
const emit = defineEmits<{ at: [step: Step]; key: [step: Step, event: KeyboardEvent] }>()
const { t } = useI18n()
const scroller = ref<HTMLElement>()

const plots = computed(() => {
  const byId = new Map(props.trial.plots.map((plot) => [plot.id, plot]))
  return props.visit.order.flatMap((id) => byId.get(id) ?? [])
})
const place = (treatment: string) => props.trial.treatments.findIndex((one) => one.id === treatment)
const fieldOf = (m: SheetMeasure, key: string) => m.fields.find((field) => field.key === key)!
const measureOf = (step: Step) => props.visit.measures.find((m) => m.id === step.measure)!
function head(m: SheetMeasure, column: Omit<Step, 'unit'>): string {
  const field = fieldOf(m, column.field)
  const part = column.component
  const frame = m.samples > 1 ? t('walk.frameN', { n: column.sample }) : ''
  const name = (m.samples > 1 || part) && m.fields.length === 1 ? '' : field.name
  const named = [frame, part, name].filter(Boolean).join(', ')
  return [column.zone, field.unit ? `${named}, ${field.unit}` : named].filter(Boolean).join(': ')
}
/** The fields of a plot beside the measure's columns; none where the plot hasn't the zone. */
function along(m: SheetMeasure, unit: string): (Step | null)[] {
  const own = new Map(stepsIn(props.visit, unit).map((step) => [keyOf(step) + step.field, step]))
  return columnsOf(m).map((column) => own.get(keyOf({ unit, ...column }) + column.field) ?? null)
}
function label(plot: string, step: Step): string {
  const m = measureOf(step)
  return `${t('walk.plot', { p: plot })}, ${m.name}, ${head(m, step)}`
}
/** What stands in the plot, in words: the reason why there is no figure, or the values that the server made. */
function said(unit: string, m: SheetMeasure): string {
  const places = new Map(along(m, unit).flatMap((step) => (step ? [[keyOf(step), step] as const] : [])))
  const cells = [...places.values()].map((step) => props.sheet.cell(step))
  const missingStatus = cells.find((cell) => cell.missingStatus)
  if (missingStatus)
    return `${t(`walk.missingStatus.${missingStatus.missingStatus as 'failed'}`)}: ${missingStatus.reason}`
  const values = cells.flatMap((cell) => (cell.row && cell.row.value !== null ? [cell.row.value] : []))
  return values.map((value) => plain(Number((value * m.factor).toPrecision(3)))).join(' · ')
}
watch(
  () => props.unit,
  async (unit) => {
    await nextTick()
    scroller.value?.querySelector(`[data-row="${unit}"]`)?.scrollIntoView({ block: 'nearest' })
  },
)
</script>

<template>
  <div ref="scroller" class="scroll" tabindex="0" role="region" :aria-label="visit.name">
    <table>
      <thead>
        <tr>
          <th scope="col" rowspan="2">{{ t('full.col.plot') }}</th>
          <th scope="col" rowspan="2">{{ t('full.col.treatment') }}</th>
          <th
            v-for="m in visit.measures"
            :key="m.id"
            scope="colgroup"
            class="measure"
            :colspan="columnsOf(m).length + 1"
          >
            {{ m.name }}
            <span class="quiet small">{{ m.settings.join(' · ') }}</span>
          </th>
        </tr>
        <tr>
          <template v-for="m in visit.measures" :key="m.id">
            <th v-for="(column, i) in columnsOf(m)" :key="i" scope="col" class="figure">
              {{ head(m, column) }}
            </th>
            <th scope="col" class="quiet">{{ m.unit || t('full.col.value') }}</th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="plot in plots"
          :key="plot.id"
          :data-row="plot.id"
          :class="[states[plot.id], { here: plot.id === unit }]"
        >
          <th scope="row">
            {{ plot.label }}{{ ' ' }}<span v-if="plot.block" class="block quiet small">{{ plot.block }}</span>
          </th>
          <td class="treatment">
            <TreatmentTag
              :index="place(plot.treatment)"
              :code="trial.treatments[place(plot.treatment)]?.code ?? ''"
            />
            {{ trial.treatments[place(plot.treatment)]?.name }}
          </td>
          <template v-for="m in visit.measures" :key="m.id">
            <td v-for="(step, i) in along(m, plot.id)" :key="i" class="figure">
              <span v-if="!step" class="quiet small">{{ t('walk.noZone') }}</span>
              <FigureInput
                v-else
                :step="step"
                :sheet="sheet"
                :label="label(plot.label, step)"
                :disabled="!mayRecord"
                :field="fieldOf(measureOf(step), step.field)"
                @at="emit('at', $event)"
                @key="(s, event) => emit('key', s, event)"
              />
            </td>
            <td class="said" :title="said(plot.id, m)">{{ said(plot.id, m) }}</td>
          </template>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow: auto;
  max-height: max(320px, calc(100vh - 330px));
  border: 1px solid var(--rule);
  border-radius: 8px;
}
table {
  border-collapse: collapse;
  width: 100%;
}
thead {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--ground);
}
th,
td {
  text-align: left;
  padding: 4px 8px;
  border-bottom: 1px solid var(--rule);
}
th {
  font-weight: 600;
}
.measure .quiet {
  margin-left: 10px;
  font-weight: 400;
}
.measure {
  border-left: 1px solid var(--rule);
}
tbody th {
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
