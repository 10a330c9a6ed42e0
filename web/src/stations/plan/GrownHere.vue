<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'

/** Which treatments this site grows, where the trial has several; the control grows everywhere. */
defineProps<{ trial: Trial }>()
const notGrown = defineModel<string[]>({ required: true })
const { t } = useI18n()

function grow(id: string, grown: boolean | null) {
  const others = notGrown.value.filter((one) => one !== id)
  notGrown.value = grown ? others : [...others, id]
}
</script>

<template>
  <details class="keep-to" :open="notGrown.length > 0">
    <summary>
      {{ t('sites.grown', { n: trial.treatments.length - notGrown.length, of: trial.treatments.length }) }}
    </summary>
    <p class="quiet small">{{ t('sites.grownLead') }}</p>
    <div role="group" :aria-label="t('sites.grownHere')">
      <v-checkbox
        v-for="one in trial.treatments"
        :key="one.id"
        :model-value="!notGrown.includes(one.id)"
        :label="`${one.code} ${one.name}`"
        :disabled="one.is_control && !notGrown.includes(one.id)"
        density="compact"
        @update:model-value="grow(one.id, $event)"
      />
    </div>
  </details>
</template>

<style scoped>
p {
  margin: 0;
}
[role='group'] {
  display: flex;
  flex-wrap: wrap;
  column-gap: 18px;
}
</style>
