<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import { AGAIN_AFTER, failedPage } from './failedPage'

/** Says that the page which was asked for didn't come, and opens it anew: as a later release has it, if there is one. */
const { t } = useI18n()
const open = () => location.assign(failedPage.value?.to ?? '/')
</script>

<template>
  <component
    :is="failedPage.first ? 'main' : 'div'"
    v-if="failedPage"
    :class="failedPage.first ? 'alone' : 'over'"
  >
    <h1 v-if="failedPage.first">{{ t('frame.pageFailedTitle') }}</h1>
    <div class="aside grave" role="alert">
      <p>{{ failedPage.problem?.message ?? t('frame.pageFailed') }}</p>
      <p v-if="failedPage.first">{{ t('frame.opensAgain', { s: AGAIN_AFTER / 1000 }) }}</p>
      <button type="button" class="pill" @click="open">{{ t('frame.openPage') }}</button>
      <button v-if="!failedPage.first" type="button" class="pill" @click="failedPage = null">
        {{ t('frame.closeFailed') }}
      </button>
    </div>
  </component>
</template>

<style scoped>
.alone {
  max-width: 760px;
  padding: 32px 24px;
}
.over {
  position: fixed;
  z-index: 7; /* above the band, whose height differs */
  inset: 8px 0 auto;
  width: min(560px, 100vw - 24px);
  margin: 0 auto;
  background: var(--paper);
  outline: 1px solid var(--edge);
  box-shadow: 0 4px 16px rgb(0 0 0 / 30%);
}
button {
  margin: 4px 8px 0 0;
}
</style>
