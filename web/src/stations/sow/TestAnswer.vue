<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import ProblemNote from '@/parts/ProblemNote.vue'

/** What a calibration says so far, and the way to keep it. */
defineProps<{
  said?: string
  quality?: 'good' | 'caution' | 'poor'
  problem: Error | null
  mayRecord: boolean
  saving: boolean
}>()
defineEmits<{ save: [] }>()
const about = defineModel<string>({ required: true })
const { t } = useI18n()
</script>

<template>
  <div aria-live="polite">
    <p v-if="said" class="said" :class="quality">{{ said }}</p>
    <ProblemNote v-else-if="problem" :problem="problem" />
  </div>
  <div v-if="said && mayRecord" class="keep">
    <v-text-field v-model="about" :label="t('sow.about')" maxlength="120" />
    <button type="button" class="pill" :disabled="saving" @click="$emit('save')">
      {{ t('sow.saveTest') }}
    </button>
  </div>
</template>

<style scoped>
.said {
  border-left: 6px solid var(--unsettled);
  padding: 6px 14px;
  margin: 10px 0;
  font-weight: 650;
}
.good {
  border-color: var(--gain);
}
.poor {
  border-color: var(--loss);
}
.keep {
  display: grid;
  grid-template-columns: minmax(160px, 300px) auto;
  gap: 12px;
  align-items: center;
  justify-content: start;
}
</style>
