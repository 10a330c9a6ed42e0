<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { MeasureReading } from '@/api/queries'
import DownloadTable from '@/parts/DownloadTable.vue'
import { degrees, figure, pAlone } from '@/texts/format'

defineProps<{ measure: MeasureReading }>()
const { t } = useI18n()
</script>

<template>
  <section class="tables">
    <DownloadTable :name="t('full.anova')" :of="measure.name">
      <table class="plain">
        <caption>
          {{
            t('full.anova')
          }}
        </caption>
        <thead>
          <tr>
            <th scope="col">{{ t('full.col.term') }}</th>
            <th scope="col" class="right">{{ t('full.col.df') }}</th>
            <th scope="col" class="right">{{ t('full.col.f') }}</th>
            <th scope="col" class="right">{{ t('full.col.p') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in measure.full!.anova" :key="line.term">
            <th scope="row">{{ line.label }}</th>
            <td class="right">{{ figure(line.df_num, 0) }}, {{ degrees(line.df_den, 1) }}</td>
            <td class="right">{{ figure(line.f, 2) }}</td>
            <td class="right">{{ pAlone(line.p) }}</td>
          </tr>
        </tbody>
      </table>
    </DownloadTable>
    <DownloadTable :name="t('full.components')" :of="measure.name">
      <table class="plain">
        <caption>
          {{
            t('full.components')
          }}
        </caption>
        <thead>
          <tr>
            <th scope="col">{{ t('full.col.component') }}</th>
            <th scope="col" class="right">{{ t('full.col.variance') }}, ({{ measure.unit }})²</th>
            <th scope="col" class="right">√, {{ measure.unit }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in measure.full!.variance_components" :key="line.name">
            <th scope="row">{{ line.label }}</th>
            <td class="right">{{ line.variance.toPrecision(3) }}</td>
            <td class="right">{{ Math.sqrt(line.variance).toPrecision(3) }}</td>
          </tr>
        </tbody>
      </table>
    </DownloadTable>
  </section>
</template>

<style scoped>
.tables {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 28px;
}
@media (max-width: 900px) {
  .tables {
    grid-template-columns: 1fr;
  }
}
</style>
