<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import { Problem } from '@/api/client'

import PlaceList from './PlaceList.vue'
import type { PlaceOnPage } from './places'

/**
 * `again`: what trying again does, or what `act` says instead; without it there is no button. `at`: the places as the
 * page's fields have them, where the server counts otherwise.
 */
const props = defineProps<{ problem: Error; again?: () => unknown; act?: string; at?: PlaceOnPage[] }>()
const { t } = useI18n()
const places = computed(() => props.at ?? (props.problem instanceof Problem ? props.problem.places : []))
</script>

<template>
  <div class="problem aside grave" role="alert">
    <p>{{ problem.message }}</p>
    <PlaceList v-if="places.length" :places="places" />
    <button v-if="again" type="button" class="pill" @click="again()">
      {{ act ?? t('app.tryAgain') }}
    </button>
  </div>
</template>

<style scoped>
.problem {
  margin: 12px 0;
  max-width: 760px;
}
p {
  margin: 0;
}
button {
  margin-top: 8px;
}
</style>
