<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { MeasureReading, PlotValue } from '@/api/queries'
import { figure, found, plain, signed } from '@/texts/format'

const props = defineProps<{ measure: MeasureReading; mayCorrect: boolean }>()
defineEmits<{ correct: [plot: PlotValue, sample: number] }>()
const { t } = useI18n()
/** A value that isn't one figure: a mean of several, of zones, or none. */
function shown(p: PlotValue): string {
  if (p.value !== null) return found(p.value, props.measure.decimals + 1)
  return p.observations.length ? t('ground.lost') : '–'
}
function typed(p: PlotValue, sample: number): string {
  const value = p.samples[sample] ?? null
  return value === null ? t('ground.lost') : plain(value)
}
</script>

<template>
  <table class="plain">
    <thead>
      <tr>
        <th scope="col">{{ t('full.col.plot') }}</th>
        <th scope="col">{{ t('full.col.block') }}</th>
        <th scope="col">{{ t('full.col.treatment') }}</th>
        <th scope="col" class="right">{{ t('full.col.value') }}, {{ measure.unit }}</th>
        <th scope="col" class="right">{{ t('full.col.fitted') }}</th>
        <th scope="col" class="right">{{ t('full.col.residual') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="p in measure.plots" :key="p.label">
        <th scope="row">{{ p.label }}</th>
        <td>{{ p.block }}</td>
        <td>{{ p.treatment }}</td>
        <td class="right">
          <template v-if="!mayCorrect || p.observations.length !== 1">{{ shown(p) }}</template>
          <template v-if="mayCorrect">
            <span v-if="p.observations.length > 1" class="quiet small"> {{ t('full.meanOf') }}</span>
            {{ ' ' }}
            <button
              v-for="(_, i) in p.observations"
              :key="i"
              type="button"
              class="link-button sample"
              :aria-label="`${typed(p, i)}: ${
                p.observations.length > 1
                  ? t('full.correctSample', { p: p.label, n: i + 1 })
                  : t('full.correct', { p: p.label })
              }`"
              @click="$emit('correct', p, i)"
            >
              {{ typed(p, i) }}
            </button>
          </template>
        </td>
        <td class="right">{{ figure(p.fitted, measure.decimals) }}</td>
        <td class="right">{{ signed(p.residual, measure.decimals) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.sample + .sample {
  margin-left: 10px;
}
</style>
