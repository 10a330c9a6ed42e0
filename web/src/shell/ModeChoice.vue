<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import { MODES, useMode } from './theme'

const { t } = useI18n()
const { mode, choose } = useMode()
</script>

<template>
  <div class="modes" role="group" :aria-label="t('mode.label')">
    <button v-for="m in MODES" :key="m" type="button" :aria-pressed="mode === m" @click="choose(m)">
      {{ t(`mode.${m}`) }}
    </button>
  </div>
</template>

<style scoped>
.modes {
  display: flex;
  border: 1px solid var(--band-quiet);
  border-radius: 999px;
  overflow: hidden;
}
button {
  border: 0;
  padding: 2px 11px;
  min-height: 28px;
  font: inherit;
  font-size: 13px;
  background: transparent;
  color: var(--on-band);
}
button[aria-pressed='true'] {
  background: var(--on-band);
  color: var(--band);
  font-weight: 700;
}
@media (max-width: 720px) {
  button {
    min-height: 48px;
  }
}
</style>
