<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Season, Trial } from '@/api/queries'
import { stagesQuery } from '@/api/stages'

import type { TriggerDraft } from './trigger'

/** The fields of one trigger: a plant and its stage, or an amount; degree days also from when and above what. */
const props = defineProps<{
  trial: Trial
  season: Season
  /** Names of the fields in the server’s words, such as `trigger`. */
  where: string
  faults: Record<string, string>
  temperatureUnit: string
  units: Record<string, string>
  others: { value: string; title: string }[]
}>()
const draft = defineModel<TriggerDraft>({ required: true })
const { t } = useI18n()
const { data: stages } = useQuery(computed(() => stagesQuery(props.trial.id)))
const CROP = 'crop:'
const plants = computed(() => [
  ...(stages.value?.plants ?? []).map((one) => ({ value: one.key, title: one.name })),
  ...(stages.value?.crops ?? []).map((one) => ({ value: `${CROP}${one}`, title: one })),
])
const choices = computed(() =>
  (stages.value?.plants.find((one) => one.key === draft.value.plant)?.stages ?? [])
    .filter((one) => one.code > 0)
    .map((one) => ({ value: String(one.code), title: `${one.code} · ${one.seen}` })),
)
const at = (name: string) => props.faults[`${props.where}.${name}`] ?? ''
</script>

<template>
  <template v-if="draft.kind === 'stage'">
    <v-select
      v-model="draft.plant"
      :items="plants"
      :label="t('stages.plant')"
      :error-messages="at('plant')"
    />
    <v-select
      v-if="choices.length"
      v-model="draft.value"
      :items="choices"
      :label="t('stages.stage')"
      :error-messages="at('value')"
    />
    <v-text-field
      v-else
      v-model="draft.value"
      inputmode="numeric"
      :label="t('stages.stageNumber')"
      :error-messages="at('value')"
    />
  </template>
  <template v-else>
    <v-text-field
      v-model="draft.value"
      inputmode="decimal"
      :label="t(`season.target.${draft.kind}`)"
      :suffix="units[draft.kind]"
      :error-messages="at('value')"
    />
    <template v-if="draft.kind === 'degree_days'">
      <v-text-field
        v-model="draft.base"
        inputmode="decimal"
        :label="t('season.base')"
        :suffix="temperatureUnit"
        :error-messages="at('base_c') || at('base')"
      />
      <v-text-field
        v-model="draft.cap"
        inputmode="decimal"
        :label="t('season.cap')"
        :suffix="temperatureUnit"
        :error-messages="at('cap_c') || at('cap')"
      />
    </template>
    <template v-if="draft.kind === 'soil_temperature'">
      <v-text-field
        v-model="draft.days"
        inputmode="numeric"
        :label="t('season.inARow')"
        :error-messages="at('days')"
      />
      <v-checkbox v-model="draft.colder" :label="t('season.colder')" hide-details />
    </template>
    <v-select
      v-if="draft.kind === 'degree_days' || draft.kind === 'soil_temperature'"
      v-model="draft.operation"
      :items="others"
      :clearable="draft.kind === 'soil_temperature'"
      :label="t('season.countedFrom')"
      :error-messages="faults.after ?? ''"
    />
  </template>
</template>
