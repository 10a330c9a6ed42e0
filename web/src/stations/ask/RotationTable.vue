<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { Phase } from '@/api/queries'

/** What stands in the plots of each phase, year after year; `year`: how far this trial has come on its plots. */
defineProps<{ phases: Phase[]; year: number }>()
const { t } = useI18n()
</script>

<template>
  <table class="rotation">
    <caption class="small quiet">
      {{
        t('ask.rotation.lead')
      }}
    </caption>
    <thead>
      <tr>
        <th scope="col">{{ t('ask.rotation.starts') }}</th>
        <th v-for="(_, i) in phases[0]!.crops" :key="i" scope="col" :class="{ now: i === year }">
          {{ t('ask.rotation.year', { n: i + 1 })
          }}<template v-if="i === year">, {{ t('ask.rotation.now') }}</template>
        </th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="phase in phases" :key="phase.starts_with">
        <th scope="row">{{ phase.starts_with }}</th>
        <td v-for="(crop, i) in phase.crops" :key="i" :class="{ now: i === year }">{{ crop }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.rotation {
  border-collapse: collapse;
  max-width: 100%;
}
caption {
  text-align: left;
  padding-bottom: 4px;
}
th,
td {
  text-align: left;
  font-weight: 500;
  padding: 3px 22px 3px 0;
  border-bottom: 1px solid var(--rule);
}
.now {
  font-weight: 750;
}
</style>
