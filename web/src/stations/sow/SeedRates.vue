<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import type { Sow } from '@/api/sow'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import { threeDigits } from '@/texts/format'

import type { RateDraft } from './draft'

/** The rate of each component, in any usual unit, and the same rate in each other way. */
const props = defineProps<{ sow: Sow; trial: Trial; faults: Record<string, string> }>()
const rates = defineModel<RateDraft[]>({ required: true })
const { t } = useI18n()

const names = computed(() => new Map(props.sow.lots.map((lot) => [lot.key, [lot.name, lot.cultivar].filter(Boolean).join(' ')]))) // prettier-ignore
const at = (treatment: string, lot: string) =>
  rates.value.findIndex((one) => one.treatment === treatment && one.lot === lot)
const faultsOf = (one: RateDraft) => {
  const said = rates.value.filter((rate) => rate.here).indexOf(one)
  return props.faults[`rates.${said}.value`] ?? props.faults[`${one.treatment}.${one.lot}`] ?? ''
}
const index = (id: string) => props.trial.treatments.findIndex((one) => one.id === id)
const OUT = ['bulk', 'live', 'seeds', 'plants', 'per_row', 'total'] as const
const unitOf = computed(() => ({
  bulk: props.sow.units.rate,
  live: props.sow.units.rate,
  seeds: `/${props.sow.units.per_area.replace(/^1\//, '')}`,
  plants: `/${props.sow.units.per_area.replace(/^1\//, '')}`,
  per_row: `/${props.sow.units.row.replace(/^1\//, '')}`,
  total: props.sow.units.order,
}))
type Part = Sow['treatments'][number]['parts'][number]
const said = (part: Part, key: (typeof OUT)[number]) =>
  part[key] === null ? '–' : `${threeDigits(part[key])} ${unitOf.value[key]}`.replace(' /', '/')
</script>

<template>
  <ul class="treatments">
    <li v-for="one in sow.treatments" :key="one.id">
      <h3><TreatmentTag :index="index(one.id)" :code="one.code" /> {{ one.name }}</h3>
      <p v-if="!one.parts.length" class="quiet small">{{ t('sow.noSeed') }}</p>
      <div
        v-for="part in one.parts"
        :key="part.lot"
        class="part"
        role="group"
        :aria-label="t('sow.rate', { name: `${one.name}, ${names.get(part.lot)}` })"
      >
        <div class="asked">
          <strong>{{ names.get(part.lot) }}</strong>
          <template v-if="at(one.id, part.lot) >= 0">
            <v-text-field
              v-model="rates[at(one.id, part.lot)]!.value"
              :label="t('sow.rateShort')"
              inputmode="decimal"
              :hint="rates[at(one.id, part.lot)]!.here ? '' : t('sow.fromAsk')"
              persistent-hint
              :error-messages="faultsOf(rates[at(one.id, part.lot)]!)"
              @update:model-value="rates[at(one.id, part.lot)]!.here = true"
            />
            <v-select
              v-model="rates[at(one.id, part.lot)]!.way"
              :label="t('sow.way')"
              :items="sow.ways.map((way) => ({ value: way.key, title: way.said }))"
              @update:model-value="rates[at(one.id, part.lot)]!.here = true"
            />
          </template>
        </div>
        <dl>
          <div v-for="key in OUT" :key="key">
            <dt>{{ t(`sow.out.${key}`) }}</dt>
            <dd>{{ said(part, key) }}</dd>
          </div>
        </dl>
        <p v-if="part.missing.length" class="needs">
          {{ part.missing.map((fact) => t(`sow.missing.${fact}`)).join('. ') }}.
        </p>
      </div>
      <details v-if="one.warnings.length" class="warnings">
        <summary>{{ t('sow.warnings', one.warnings.length) }}</summary>
        <ul>
          <li v-for="warning in one.warnings" :key="warning">{{ warning }}</li>
        </ul>
      </details>
    </li>
  </ul>
</template>

<style scoped>
.treatments {
  list-style: none;
  margin: 0;
  padding: 0;
}
.treatments > li {
  padding: 10px 0;
  border-top: 1px solid var(--rule);
}
h3 {
  margin: 0 0 8px;
  font-size: 15px;
  display: flex;
  gap: 8px;
  align-items: center;
}
.part {
  margin-bottom: 8px;
}
.asked {
  display: grid;
  grid-template-columns: minmax(120px, 1fr) 150px 230px;
  gap: 10px;
  align-items: start;
}
.asked strong {
  padding-top: 9px;
  font-weight: 600;
}
dl {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(108px, 1fr));
  gap: 4px 12px;
  margin: 8px 0 0;
}
dt {
  font-size: 12.5px;
  color: var(--quiet);
}
dd {
  margin: 0;
  font-variant-numeric: tabular-nums;
}
.needs {
  margin: 6px 0 0;
  color: var(--unsettled);
  font-weight: 650;
}
.warnings {
  margin-top: 6px;
}
@media (max-width: 720px) {
  .asked {
    grid-template-columns: 1fr 1fr;
  }
  .asked strong {
    grid-column: 1 / -1;
    padding: 0;
  }
}
</style>
