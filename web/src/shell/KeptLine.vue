<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import { keptSince } from '@/offline/kept'
import { moment } from '@/texts/format'

/** Says that the server can’t be reached, and how old is what shows. */
const { t } = useI18n()
</script>

<template>
  <p v-if="keptSince" class="kept" role="status">{{ t('frame.kept', { at: moment(keptSince) }) }}</p>
</template>

<style scoped>
.kept {
  margin: 0;
  padding: 4px 20px;
  background: var(--margin);
  color: var(--ink);
  font-size: 14px;
}
</style>
