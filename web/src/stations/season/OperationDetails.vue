<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Season } from '@/api/queries'
import FoldedPart from '@/parts/FoldedPart.vue'
import { useGround } from '@/shell/useGround'

import { WAITS, type OperationDetails } from './details'

/** What is said of an operation beside when and where: how, what was left out, waiting times, grazing, a lot, planting quality. */
const props = defineProps<{ season: Season; kind: string; faults: Record<string, string> }>()
const said = defineModel<OperationDetails>({ required: true })
const { t } = useI18n()
const { chosen } = useGround()
const HOW = ['amount', 'machine', 'setting', 'operator', 'hours', 'cost'] as const
const CUTS = ['before_kg_ha', 'after_kg_ha', 'caged_kg_ha', 'dung_kg_ha'] as const
const PLANTING = ['depth_cm', 'places', 'residue_percent', 'hairpinned_percent', 'open_percent'] as const
const HERD = ['head', 'days'] as const
const unitOf = (rate: string) => props.season.rate_units.find((one) => one.rate === rate)?.analysis ?? ''
const grazes = computed(() => ['graze', 'graze_out'].includes(props.kind))
const any = (values: object) => Object.values(values).some(Boolean)
function addNutrient() {
  const used = said.value.lot.analysis.map((one) => one.nutrient)
  const next = props.season.nutrients.find((one) => !used.includes(one))
  if (next) said.value.lot.analysis.push({ nutrient: next, content: '' })
}
</script>

<template>
  <FoldedPart :title="t('season.details')" :open="HOW.some((field) => said[field])">
    <div class="row">
      <v-text-field
        v-for="field in HOW"
        :key="field"
        v-model="said[field]"
        :label="t(`season.${field}`)"
        :suffix="field === 'hours' ? 'h' : ''"
        :inputmode="field === 'hours' || field === 'cost' ? 'decimal' : 'text'"
        :error-messages="faults[field] ?? ''"
      />
    </div>
  </FoldedPart>
  <FoldedPart :title="t('season.leftOut')" :open="said.exempt.length > 0 || !!said.exempt_quadrats">
    <div class="stack">
      <p class="small">
        {{
          said.exempt.length
            ? t('season.withoutPlots', { plots: said.exempt.join(', ') }, said.exempt.length)
            : t('season.noneLeftOut')
        }}
      </p>
      <div class="acts">
        <button type="button" class="pill" :disabled="!chosen.length" @click="said.exempt = [...chosen]">
          {{ t('season.leaveOut', { n: chosen.length }) }}
        </button>
        <button v-if="said.exempt.length" type="button" class="link-button" @click="said.exempt = []">
          {{ t('season.leaveNoneOut') }}
        </button>
      </div>
      <v-text-field v-model="said.exempt_quadrats" :label="t('season.quadrats')" maxlength="200" />
    </div>
  </FoldedPart>
  <FoldedPart :title="t('season.waiting')" :open="any(said.intervals)">
    <p class="small quiet">{{ t('season.waitingLead') }}</p>
    <div class="row">
      <v-text-field
        v-for="name in WAITS"
        :key="name"
        v-model="said.intervals[name]"
        inputmode="decimal"
        :label="t(`season.wait.${name}`)"
        :suffix="t(name === 'reentry_hours' ? 'season.hoursUnit' : 'season.daysUnit')"
        :error-messages="faults[`intervals.${name}`] ?? ''"
      />
    </div>
  </FoldedPart>
  <FoldedPart v-if="grazes" :title="t('season.grazing')" :open="any(said.grazing)">
    <div class="row">
      <v-text-field
        v-for="name in HERD"
        :key="name"
        v-model="said.grazing[name]"
        inputmode="decimal"
        :label="t(`season.graze.${name}`)"
        :error-messages="faults[`grazing.${name}`] ?? faults[name] ?? ''"
      />
      <v-text-field
        v-model="said.grazing.area_ha"
        inputmode="decimal"
        :label="t('season.graze.area_ha')"
        :suffix="season.units.area"
        :error-messages="faults['grazing.area_ha'] ?? faults.area_ha ?? ''"
      />
      <v-text-field
        v-for="name in CUTS"
        :key="name"
        v-model="said.grazing[name]"
        inputmode="decimal"
        :label="t(`season.graze.${name}`)"
        :suffix="season.units.biomass"
        :error-messages="faults[`grazing.${name}`] ?? ''"
      />
    </div>
    <p class="small quiet">{{ t('season.grazeLead') }}</p>
  </FoldedPart>
  <FoldedPart v-if="['plant', 'sow'].includes(kind)" :title="t('season.planting')" :open="any(said.planting)">
    <div class="row">
      <v-text-field
        v-for="name in PLANTING"
        :key="name"
        v-model="said.planting[name]"
        inputmode="decimal"
        :label="t(`season.plant.${name}`, { unit: season.units.height })"
        :error-messages="faults[`planting.${name}`] ?? ''"
      />
    </div>
  </FoldedPart>
  <FoldedPart v-if="kind === 'fertilise'" :title="t('season.lot')" :open="!!said.lot.rate">
    <div class="row">
      <v-text-field v-model="said.lot.name" :label="t('season.lotName')" maxlength="120" />
      <v-text-field
        v-model="said.lot.rate"
        inputmode="decimal"
        :label="t('season.lotRate')"
        :error-messages="faults['lot.rate'] ?? faults.rate ?? ''"
      />
      <v-select
        v-model="said.lot.rate_unit"
        :items="season.rate_units.map((one) => one.rate)"
        :label="t('season.lotUnit')"
      />
    </div>
    <div v-for="(one, i) in said.lot.analysis" :key="i" class="row">
      <v-select v-model="one.nutrient" :items="season.nutrients" :label="t('season.nutrient')" />
      <v-text-field
        v-model="one.content"
        inputmode="decimal"
        :label="t('season.content')"
        :suffix="unitOf(said.lot.rate_unit)"
        :error-messages="faults[`analysis.${one.nutrient}`] ?? ''"
      />
    </div>
    <button type="button" class="link-button" @click="addNutrient">{{ t('season.addNutrient') }}</button>
  </FoldedPart>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  margin-top: 8px;
}
.stack {
  display: flex;
  flex-direction: column;
  gap: 8px;
  margin-top: 6px;
}
p {
  margin: 4px 0 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
}
</style>
