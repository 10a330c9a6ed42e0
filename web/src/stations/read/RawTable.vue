<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { MeasureReading, PlotValue } from '@/api/queries'
import { figure, plain, signed } from '@/texts/format'

defineProps<{ measure: MeasureReading; mayCorrect: boolean }>()
defineEmits<{ correct: [plot: PlotValue] }>()
const { t } = useI18n()
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
          <button
            v-if="mayCorrect && p.observations.length === 1"
            type="button"
            class="link-button"
            :aria-label="`${p.value === null ? t('ground.lost') : plain(p.value)}: ${t('full.correct', { p: p.label })}`"
            @click="$emit('correct', p)"
          >
            {{ p.value === null ? t('ground.lost') : plain(p.value) }}
          </button>
          <template v-else>{{
            p.value === null ? t('ground.lost') : figure(p.value, measure.decimals + 1)
          }}</template>
        </td>
        <td class="right">{{ figure(p.fitted, measure.decimals) }}</td>
        <td class="right">{{ signed(p.residual, measure.decimals) }}</td>
      </tr>
    </tbody>
  </table>
</template>
