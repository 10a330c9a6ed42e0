<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { MeasureReading } from '@/api/queries'
import { degrees, figure } from '@/texts/format'

defineProps<{ measure: MeasureReading }>()
const { t } = useI18n()
</script>

<template>
  <table class="plain">
    <thead>
      <tr>
        <th scope="col">{{ t('full.col.treatment') }}</th>
        <th scope="col" class="right">{{ t('full.col.mean') }}, {{ measure.unit }}</th>
        <th scope="col" class="right">{{ t('full.col.se') }}</th>
        <th scope="col" class="right">{{ t('full.col.df') }}</th>
        <th scope="col" class="right">{{ t('full.col.interval') }}</th>
        <th scope="col">{{ t('full.letters') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="mean in measure.full!.means" :key="mean.treatment">
        <th scope="row">{{ mean.treatment }}</th>
        <td class="right">{{ figure(mean.mean, measure.decimals + 1) }}</td>
        <td class="right">{{ figure(mean.se, measure.decimals + 1) }}</td>
        <td class="right">{{ degrees(mean.df, 1) }}</td>
        <td class="right">
          {{ figure(mean.lower, measure.decimals) }} to {{ figure(mean.upper, measure.decimals) }}
        </td>
        <td>{{ mean.letters ?? '–' }}</td>
      </tr>
    </tbody>
  </table>
</template>
