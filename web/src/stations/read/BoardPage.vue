<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Doubt, MeasureReading, Trial } from '@/api/queries'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { notOpened } from '@/stations/read/notOpened'
import OpenResults from '@/stations/read/OpenResults.vue'
import { useGround } from '@/shell/useGround'
import { fileName, saveCsv } from '@/parts/downloads'
import { day, plain } from '@/texts/format'

import DoubtList from './DoubtList.vue'
import MarginDialog from './MarginDialog.vue'
import MethodChoice from './MethodChoice.vue'
import VerdictCell from './VerdictCell.vue'
import { useFaces, type Showing } from './useFaces'
import { useReading } from './useReading'

const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const { data: reading, error, refetch, isPlaceholderData, choose } = useReading(() => props.trial.id)
const { doubts: doubtCount } = useGround()
const shown = ref(-1)
const asking = ref<MeasureReading>()
const dialog = ref(false)

/** All of the board, or only what is measured on one thing. */
const group = ref('')
const groups = computed(() => [...new Set((reading.value?.measures ?? []).map((m) => m.group))])
const measures = computed(() =>
  (reading.value?.measures ?? []).filter((m) => !group.value || m.group === group.value),
)
const bases = computed(() => [
  { value: '', title: t('read.ownControls') },
  ...props.trial.treatments.map(({ name }) => ({ value: name, title: name })),
])
const onGround = computed(() => measures.value.at(shown.value))
useFaces(onGround, ref<Showing>('treatment'))

/** A treatment that every measure is compared with has no row. */
const others = computed(() =>
  props.trial.treatments.filter((treatment) =>
    measures.value.some((m) => !m.controls.includes(treatment.name)),
  ),
)
/** What heads the board: what all measures are compared with, else the trial's control. */
const base = computed(() => {
  const bases = new Set(measures.value.map((m) => m.base))
  return bases.size === 1 ? [...bases][0]! : (reading.value?.base ?? '')
})
const ownBase = (m: MeasureReading) => m.base !== base.value
const indexOf = (name: string) => props.trial.treatments.findIndex((treatment) => treatment.name === name)
const cellOf = (measure: MeasureReading, treatment: string) =>
  measure.cells.find((cell) => cell.treatment === treatment)
const counted = computed(() => measures.value.some((m) => m.counted))
const level = computed(() => plain(100 * (1 - (reading.value?.how.alpha ?? 0.05))))
const mayPlan = computed(() => props.trial.may.includes('plan'))

const doubts = computed<Doubt[]>(() => reading.value?.board_doubts ?? [])
watchEffect(() => (doubtCount.value = reading.value ? doubts.value.length : null))

function marginText(measure: MeasureReading): string {
  if (measure.margin === null) return t('read.noMargin')
  const unit = measure.margin_kind === 'percent' ? t('margin.percent') : measure.difference_unit
  return t('read.margin', { m: `${plain(measure.margin)} ${unit}`.trim() })
}
/** The visit, unless it is called like its measure, and when it was walked. */
function takenAt({ occasion, name }: MeasureReading): string {
  if (!occasion) return ''
  return [occasion.visit !== name && occasion.visit, occasion.date && day(occasion.date)]
    .filter(Boolean)
    .join(', ')
}
function saveBoard() {
  const shown = reading.value!
  const head = ['measure', 'unit', 'visit', 'date', 'treatment', 'compared with', 'difference', 'lower', 'upper', 'interval', 'margin', 'unit of the margin', 'better', 'verdict', 'blocks that settle it', 'method'] // prettier-ignore
  const rows = measures.value.flatMap((m) =>
    m.cells.map((cell) => [
      m.name, m.unit, m.occasion?.visit ?? '', m.occasion?.date ?? '', cell.treatment, cell.against, cell.estimate, cell.lower, cell.upper, `${level.value} %`,
      m.margin, m.margin_kind === 'percent' ? t('margin.percent') : m.difference_unit, t(`margin.${m.direction}`), t(`read.verdict.${cell.verdict}`) + (cell.reason ? `: ${cell.reason}` : ''),
      cell.blocks, t(`read.method.short.${shown.how.method}`),
    ]),
  ) // prettier-ignore
  saveCsv(fileName([props.trial.name, t('read.title')], 'csv'), [head, ...rows])
}
const print = () => window.print()
function ask(measure: MeasureReading) {
  asking.value = measure
  dialog.value = true
}
</script>

<template>
  <OpenResults v-if="notOpened(error)" :trial="trial" />
  <ProblemNote v-else-if="error" :problem="error" :again="refetch" />
  <p v-else-if="!reading" role="status">{{ t('app.loading') }}</p>
  <div v-else :aria-busy="isPlaceholderData">
    <h1>{{ t('read.title') }}</h1>
    <MethodChoice
      :how="reading.how"
      :design="trial.design"
      :counted="counted"
      :measured="measures.some((m) => !m.counted)"
      @choose="choose"
    />
    <div class="view unprinted">
      <v-select
        class="against"
        :label="t('read.compareWith')"
        :items="bases"
        :model-value="reading.against"
        @update:model-value="choose({ against: $event })"
      />
      <span v-if="groups.length > 1" role="group" :aria-label="t('read.groups')" class="groups">
        <button type="button" class="pill" :aria-pressed="!group" @click="group = ''">
          {{ t('read.allGroups') }}
        </button>
        <button
          v-for="one in groups"
          :key="one"
          type="button"
          class="pill"
          :aria-pressed="group === one"
          @click="group = one"
        >
          {{ one }}
        </button>
      </span>
      <span class="save">
        <button type="button" class="link-button" @click="saveBoard">{{ t('download.board') }}</button>
        <button type="button" class="link-button" @click="print">{{ t('download.print') }}</button>
      </span>
    </div>
    <p v-if="reading.tried_after" class="tried">{{ t('read.tried') }}</p>
    <p v-if="reading.against" class="tried">{{ t('read.otherBase', { base: reading.against }) }}</p>

    <div class="scroll" tabindex="0" role="region" :aria-label="t('read.title')">
      <table class="board">
        <thead>
          <tr>
            <th scope="col" class="corner">{{ t('read.against', { base }) }}</th>
            <th
              v-for="(m, i) in measures"
              :key="m.id"
              scope="col"
              :class="{ shown: m === onGround }"
              @mouseenter="shown = i"
            >
              <router-link
                :to="{ name: 'full-reading', params: { measure: m.id }, query: $route.query }"
                :aria-label="t('read.openFull', { m: m.name })"
                @focus="shown = i"
              >
                {{ m.name }}
              </router-link>
              <span class="unit">{{ m.unit }}</span>
              <span v-if="takenAt(m)" class="unit">{{ takenAt(m) }}</span>
              <button
                v-if="mayPlan"
                type="button"
                class="link-button margin"
                :aria-label="`${t('read.setMargin')}: ${m.name}, ${marginText(m)}`"
                @click="ask(m)"
              >
                {{ marginText(m) }}
              </button>
              <span v-else class="unit">{{ marginText(m) }}</span>
              <span class="unit">{{ t(`read.wanted.${m.direction}`) }}</span>
              <span v-if="ownBase(m)" class="unit">{{ t('read.against', { base: m.base }) }}</span>
              <span v-if="m.planned_kind !== 'none'" class="unit">{{
                t(`read.plannedTest.${m.planned_kind}`)
              }}</span>
              <span v-if="m.primary" class="unit decides">{{ t('read.primary') }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="treatment in others" :key="treatment.id">
            <th scope="row">
              <span class="treatment">
                <TreatmentTag :index="indexOf(treatment.name)" :code="treatment.code" />
                <span>{{ treatment.name }}</span>
              </span>
            </th>
            <td
              v-for="(m, i) in measures"
              :key="m.id"
              :class="{ shown: m === onGround }"
              @mouseenter="shown = i"
            >
              <VerdictCell v-if="cellOf(m, treatment.name)" :cell="cellOf(m, treatment.name)!" :measure="m" />
              <span v-else-if="m.controls.includes(treatment.name)" class="quiet small">{{
                t('read.isBase')
              }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>

    <div class="stack">
      <section v-for="m in measures" :key="m.id">
        <h2>
          <router-link :to="{ name: 'full-reading', params: { measure: m.id }, query: $route.query }">{{
            m.name
          }}</router-link>
          <span class="unit"> {{ m.unit }}</span>
        </h2>
        <p class="unit">
          <template v-if="takenAt(m)">{{ takenAt(m) }} · </template
          >{{ t('read.against', { base: m.base }) }} · {{ t(`read.wanted.${m.direction}`) }} ·
          <button v-if="mayPlan" type="button" class="link-button" @click="ask(m)">
            {{ marginText(m) }}
          </button>
          <span v-else>{{ marginText(m) }}</span>
        </p>
        <div v-for="treatment in others" :key="treatment.id" class="line">
          <span class="treatment">
            <TreatmentTag :index="indexOf(treatment.name)" :code="treatment.code" />
            <span>{{ treatment.name }}</span>
          </span>
          <VerdictCell v-if="cellOf(m, treatment.name)" :cell="cellOf(m, treatment.name)!" :measure="m" />
        </div>
      </section>
    </div>

    <ul class="key small" :aria-label="t('read.legend')">
      <li>
        <svg width="24" height="16" aria-hidden="true"><rect class="k-band" width="24" height="16" /></svg
        >{{ t('read.key.margin') }}
      </li>
      <li>
        <svg width="12" height="16" aria-hidden="true"><path class="k-zero" d="M6 0v16" /></svg
        >{{ t('read.key.zero') }}
      </li>
      <li>
        <svg width="24" height="16" aria-hidden="true"><path class="k-bar" d="M1 8h22" /></svg
        >{{ t('read.key.interval', { level }) }}
      </li>
      <li>
        <svg width="16" height="16" aria-hidden="true"><path class="k-full" d="M8 1l7 7-7 7-7-7z" /></svg
        >{{ t('read.key.filled') }}
      </li>
      <li>
        <svg width="16" height="16" aria-hidden="true">
          <path class="k-open" d="M8 1.5l6.5 6.5-6.5 6.5-6.5-6.5z" /></svg
        >{{ t('read.key.estimate') }}
      </li>
      <li><span aria-hidden="true">●</span>{{ t('read.key.dot') }}</li>
      <li>{{ t('read.key.verdicts') }}</li>
    </ul>
    <p class="quiet small">
      {{
        t(
          'read.families',
          { level, n: reading.families, method: t(`read.method.short.${reading.how.method}`) },
          reading.families,
        )
      }}.
      <template v-if="measures.some((m) => m.cells.some((c) => c.stands_out))">{{
        t('read.star', {
          n: measures.reduce((n, m) => n + m.cells.filter((c) => c.estimate !== null).length, 0),
        })
      }}</template>
    </p>
    <p v-for="m in measures.filter((one) => one.refusal)" :key="m.id" class="refusal">
      <strong>{{ m.name }}: {{ t(m.described?.length ? 'read.onlyDescribed' : 'read.refused') }}.</strong>
      {{ m.refusal }}
    </p>
    <DoubtList :trial="trial.id" :doubts="doubts" :may-answer="trial.may.includes('answer')" show-subject />
    <MarginDialog v-if="asking" v-model="dialog" :measure="asking" :trial="trial" />
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.board {
  border-collapse: collapse;
  width: 100%;
}
.board th,
.board td {
  text-align: left;
  vertical-align: top;
  padding: 8px 4px 8px 6px;
  border-bottom: 1px solid var(--rule);
}
.board td {
  min-width: 120px;
}
.board thead th {
  max-width: 138px;
}
.board thead th {
  border-bottom: 2px solid var(--ink);
  vertical-align: bottom;
  font-weight: 650;
}
.board thead a {
  color: var(--ink);
  text-underline-offset: 3px;
  display: block;
}
.corner {
  min-width: 118px;
}
.shown {
  background: color-mix(in srgb, var(--ground) 60%, transparent);
}
.unit {
  display: block;
  font-weight: 400;
  font-size: 12.5px;
  color: var(--quiet);
}
.margin {
  text-align: left;
  font-size: 12.5px;
  font-weight: 500;
}
.treatment {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  font-weight: 650;
}
.tried {
  color: var(--unsettled);
  font-weight: 600;
}
.key {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  list-style: none;
  padding: 0;
  margin: 12px 0 4px;
  color: var(--quiet);
}
.key li {
  display: flex;
  gap: 8px;
  align-items: center;
}
.k-band {
  fill: var(--margin);
}
.k-zero {
  stroke: var(--field);
  stroke-width: 2;
}
.k-bar {
  stroke: var(--gain);
  stroke-width: 3;
}
.k-full {
  fill: var(--gain);
}
.k-open {
  fill: var(--paper);
  stroke: var(--gain);
  stroke-width: 2;
}
.view {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  align-items: center;
  margin: 2px 0 10px;
}
.against {
  flex: 0 1 290px;
}
.groups {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.save {
  display: flex;
  gap: 16px;
  margin-left: auto;
}
.refusal {
  color: var(--loss);
}
.stack {
  display: none;
}
@media (max-width: 720px) {
  .scroll {
    display: none;
  }
  .stack {
    display: block;
  }
  .stack section {
    margin: 14px 0 20px;
  }
  .stack .unit {
    display: inline;
    margin: 0 0 0 6px;
  }
  .line {
    display: grid;
    grid-template-columns: 1fr 1.1fr;
    gap: 8px;
    padding: 8px 0;
    border-top: 1px solid var(--rule);
  }
}
</style>
