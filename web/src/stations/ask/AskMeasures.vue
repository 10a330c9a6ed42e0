<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { catalogueQuery, ownMeasuresQuery, type Factor } from '@/api/queries'

import {
  controlLevel,
  measureFrom,
  measureFromOwn,
  OWN_SHEET,
  usualSettings,
  type MeasureDraft,
  type TreatmentDraft,
} from './draft'
import { emptyOwn } from './own'
import OwnMeasure from './OwnMeasure.vue'

const props = defineProps<{
  treatments: TreatmentDraft[]
  factors?: Factor[]
  workspace: string
  faults: Record<string, string>
  mayPlan: boolean
}>()
const measures = defineModel<MeasureDraft[]>({ required: true })
const { t } = useI18n()
const { data: catalogue } = useQuery(catalogueQuery)
const { data: made } = useQuery(ownMeasuresQuery(() => props.workspace))
const adding = ref<string | null>(null)

const OWN = 'own'
const MADE = 'made:'
const choices = computed(() => [
  { value: OWN, title: t('ask.ownMeasure') },
  ...(catalogue.value?.measures ?? []).map((m) => ({
    value: m.key,
    title: [m.name, m.shown_unit].filter(Boolean).join(', '),
    props: { subtitle: m.group },
  })),
  ...(made.value ?? []).map((m) => ({
    value: MADE + m.name,
    title: [m.name, m.unit].filter(Boolean).join(', '),
    props: { subtitle: t('own.group') },
  })),
])
const sheets = computed(() => [
  { value: OWN_SHEET, title: t('own.sheet') },
  ...(catalogue.value?.sheets ?? []).map((s) => ({ value: s.key, title: s.name })),
])
const dependsOf = (m: MeasureDraft) =>
  catalogue.value?.measures.find((one) => one.key === m.catalogue)?.depends ?? ''
const directions = computed(() =>
  (['higher', 'lower', 'none'] as const).map((value) => ({ value, title: t(`margin.${value}`) })),
)
const TESTS = { none: 'plannedNone', equivalence: 'plannedEquivalence', 'non-inferiority': 'plannedNonInferiority' } as const // prettier-ignore
const tests = computed(() =>
  Object.entries(TESTS).map(([value, key]) => ({
    value,
    title: t(`margin.${key}`),
    props: { subtitle: t(`margin.when.${value}`) },
  })),
)
const named = computed(() => props.treatments.filter((one) => one.name.trim()))
const perLevel = computed(() => controlLevel(props.factors ?? []))
/** Controls that differ in other factors only are one control, found at each treatment's own levels of these. */
const controls = computed(() => {
  const seen = new Set<string>()
  return named.value.filter((one) => {
    if (!one.is_control) return false
    const level = perLevel.value && one.levels[perLevel.value.factor]
    if (!level) return true
    const first = !seen.has(level)
    seen.add(level)
    return first
  })
})
const nameOf = (one?: TreatmentDraft) => {
  const level = one && perLevel.value && one.levels[perLevel.value.factor]
  return level ? t('ask.perLevel', { level }) : (one?.name ?? '')
}
const bases = computed(() => [
  { value: null, title: t('ask.firstControl', { name: nameOf(controls.value[0]) }) },
  ...controls.value.slice(1).map((one) => ({ value: one.id, title: nameOf(one) })),
])
const baseOf = (m: MeasureDraft) =>
  controls.value.some((one) => one.id === m.control) ? m.control : (controls.value[0]?.id ?? null)
const testable = (m: MeasureDraft) =>
  named.value.filter((one) => !isBase(one, m)).map((one) => ({ value: one.id, title: one.name }))
function isBase(one: TreatmentDraft, m: MeasureDraft) {
  const base = named.value.find((other) => other.id === baseOf(m))
  const factor = perLevel.value?.factor
  const level = factor && base?.levels[factor]
  return level ? one.levels[factor] === level : one.id === base?.id
}
/** One measure decides, or none does. */
function decide(m: MeasureDraft, primary: boolean) {
  for (const one of measures.value) one.primary = primary && one === m
}
const kinds = (m: MeasureDraft) => [
  { value: 'absolute', title: m.difference_unit || m.shown_unit || '–' },
  { value: 'percent', title: t('margin.percent') },
]
const sheetOf = (m: MeasureDraft) => catalogue.value?.sheets.find((s) => s.key === m.sheet)
const shippedOf = (m: MeasureDraft) => catalogue.value?.measures.find((one) => one.key === m.catalogue)
const ownPlaces = (i: number) =>
  Object.entries(props.faults)
    .filter(([where]) => where.startsWith(`measures.${i}.own.`))
    .map(([where, what]) => ({ where: where.slice(`measures.${i}.own.`.length), what }))
const faults = (i: number, key: string) => props.faults[`measures.${i}.${key}`] ?? []

const planningWrong = (i: number) =>
  ['expected', 'cv_percent'].some((key) => `measures.${i}.${key}` in props.faults)
/** What the plan reckons with, so that a folded part says what is in it. */
function planningOf(m: MeasureDraft) {
  const shipped = shippedOf(m)
  const usual = shipped?.shown_unit === m.shown_unit ? String(shipped.usual) : ''
  const mean = m.expected.trim() || usual
  const cv = m.cv_percent.trim() || (shipped ? String(shipped.cv_percent) : '')
  return [
    mean && t('ask.planningMean', { v: `${mean} ${m.shown_unit}`.trim() }),
    cv && t('ask.planningCv', { v: cv }),
    m.planned !== 'none' && tests.value.find((one) => one.value === m.planned)?.title,
  ]
    .filter(Boolean)
    .join(' · ')
}

function add(key: string) {
  const own = made.value?.find((one) => MADE + one.name === key)
  if (catalogue.value)
    measures.value.push(
      own ? measureFromOwn(catalogue.value, own) : measureFrom(catalogue.value, key === OWN ? '' : key),
    )
  adding.value = null
}
/** A unit that somebody types is the measure’s own. */
function changeUnit(m: MeasureDraft) {
  m.unit = m.shown_unit
  m.difference_unit = ''
}
function changeSheet(m: MeasureDraft, sheet: string) {
  m.sheet = sheet
  if (sheet === OWN_SHEET) {
    m.own ??= emptyOwn()
    m.catalogue = ''
    m.settings = {}
  } else if (catalogue.value) m.settings = usualSettings(catalogue.value, sheet)
}
</script>

<template>
  <div
    v-for="(m, i) in measures"
    :key="m.id"
    class="measure"
    role="group"
    :aria-label="m.name || t('ask.measureN', { n: i + 1 })"
  >
    <div class="grid">
      <v-text-field v-model="m.name" class="wide" :label="t('ask.measure')" maxlength="120" />
      <v-text-field
        v-model="m.shown_unit"
        :label="t('ask.unit')"
        maxlength="40"
        :data-where="`measures.${i}.unit`"
        :error-messages="faults(i, 'unit')"
        @update:model-value="changeUnit(m)"
      />
      <v-select
        :model-value="m.sheet"
        class="wide"
        :items="sheets"
        :label="t('ask.sheet')"
        @update:model-value="changeSheet(m, $event)"
      />
      <v-text-field
        v-for="s in sheetOf(m)?.settings ?? []"
        :key="s.key"
        v-model="m.settings[s.key]"
        :label="s.name"
        :suffix="s.unit"
        inputmode="decimal"
        :hint="s.hint"
        :persistent-hint="!!s.hint && !m.settings[s.key]"
        :data-where="`measures.${i}.${s.key}`"
        :error-messages="faults(i, s.key)"
      />
    </div>
    <OwnMeasure
      v-if="m.sheet === OWN_SHEET && m.own"
      v-model="m.own"
      :name="m.name"
      :unit="m.unit"
      :places="ownPlaces(i)"
      :where="`measures.${i}.own`"
      :may-plan="mayPlan"
    />
    <div class="grid">
      <v-text-field
        v-model="m.margin"
        :label="t('ask.margin')"
        inputmode="decimal"
        :data-where="`measures.${i}.margin`"
        :error-messages="faults(i, 'margin')"
      />
      <v-select v-model="m.margin_kind" :items="kinds(m)" :label="t('bring.marginIn')" />
      <v-select
        v-model="m.direction"
        :items="directions"
        :label="t('bring.direction')"
        :hint="dependsOf(m)"
        :persistent-hint="!!dependsOf(m) && !m.direction"
        :data-where="`measures.${i}.direction`"
        :error-messages="faults(i, 'direction')"
      />
      <v-select
        v-if="controls.length > 1"
        :model-value="controls.some((one) => one.id === m.control) ? m.control : null"
        class="wide"
        :items="bases"
        :label="t('ask.comparedWith')"
        @update:model-value="m.control = $event"
      />
    </div>
    <details class="planning" :open="planningWrong(i) || undefined">
      <summary>
        {{ t('ask.planning') }} <small class="quiet">{{ planningOf(m) }}</small>
      </summary>
      <div class="grid">
        <v-text-field
          v-model="m.expected"
          :label="t('ask.expected')"
          :suffix="m.shown_unit"
          persistent-placeholder
          :placeholder="shippedOf(m)?.shown_unit === m.shown_unit ? String(shippedOf(m)!.usual) : ''"
          inputmode="decimal"
          :data-where="`measures.${i}.expected`"
          :error-messages="faults(i, 'expected')"
        />
        <v-text-field
          v-model="m.cv_percent"
          :label="t('ask.cv')"
          suffix="%"
          persistent-placeholder
          :placeholder="shippedOf(m) ? String(shippedOf(m)!.cv_percent) : ''"
          inputmode="decimal"
          :data-where="`measures.${i}.cv_percent`"
          :error-messages="faults(i, 'cv_percent')"
        />
        <v-select v-model="m.planned" :items="tests" :label="t('margin.planned')" />
        <v-select
          v-if="m.planned !== 'none' && testable(m).length > 1"
          v-model="m.planned_for"
          class="wide"
          :items="testable(m)"
          :label="t('ask.plannedFor')"
          multiple
          persistent-placeholder
          :placeholder="t('ask.plannedForAll')"
        />
      </div>
    </details>
    <label v-if="measures.length > 1" class="primary"
      ><input
        type="checkbox"
        :checked="m.primary"
        @change="decide(m, ($event.target as HTMLInputElement).checked)"
      />
      {{ t('ask.primary') }}</label
    >
    <p class="quiet small">
      {{ sheetOf(m)?.said }}<template v-if="shippedOf(m)">. {{ shippedOf(m)!.pitfall }}</template>
      <button
        v-if="mayPlan"
        type="button"
        class="link-button"
        :aria-label="`${t('ask.remove')}: ${m.name || t('ask.measureN', { n: i + 1 })}`"
        @click="measures.splice(i, 1)"
      >
        {{ t('ask.remove') }}
      </button>
    </p>
  </div>
  <v-autocomplete
    v-if="mayPlan"
    class="add"
    :model-value="adding"
    :items="choices"
    :label="t('ask.addMeasure')"
    :disabled="!catalogue"
    @update:model-value="add"
  />
</template>

<style scoped>
.measure {
  border: 1px solid var(--rule);
  border-left: 5px solid var(--band);
  border-radius: 0 10px 10px 0;
  background: var(--ground);
  padding: 12px 14px 4px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(146px, 1fr));
  gap: 10px;
  margin-bottom: 10px;
  align-items: start;
}
.wide {
  grid-column: span 2;
}
.add {
  max-width: 420px;
}
.primary {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 40px;
}
.primary input {
  width: 20px;
  height: 20px;
  accent-color: var(--accent);
}
.planning .grid {
  padding-top: 10px;
}
.link-button {
  margin-left: 10px;
}
@media (max-width: 720px) {
  .primary {
    min-height: 48px;
  }
}
</style>
