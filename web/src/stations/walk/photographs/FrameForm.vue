<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { Corners } from '@/api/samplePhotographs'

import FrameCorners from './FrameCorners.vue'

/** Where the frame lies on a photograph, and its width and length as typed. `unit`: of both. */
defineProps<{ src: string; unit: string; hint?: string }>()
const corners = defineModel<Corners>('corners', { required: true })
const sides = defineModel<{ width: string; length: string }>('sides', { required: true })
const { t } = useI18n()
</script>

<template>
  <p>{{ t('walk.count.cornersLead') }}</p>
  <FrameCorners v-model="corners" :src="src" />
  <div class="sides">
    <v-text-field v-model="sides.width" :label="t('walk.count.width')" :suffix="unit" inputmode="decimal" />
    <v-text-field v-model="sides.length" :label="t('walk.count.length')" :suffix="unit" inputmode="decimal" />
  </div>
  <p v-if="hint" class="quiet small">{{ hint }}</p>
</template>

<style scoped>
.sides {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 160px));
  gap: 10px;
}
</style>
