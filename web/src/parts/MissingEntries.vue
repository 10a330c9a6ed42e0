<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import PlaceList from './PlaceList.vue'
import type { PlaceOnPage } from './places'

/** Above the button that was pressed: which required entries are still empty. */
defineProps<{ places: PlaceOnPage[] }>()
const { t } = useI18n()
</script>

<template>
  <div v-if="places.length" class="aside grave" role="alert">
    <p>{{ t('missing.lead', places.length) }}</p>
    <PlaceList :places="places" />
  </div>
</template>

<style scoped>
.aside {
  margin: 12px 0;
  max-width: 760px;
}
p {
  margin: 0;
}
</style>
