<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { sowApi, type DrillIn, type Sow } from '@/api/sow'
import DownloadChart from '@/parts/DownloadChart.vue'
import { plain } from '@/texts/format'

import DrillPicture from './DrillPicture.vue'
import TestAnswer from './TestAnswer.vue'
import { listOf, useCalibration } from './useCalibration'

const props = defineProps<{ trial: Trial; sow: Sow; mayRecord: boolean }>()
const { t } = useI18n()
const rows = props.trial.equipment.rows_caught
const typed = reactive({
  bulk_kg_ha: '',
  row_spacing_m: props.sow.row_spacing === null ? '' : plain(props.sow.row_spacing),
  rows: rows === null ? '' : plain(rows),
  distance_m: '',
  setting: '',
  limit: '5',
})
const catches = ref('')
const UNITS = computed(() => ({
  bulk_kg_ha: props.sow.units.rate, row_spacing_m: props.sow.units.spacing, rows: '', distance_m: props.sow.units.length, setting: '', limit: '%',
})) // prettier-ignore
const FIELDS = ['bulk_kg_ha', 'row_spacing_m', 'rows', 'distance_m', 'setting', 'limit'] as const
const given = computed<DrillIn>(() => ({ ...typed, catches_g: listOf(catches.value) }))
const ready = computed(
  () =>
    given.value.catches_g.length > 0 &&
    [typed.bulk_kg_ha, typed.row_spacing_m, typed.rows, typed.distance_m].every((one) => one.trim()),
)
const { answer, about, saveTest, saving, faults, problem } = useCalibration(
  props.trial.id,
  'drill',
  given,
  ready,
  sowApi.drill,
)
</script>

<template>
  <form :aria-label="t('sow.tests.drill')" @submit.prevent>
    <p class="quiet small">{{ t('sow.hint.drill') }}</p>
    <div class="fields">
      <v-text-field
        v-for="field in FIELDS"
        :key="field"
        v-model="typed[field]"
        :label="t(`sow.drill.${field}`)"
        :suffix="UNITS[field]"
        inputmode="decimal"
        :error-messages="faults[field] ?? []"
      />
      <v-textarea
        v-model="catches"
        :label="`${t('sow.drill.catches')} (${sow.units.seed})`"
        rows="3"
        inputmode="decimal"
      />
    </div>
    <DownloadChart v-if="answer" :name="t('sow.tests.drill')" :of="trial.name">
      <DrillPicture :found="answer" :unit="sow.units.seed" />
    </DownloadChart>
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
</style>
