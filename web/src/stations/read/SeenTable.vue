<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { MeasureReading } from '@/api/queries'
import DownloadTable from '@/parts/DownloadTable.vue'
import { figure } from '@/texts/format'

/** What was seen, where nothing is tested: the mean of each treatment's plots, and the lowest and highest of them. */
defineProps<{ measure: MeasureReading }>()
const { t } = useI18n()
</script>

<template>
  <DownloadTable :name="t('full.seen')" :of="measure.name">
    <table class="seen">
      <caption>
        {{
          t('full.seen')
        }}
      </caption>
      <thead>
        <tr>
          <th scope="col">{{ t('full.col.treatment') }}</th>
          <th scope="col" class="number">{{ t('full.col.plots') }}</th>
          <th scope="col" class="number">{{ t('full.col.meanIn', { unit: measure.unit }) }}</th>
          <th scope="col" class="number">{{ t('full.col.range') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in measure.described" :key="one.treatment">
          <th scope="row">{{ one.treatment }}</th>
          <td class="number">{{ one.plots }}</td>
          <td class="number">{{ figure(one.mean, measure.decimals) }}</td>
          <td class="number">
            {{ figure(one.low, measure.decimals) }} – {{ figure(one.high, measure.decimals) }}
          </td>
        </tr>
      </tbody>
    </table>
  </DownloadTable>
</template>

<style scoped>
.seen {
  border-collapse: collapse;
  margin: 10px 0;
}
caption {
  text-align: left;
  font-weight: 700;
  padding-bottom: 6px;
}
th,
td {
  text-align: left;
  padding: 4px 18px 4px 0;
  border-bottom: 1px solid var(--rule);
}
tbody th {
  font-weight: 500;
}
.number {
  text-align: right;
}
</style>
