<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

export interface MeasureDraft {
  name: string
  unit: string
  margin: string
  kind: 'absolute' | 'percent'
  direction: 'higher' | 'lower' | 'none'
  planned: 'none' | 'equivalence' | 'non-inferiority'
}
defineProps<{ columns: string[]; wrong: Record<string, string> }>()
const drafts = defineModel<Record<string, MeasureDraft>>({ required: true })
const { t } = useI18n()
const directions = computed(() =>
  (['higher', 'lower', 'none'] as const).map((value) => ({ value, title: t(`margin.${value}`) })),
)
const kinds = (unit: string) => [
  { value: 'absolute', title: unit || '–' },
  { value: 'percent', title: t('margin.percent') },
]
</script>

<template>
  <div class="measures">
    <div v-for="c in columns" :key="c" role="group" :aria-label="drafts[c]!.name">
      <v-text-field v-model="drafts[c]!.name" :label="t('bring.measure')" maxlength="120" required />
      <v-text-field v-model="drafts[c]!.unit" :label="t('bring.unit')" maxlength="40" />
      <v-text-field
        v-model="drafts[c]!.margin"
        :label="t('bring.margin')"
        inputmode="decimal"
        :error-messages="wrong[c] ? [wrong[c]] : []"
      />
      <v-select v-model="drafts[c]!.kind" :items="kinds(drafts[c]!.unit)" :label="t('bring.marginIn')" />
      <v-select v-model="drafts[c]!.direction" :items="directions" :label="t('bring.direction')" />
    </div>
  </div>
</template>

<style scoped>
.measures {
  margin: 10px 0;
}
.measures > div {
  display: grid;
  grid-template-columns: 2fr 1fr 1fr 1.2fr 1fr;
  gap: 10px;
  padding: 12px 0;
  border-top: 1px solid var(--rule);
}
@media (max-width: 720px) {
  .measures > div {
    grid-template-columns: 1fr 1fr;
  }
  .measures > div > :first-child {
    grid-column: span 2;
  }
}
</style>
