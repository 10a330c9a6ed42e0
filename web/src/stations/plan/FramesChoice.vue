<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { MeasureOutlook } from '@/api/queries'
import { figure, plain } from '@/texts/format'

import { textOf } from './designs'

/** Frames against plots: how many a plot should have, and what the hours that there are allow. */
const props = defineProps<{ measure: MeasureOutlook; may: boolean; replicates?: boolean }>()
/** How much frames in one plot vary, per cent, as typed. */
const cv = defineModel<string>({ required: true })
const { t } = useI18n()
const found = computed(() => props.measure.frames)
const choices = computed(() => found.value?.choices ?? [])
const best = computed(() => choices.value.find((one) => one.frames === found.value?.best_choice))
const said = computed(() => {
  if (!found.value) return t('plan.frames.unknown')
  if (best.value)
    return t(
      textOf('frames.bestIn', props.replicates),
      { n: best.value.frames, b: best.value.blocks },
      best.value.frames,
    )
  return t('plan.frames.best', { n: found.value.best, now: found.value.now }, found.value.best)
})
</script>

<template>
  <details v-if="measure.sampled" class="frames">
    <summary>
      {{ said }}
    </summary>
    <v-text-field
      v-if="may"
      v-model="cv"
      :label="t('plan.frames.cv')"
      suffix="%"
      inputmode="decimal"
      persistent-placeholder
      :placeholder="found ? figure(found.cv_percent, 0) : ''"
    />
    <template v-if="found">
      <p class="quiet small">
        {{ t('plan.frames.source', { cv: figure(found.cv_percent, 0), source: found.source }) }}
      </p>
      <p v-if="!found.choices.length" class="quiet small">{{ t('plan.frames.sayHours') }}</p>
      <table v-else>
        <caption class="small quiet">
          {{
            t('plan.frames.table')
          }}
        </caption>
        <thead>
          <tr>
            <th v-for="key in ['frames', 'blocks', 'plots', 'hours', 'sees']" :key="key" scope="col">
              {{ t(textOf(`frames.col.${key}`, replicates && key === 'blocks'))
              }}<template v-if="key === 'sees'">, {{ measure.unit }}</template>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in found.choices.slice(0, 8)" :key="one.frames" :class="{ least: one === best }">
            <th scope="row">
              {{ one.frames }}{{ ' '
              }}<span v-if="one.frames === found.now" class="quiet small">{{ t('plan.frames.now') }}</span>
            </th>
            <td>{{ plain(one.blocks) }}</td>
            <td>{{ plain(one.plots) }}</td>
            <td>{{ figure(one.hours, 1) }}</td>
            <td>
              {{ figure(one.detectable, measure.decimals) }}{{ ' '
              }}<span v-if="one === best" class="small">{{ t('plan.frames.least') }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </details>
</template>

<style scoped>
.frames {
  margin: 0 0 8px;
}
.v-text-field {
  max-width: 300px;
  margin-bottom: 6px;
}
table {
  border-collapse: collapse;
}
caption {
  text-align: left;
}
th,
td {
  text-align: left;
  font-weight: 500;
  padding: 3px 22px 3px 0;
  border-bottom: 1px solid var(--rule);
  white-space: nowrap;
}
.least td,
.least th {
  font-weight: 700;
}
</style>
