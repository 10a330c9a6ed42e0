<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SheetMeasure, Trial, Visit } from '@/api/queries'

import { columnsOf, keyOf, stepsIn, type Step } from '@/offline/cells'
import SheetRow, { type RowField } from './SheetRow.vue'
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
const fieldOf = (m: SheetMeasure, key: string) => m.fields.find((field) => field.key === key)!
function head(m: SheetMeasure, column: Omit<Step, 'unit'>): string {
  const field = fieldOf(m, column.field)
  const part = column.component
  const sample = m.samples > 1 ? t('walk.sampleN', { name: m.sample_name, n: column.sample }) : ''
  const name = (m.samples > 1 || part) && m.fields.length === 1 ? '' : field.name
  const named = [sample, part, name].filter(Boolean).join(', ')
  return [column.zone, field.unit ? `${named}, ${field.unit}` : named].filter(Boolean).join(': ')
}
/** Made once for a visit: objects that stay the same draw nothing anew while somebody types. */
const rows = computed(() =>
  plots.value.map((plot) => {
    const own = new Map(stepsIn(props.visit, plot.id).map((step) => [keyOf(step) + step.field, step]))
    const fields = props.visit.measures.map((m) => ({
      m,
      along: columnsOf(m).map((column): RowField | null => {
        const step = own.get(keyOf({ unit: plot.id, ...column }) + column.field)
        const label = `${t('walk.plot', { p: plot.label })}, ${m.name}, ${head(m, column)}`
        return step ? { step, label, field: fieldOf(m, step.field) } : null
      }),
    }))
    return { plot, fields }
  }),
)
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
        <SheetRow
          v-for="{ plot, fields } in rows"
          :key="plot.id"
          :trial="trial"
          :plot="plot"
          :fields="fields"
          :sheet="sheet"
          :state="states[plot.id]"
          :here="plot.id === unit"
          :may-record="mayRecord"
          @at="emit('at', $event)"
          @key="(s, event) => emit('key', s, event)"
        />
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
.figure {
  width: 92px;
  min-width: 78px;
}
</style>
