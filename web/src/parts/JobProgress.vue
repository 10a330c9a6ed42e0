<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { Job } from '@/api/queries'
import { plain } from '@/texts/format'

/** How far long work is. `lost`: the server can’t be asked just now, where it goes on. */
defineProps<{ job: Job; lost: boolean }>()
defineEmits<{ stop: [] }>()
const { t } = useI18n()
</script>

<template>
  <div class="job aside plain">
    <p role="status">
      {{ job.of ? t('job.recording', { n: plain(job.done), of: plain(job.of) }) : t('job.soon') }}
      {{ lost ? t('job.goesOn') : t('job.mayLeave') }}
    </p>
    <progress :value="job.of ? job.done : undefined" :max="job.of || 1" :aria-label="t('job.progress')" />
    <button type="button" class="pill" @click="$emit('stop')">{{ t('job.stop') }}</button>
  </div>
</template>

<style scoped>
.job {
  margin: 0 0 14px;
}
p {
  margin: 0 0 8px;
}
progress {
  width: min(420px, 100%);
  height: 14px;
  margin-right: 12px;
}
</style>
