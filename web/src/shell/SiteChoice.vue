<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { chooseSite } from '@/api/site'

/** Which of the trial's sites the stations show: each has its own map, visits and reading. */
defineProps<{ trial: Trial }>()
const { t } = useI18n()
</script>

<template>
  <div v-if="$route.name !== 'ask'" class="sites" role="group" :aria-label="t('sites.choose')">
    <span class="quiet">{{ t('sites.at') }}</span>
    <button
      v-for="site in trial.sites"
      :key="site.id"
      type="button"
      class="pill"
      :aria-pressed="site.id === trial.site.id"
      @click="chooseSite(trial.id, site.id)"
    >
      {{ site.name }}
    </button>
    <span v-if="$route.name === 'read'" class="quiet small">{{ t('sites.apart') }}</span>
  </div>
</template>

<style scoped>
.sites {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-bottom: 14px;
}
[aria-pressed='true'] {
  background: var(--band);
  border-color: var(--band);
  color: var(--on-band);
  font-weight: 700;
}
</style>
