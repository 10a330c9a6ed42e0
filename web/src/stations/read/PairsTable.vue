<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { MeasureReading } from '@/api/queries'
import { degrees, figure, pAlone, signed } from '@/texts/format'

defineProps<{ measure: MeasureReading }>()
const { t } = useI18n()
</script>

<template>
  <table class="plain">
    <thead>
      <tr>
        <th scope="col">{{ t('full.col.pair') }}</th>
        <th scope="col" class="right">{{ t('full.col.estimate') }}, {{ measure.difference_unit }}</th>
        <th scope="col" class="right">{{ t('full.col.se') }}</th>
        <th scope="col" class="right">{{ t('full.col.df') }}</th>
        <th scope="col" class="right">{{ t('full.col.t') }}</th>
        <th scope="col" class="right">{{ t('full.col.p') }}</th>
        <th scope="col" class="right">{{ t('full.col.interval') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="pair in measure.full!.pairs" :key="pair.a + pair.b">
        <th scope="row">{{ pair.a }} − {{ pair.b }}</th>
        <td class="right">{{ signed(pair.estimate, measure.decimals + 1) }}</td>
        <td class="right">{{ figure(pair.se, measure.decimals + 1) }}</td>
        <td class="right">{{ degrees(pair.df, 1) }}</td>
        <td class="right">{{ figure(pair.t, 2) }}</td>
        <td class="right">{{ pAlone(pair.p) }}</td>
        <td class="right">
          {{ figure(pair.lower, measure.decimals) }} to {{ figure(pair.upper, measure.decimals) }}
        </td>
      </tr>
    </tbody>
  </table>
</template>
