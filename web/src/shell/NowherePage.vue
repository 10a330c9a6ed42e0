<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import TopBand from './TopBand.vue'

const { t } = useI18n()
</script>

<template>
  <TopBand />
  <main class="page">
    <h1>{{ t('nowhere.title') }}</h1>
    <p>
      <router-link :to="{ name: 'today' }">{{ t('nowhere.back') }}</router-link>
    </p>
  </main>
</template>

<style scoped>
.page {
  padding: 32px 24px;
}
</style>
