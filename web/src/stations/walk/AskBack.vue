<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SheetMeasure } from '@/api/queries'

import type { Cell } from '@/offline/cells'

/** A figure that the server asked back about: keep it as it is, if that can be, or change it. */
const props = defineProps<{ cell: Cell; plot: string; measure?: SheetMeasure }>()
defineEmits<{ keep: []; change: [] }>()
const { t } = useI18n()
const where = computed(() => {
  const { samples = 1, sample_name: name = '' } = props.measure ?? {}
  const sample = samples > 1 ? `, ${t('walk.sampleN', { name, n: props.cell.place.sample })}` : ''
  const zone = props.cell.place.zone ? `, ${props.cell.place.zone}` : ''
  return `${t('walk.plot', { p: props.plot })}, ${props.measure?.name ?? ''}${zone}${sample}`
})
</script>

<template>
  <div class="ask aside" :class="cell.status" role="alert">
    <p>
      <strong>{{ where }}:</strong> {{ cell.message }}
    </p>
    <button v-if="cell.status === 'question'" type="button" class="pill" @click="$emit('keep')">
      {{ t('walk.keepIt') }}
    </button>
    <button type="button" class="pill" @click="$emit('change')">{{ t('walk.changeIt') }}</button>
  </div>
</template>

<style scoped>
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin: 0 0 8px;
}
.refused {
  border-left-color: var(--loss);
}
p {
  margin: 0;
  flex: 1 1 260px;
}
</style>
