<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { FileAsked } from '@/api/queries'

import ProblemNote from './ProblemNote.vue'
import { useFile } from './useFile'

/** A button that has a file made and then downloads it; `card`: as a large one with a line of what it holds. */
const props = defineProps<{ trial: string; file: FileAsked; card?: boolean }>()
const { t } = useI18n()
const { busy, queued, lost, address, problem, make, stop } = useFile(
  () => props.trial,
  () => props.file,
)
</script>

<template>
  <div class="make">
    <button type="button" :class="card ? 'card' : 'pill'" :disabled="busy" @click="make"><slot /></button>
    <p v-if="busy" role="status" class="quiet small">
      {{ lost ? t('file.lost') : queued ? t('file.queued') : t('file.making') }}
      <button type="button" class="link-button" @click="stop">{{ t('file.stop') }}</button>
    </p>
    <p v-else-if="address" role="status" class="quiet small">
      {{ t('file.made') }} <a :href="address" download>{{ t('file.again') }}</a>
    </p>
    <ProblemNote v-if="problem" :problem="problem" />
  </div>
</template>

<style scoped>
p {
  margin: 4px 0 0;
}
.make {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
}
.card {
  flex: 1;
  width: 100%;
  display: flex;
  flex-direction: column;
  padding: 14px 16px;
  border: 1px solid var(--accent);
  border-left-width: 6px;
  border-radius: 0 10px 10px 0;
  background: var(--paper);
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.card :deep(strong) {
  font-size: 16px;
  color: var(--accent);
}
</style>
