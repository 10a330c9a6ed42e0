<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import { Problem } from '@/api/client'

/** `again`: what trying again does, or what `act` says instead; without it there is no button. */
const props = defineProps<{ problem: Error; again?: () => unknown; act?: string }>()
const { t } = useI18n()
const places = computed(() => (props.problem instanceof Problem ? props.problem.places : []))
</script>

<template>
  <div class="problem aside grave" role="alert">
    <p>{{ problem.message }}</p>
    <ul v-if="places.length">
      <li v-for="p in places" :key="p.where + p.what">{{ p.where ? `${p.where}: ` : '' }}{{ p.what }}</li>
    </ul>
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
ul {
  margin: 6px 0 0 18px;
}
button {
  margin-top: 8px;
}
</style>
