<script setup lang="ts">
import { watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { along, bringAlong, bringing } from '@/offline/bringAlong'
import { moment } from '@/texts/format'

/** What is on this device for a field without a signal, and how old it is. */
const props = defineProps<{ person: string }>()
const { t } = useI18n()
watch(
  () => props.person,
  (person) => void bringAlong(person),
  { immediate: true },
)
</script>

<template>
  <p class="quiet small" role="status">
    <template v-if="along">{{
      t('inField.along', {
        trials: t('inField.trials', along.trials),
        visits: t('inField.visits', along.visits),
        at: moment(along.at),
      })
    }}</template>
    <template v-else>{{ t(bringing ? 'inField.bringing' : 'inField.notAlong') }}</template>
  </p>
</template>
