<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { Assembled } from '@/api/queries'

defineProps<{ cells: Assembled['odd'] }>()
const { t } = useI18n()
</script>

<template>
  <div class="odd">
    <h3>{{ t('bring.odd', { n: cells.length }, cells.length) }}</h3>
    <p class="quiet small">{{ t('bring.oddLead') }}</p>
    <div
      class="list"
      tabindex="0"
      role="region"
      :aria-label="t('bring.odd', { n: cells.length }, cells.length)"
    >
      <table class="plain">
        <thead>
          <tr>
            <th scope="col" class="right">{{ t('bring.line') }}</th>
            <th scope="col">{{ t('bring.column') }}</th>
            <th scope="col">{{ t('bring.written') }}</th>
            <th scope="col">{{ t('bring.what') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(c, i) in cells" :key="i">
            <td class="right">{{ c.line }}</td>
            <td>{{ c.column }}</td>
            <td>{{ c.text || '–' }}</td>
            <td>{{ c.why }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.odd {
  border-left: 5px solid var(--unsettled);
  padding: 4px 14px;
  margin: 10px 0;
}
.list {
  max-height: 260px;
  overflow-y: auto;
}
</style>
