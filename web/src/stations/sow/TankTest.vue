<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { sowApi, type Sow, type TankIn } from '@/api/sow'

import TestAnswer from './TestAnswer.vue'
import { listOf, useCalibration } from './useCalibration'

const props = defineProps<{ trial: Trial; sow: Sow; mayRecord: boolean }>()
const { t } = useI18n()
const FIELDS = ['tank_l', 'volume_l_ha', 'bulk_kg_ha', 'seed_density_kg_l', 'area_ha', 'minutes_in_tank', 'longest_minutes'] as const // prettier-ignore
const typed = reactive(Object.fromEntries(FIELDS.map((field) => [field, ''])) as Record<(typeof FIELDS)[number], string>) // prettier-ignore
const samples = ref('')
const UNITS = computed(() => ({
  tank_l: props.sow.units.volume, volume_l_ha: props.sow.units.volume_rate, bulk_kg_ha: props.sow.units.rate, seed_density_kg_l: props.sow.units.density,
  area_ha: props.sow.units.area, minutes_in_tank: 'min', longest_minutes: 'min',
})) // prettier-ignore
const given = computed<TankIn>(() => ({ ...typed, samples_g_l: listOf(samples.value) }))
const ready = computed(() => FIELDS.slice(0, 5).every((field) => typed[field].trim()))
const { answer, about, saveTest, saving, faults, problem } = useCalibration(
  props.trial.id,
  'tank',
  given,
  ready,
  sowApi.tank,
)
</script>

<template>
  <form :aria-label="t('sow.tests.tank')" @submit.prevent>
    <p class="quiet small">{{ t('sow.hint.tank') }}</p>
    <div class="fields">
      <v-text-field
        v-for="field in FIELDS"
        :key="field"
        v-model="typed[field]"
        :label="t(`sow.tank.${field}`)"
        :suffix="UNITS[field]"
        inputmode="decimal"
        :error-messages="faults[field] ?? []"
      />
      <v-text-field
        v-model="samples"
        :label="t('sow.tank.samples')"
        :suffix="sow.units.mixture"
        inputmode="decimal"
        class="samples"
        :error-messages="faults.samples_g_l ?? []"
      />
    </div>
    <TestAnswer
      v-model="about"
      :said="answer?.said"
      :quality="answer?.quality"
      :problem="problem"
      :may-record="mayRecord"
      :saving="saving"
      @save="saveTest()"
    />
  </form>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 10px 12px;
  align-items: start;
  margin-top: 10px;
}
.samples {
  grid-column: span 2;
}
</style>
