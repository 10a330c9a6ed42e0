<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { MeasureReading } from '@/api/queries'
import DownloadTable from '@/parts/DownloadTable.vue'
import { figure } from '@/texts/format'

/** Each species or grade by itself: means of the treatments, described and not tested. */
const props = defineProps<{ measure: MeasureReading }>()
const { t } = useI18n()
const unsaid = computed(() => (props.measure.parts ?? []).filter((part) => part.unsaid))
const treatments = computed(() => props.measure.parts?.[0]?.means.map((one) => one.treatment) ?? [])
</script>

<template>
  <DownloadTable :name="t('full.parts')" :of="measure.name">
    <table class="plain">
      <caption>
        {{
          t('full.partsIn', { unit: measure.unit })
        }}
      </caption>
      <thead>
        <tr>
          <th scope="col">{{ t('full.col.part') }}</th>
          <th scope="col">{{ t('full.col.group') }}</th>
          <th v-for="one in treatments" :key="one" scope="col" class="right">{{ one }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="part in measure.parts" :key="part.name">
          <th scope="row">{{ part.name }}</th>
          <td class="quiet">{{ part.group }}</td>
          <td v-for="mean in part.means" :key="mean.treatment" class="right">
            {{ mean.mean === null ? '–' : figure(mean.mean, measure.decimals) }}
          </td>
        </tr>
      </tbody>
    </table>
  </DownloadTable>
  <p class="quiet small">{{ t('full.partsLead') }}</p>
  <p v-for="part in unsaid" :key="part.name">
    {{ t('full.partUnsaid', { name: part.name, n: part.unsaid }) }}
  </p>
</template>
