<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { sowApi, type Sow, type SpreaderIn } from '@/api/sow'
import { plain } from '@/texts/format'

import SpreaderPicture from './SpreaderPicture.vue'
import TestAnswer from './TestAnswer.vue'
import { listOf, useCalibration } from './useCalibration'

const props = defineProps<{ trial: Trial; sow: Sow; mayRecord: boolean }>()
const { t } = useI18n()
const typed = reactive({
  left: '6', right: '6', spacing_m: '', tray_area_m2: '', passes_per_tray: '1', width_m: '',
}) // prettier-ignore
const centre = ref(true)
const mode = ref<SpreaderIn['mode']>('there_and_back')
const masses = ref('')
const FIELDS = ['left', 'right', 'spacing_m', 'tray_area_m2', 'passes_per_tray', 'width_m'] as const
const UNITS = computed(() => ({
  left: '', right: '', spacing_m: props.sow.units.length, tray_area_m2: `${props.sow.units.length}²`, passes_per_tray: '', width_m: props.sow.units.length,
})) // prettier-ignore
const given = computed<SpreaderIn>(() => ({
  ...typed, centre: centre.value, mode: mode.value, masses_g: listOf(masses.value),
})) // prettier-ignore
const ready = computed(() => listOf(masses.value).length > 0 && FIELDS.every((field) => typed[field].trim()))
const { answer, about, saveTest, saving, faults, problem } = useCalibration(
  props.trial.id,
  'spreader',
  given,
  ready,
  sowApi.spreader,
)
</script>

<template>
  <form :aria-label="t('sow.tests.spreader')" @submit.prevent>
    <p class="quiet small">{{ t('sow.hint.spreader') }}</p>
    <div class="fields">
      <v-text-field
        v-for="field in FIELDS"
        :key="field"
        v-model="typed[field]"
        :label="t(`sow.spreader.${field}`)"
        :suffix="UNITS[field]"
        inputmode="decimal"
        :error-messages="faults[field] ?? []"
      />
      <v-select
        v-model="mode"
        :label="t('sow.spreader.mode')"
        :items="
          (['there_and_back', 'same_way'] as const).map((value) => ({
            value,
            title: t(`sow.spreader.modes.${value}`),
          }))
        "
      />
      <v-checkbox v-model="centre" :label="t('sow.spreader.centre')" hide-details />
    </div>
    <v-textarea
      v-model="masses"
      :label="`${t('sow.spreader.masses')} (${sow.units.seed})`"
      rows="2"
      inputmode="decimal"
    />
    <SpreaderPicture
      v-if="answer"
      :found="answer"
      :mode="mode"
      :width="Number(typed.width_m.replace(',', '.')) || answer.width"
      :length="sow.units.length"
      :mass="sow.units.seed"
      @width="typed.width_m = plain($event)"
    />
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
  margin: 10px 0;
}
</style>
