<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue'
import { useI18n } from 'vue-i18n'

import type { PlotValue, Trial } from '@/api/queries'
import FigureFrame from '@/figures/FigureFrame.vue'
import IntervalRows, { type Row } from '@/figures/IntervalRows.vue'
import RawByBlock from '@/figures/RawByBlock.vue'
import ScatterFigure from '@/figures/ScatterFigure.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { notOpened } from '@/stations/read/notOpened'
import OpenResults from '@/stations/read/OpenResults.vue'
import { useGround } from '@/shell/useGround'
import { figure, plain, pValue, signed } from '@/texts/format'

import CorrectDialog from './CorrectDialog.vue'
import DoubtList from './DoubtList.vue'
import MarginDialog from './MarginDialog.vue'
import MeansTable from './MeansTable.vue'
import MethodChoice from './MethodChoice.vue'
import ModelTables from './ModelTables.vue'
import PairsTable from './PairsTable.vue'
import RawTable from './RawTable.vue'
import PartsTable from './PartsTable.vue'
import SeenTable from './SeenTable.vue'
import { useFaces, type Showing } from './useFaces'
import { useReading } from './useReading'
import { toneOfCell } from '@/figures/verdicts'

const props = defineProps<{ trial: Trial; measure: string }>()
const { t } = useI18n()
const { data: reading, error, refetch, isPlaceholderData, choose } = useReading(() => props.trial.id)
const { chosen, doubts: doubtCount } = useGround()

const m = computed(() => reading.value?.measures.find((one) => one.id === props.measure))
const full = computed(() => m.value?.full ?? null)
const showing = ref<Showing>('value')
useFaces(m, showing)
const SHOWINGS: Showing[] = ['treatment', 'value', 'residual']
const marginOpen = ref(false)
const correcting = ref<PlotValue>()
const correctingSample = ref(0)
const correctOpen = ref(false)

const level = computed(() => plain(100 * (1 - (reading.value?.how.alpha ?? 0.05))))
const indexOf = (name: string) => props.trial.treatments.findIndex((one) => one.name === name)
const trialDoubts = computed(() => [...(reading.value?.doubts ?? []), ...(m.value?.doubts ?? [])])
watchEffect(() => {
  if (reading.value) doubtCount.value = reading.value.board_doubts.length
})

const means = computed<Row[]>(() =>
  (full.value?.means ?? [])
    .map((mean) => ({
      key: mean.treatment,
      label: mean.treatment,
      estimate: mean.mean,
      lower: mean.lower,
      upper: mean.upper,
      side: [figure(mean.mean, m.value!.decimals), mean.letters].filter(Boolean).join('  '),
    }))
    .sort((a, b) => b.estimate - a.estimate),
)
const pairs = computed<Row[]>(() =>
  (full.value?.pairs ?? []).map((pair) => ({
    key: `${pair.a}|${pair.b}`,
    label: `${pair.a} − ${pair.b}`,
    estimate: pair.estimate,
    lower: pair.lower,
    upper: pair.upper,
    side: signed(pair.estimate, m.value!.decimals),
    tone: toneOfPair(pair.a, pair.b),
  })),
)
function toneOfPair(a: string, b: string): string {
  const cell = m.value!.cells.find(
    (one) => (one.treatment === a && one.against === b) || (one.treatment === b && one.against === a),
  )
  return cell ? toneOfCell(cell, m.value!.direction) : 'neutral'
}
const points = computed(() =>
  (m.value?.plots ?? [])
    .filter((p) => p.residual !== null)
    .map((p) => ({ ...p, index: indexOf(p.treatment), chosen: chosen.value.includes(p.label) })),
)
const slope = computed(() => {
  const sd = Math.sqrt(
    points.value.reduce((sum, p) => sum + p.residual! ** 2, 0) / Math.max(1, points.value.length - 1),
  )
  return sd || 1
})
function correct(plot: PlotValue, sample: number) {
  correcting.value = plot
  correctingSample.value = sample
  correctOpen.value = true
}
</script>

<template>
  <OpenResults v-if="notOpened(error)" :trial="trial" />
  <ProblemNote v-else-if="error" :problem="error" :again="refetch" />
  <p v-else-if="!reading || !m" role="status">{{ t('app.loading') }}</p>
  <div v-else :aria-busy="isPlaceholderData">
    <p class="back">
      <router-link :to="{ name: 'read', query: $route.query }">← {{ t('full.back') }}</router-link>
    </p>
    <div class="title">
      <h1>
        {{ m.name }} <span class="quiet unit">{{ m.unit }}</span>
      </h1>
      <button v-if="trial.may.includes('plan')" type="button" class="pill" @click="marginOpen = true">
        {{
          m.margin === null
            ? t('read.noMargin')
            : t('read.margin', {
                m: `${plain(m.margin)} ${m.margin_kind === 'percent' ? t('margin.percent') : m.difference_unit}`,
              })
        }}
        · {{ t(`read.wanted.${m.direction}`) }}
      </button>
    </div>
    <MethodChoice
      :how="reading.how"
      :design="trial.design"
      :counted="m.counted"
      :measured="!m.counted"
      @choose="choose"
    />
    <p v-if="reading.tried_after" class="tried">{{ t('read.tried') }}</p>
    <div class="showing" role="group" :aria-label="t('ground.colourBy')">
      <span class="quiet">{{ t('ground.colourBy') }}</span>
      <button
        v-for="s in SHOWINGS"
        :key="s"
        type="button"
        class="pill"
        :aria-pressed="showing === s"
        @click="showing = s"
      >
        {{ t(`ground.by.${s}`) }}
      </button>
    </div>

    <p v-if="!full" class="refusal">
      <strong>{{ t(m.described?.length ? 'read.onlyDescribed' : 'read.refused') }}.</strong> {{ m.refusal }}
    </p>
    <SeenTable v-if="!full && m.described?.length" :measure="m" />
    <PartsTable v-if="m.parts?.length" :measure="m" />
    <template v-if="full">
      <p>{{ full.model }}</p>
      <p v-for="note in m.notes" :key="note" class="quiet">{{ note }}</p>

      <section v-if="m.planned.length" class="planned">
        <h2>
          {{ t(m.planned.some((p) => p.chosen_after) ? 'full.chosenAfter' : 'full.planned') }}:
          {{
            t(m.planned_kind === 'equivalence' ? 'margin.plannedEquivalence' : 'margin.plannedNonInferiority')
          }}
        </h2>
        <ul>
          <li v-for="p in m.planned" :key="p.treatment">
            {{
              t('full.plannedLine', {
                treatment: p.treatment,
                base: m.cells.find((one) => one.treatment === p.treatment)?.against ?? m.base,
                d: signed(p.estimate, m.decimals),
                l: figure(p.lower, m.decimals),
                u: figure(p.upper, m.decimals),
                unit: m.difference_unit,
                m: plain(p.margin),
                p: pValue(p.p),
              })
            }}
            <strong>{{ t(`full.${p.shown ? 'shown' : 'notShown'}.${p.kind}`) }}</strong>
            {{ ' ' }}<span v-if="p.parts" class="quiet">{{ p.parts }}</span>
          </li>
        </ul>
      </section>

      <div class="figures">
        <FigureFrame :of="m.name" :title="t('full.raw')">
          <RawByBlock :measure="m" :treatments="trial.treatments" :chosen="chosen" />
          <template #table
            ><RawTable :measure="m" :may-correct="trial.may.includes('record')" @correct="correct"
          /></template>
        </FigureFrame>

        <FigureFrame :of="m.name" :title="t('full.means')" :note="t('full.meansNote', { level })">
          <IntervalRows :rows="means" :unit="m.unit" :decimals="m.decimals" />
          <p v-if="m.letters_withheld" class="quiet small">{{ m.letters_withheld }}</p>
          <p v-else-if="full.means.some((one) => one.letters)" class="quiet small">
            {{ t('full.lettersNote', { level }) }}
          </p>
          <template #table><MeansTable :measure="m" /></template>
        </FigureFrame>

        <FigureFrame
          :of="m.name"
          :title="t('full.pairs')"
          :note="t('full.pairsNote', { level, method: t(`read.method.short.${full.method}`) })"
        >
          <IntervalRows :rows="pairs" :unit="m.difference_unit" :decimals="m.decimals" :band="m.band" zero />
          <template #table><PairsTable :measure="m" /></template>
        </FigureFrame>

        <ModelTables :measure="m" />
        <ul class="facts">
          <li v-if="full.cv_percent !== null">
            {{
              t('full.cv', {
                cv: figure(full.cv_percent, 1),
                m: figure(full.grand_mean, m.decimals),
                unit: m.unit,
                n: full.n_plots,
              })
            }}
          </li>
          <li v-if="m.detectable !== null">
            {{ t('full.detectable', { d: figure(m.detectable, m.decimals), unit: m.difference_unit }) }}
          </li>
          <li v-if="full.lsd !== null">
            {{ t('full.lsd', { d: figure(full.lsd, m.decimals), unit: m.difference_unit }) }}
          </li>
          <li>
            {{
              t('full.checks', {
                s: full.shapiro_p === null ? t('full.notTested') : pValue(full.shapiro_p),
                l: full.levene_p === null ? t('full.notTested') : pValue(full.levene_p),
              })
            }}
          </li>
        </ul>

        <div class="pair">
          <FigureFrame :of="m.name" :title="t('full.residuals')">
            <ScatterFigure
              :points="
                points.map((p) => ({
                  label: p.label,
                  x: p.fitted!,
                  y: p.residual!,
                  index: p.index,
                  chosen: p.chosen,
                }))
              "
              :x-name="`${t('full.col.fitted')}, ${m.unit}`"
              :y-name="`${t('full.col.residual')}, ${m.unit}`"
              line="zero"
            />
            <template #table>
              <table class="plain">
                <tbody>
                  <tr v-for="p in points" :key="p.label">
                    <th scope="row">{{ p.label }}</th>
                    <td class="right">{{ figure(p.fitted, m.decimals + 1) }}</td>
                    <td class="right">{{ signed(p.residual, m.decimals + 1) }}</td>
                  </tr>
                </tbody>
              </table>
            </template>
          </FigureFrame>
          <FigureFrame :of="m.name" :title="t('full.quantiles')">
            <ScatterFigure
              :points="
                points.map((p) => ({
                  label: p.label,
                  x: p.quantile!,
                  y: p.residual!,
                  index: p.index,
                  chosen: p.chosen,
                }))
              "
              :x-name="t('full.col.quantile')"
              :y-name="`${t('full.col.residual')}, ${m.unit}`"
              line="slope"
              :slope="slope"
            />
            <template #table>
              <table class="plain">
                <tbody>
                  <tr v-for="p in points" :key="p.label">
                    <th scope="row">{{ p.label }}</th>
                    <td class="right">{{ figure(p.quantile, 2) }}</td>
                    <td class="right">{{ signed(p.residual, m.decimals + 1) }}</td>
                  </tr>
                </tbody>
              </table>
            </template>
          </FigureFrame>
        </div>
      </div>
    </template>
    <DoubtList :trial="trial.id" :doubts="trialDoubts" :may-answer="trial.may.includes('answer')" />
    <MarginDialog v-model="marginOpen" :measure="m" :trial="trial" />
    <CorrectDialog
      v-if="correcting"
      v-model="correctOpen"
      :measure="m"
      :plot="correcting"
      :sample="correctingSample"
    />
  </div>
</template>

<style scoped>
.back {
  margin: 0 0 6px;
}
.title {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
  align-items: center;
}
.unit {
  font-weight: 400;
  font-size: 15px;
}
.showing {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin-bottom: 12px;
}
.tried {
  color: var(--unsettled);
  font-weight: 600;
}
.refusal {
  color: var(--loss);
}
.figures {
  margin-top: 18px;
  max-width: 860px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 20px;
  margin-top: 20px;
}
.facts {
  margin: 14px 0 0 18px;
}
.planned {
  margin: 12px 0;
  padding: 8px 14px;
  border-left: 5px solid var(--band);
  background: var(--ground);
}
.planned ul {
  margin: 4px 0 0 16px;
}
@media (max-width: 900px) {
  .pair {
    grid-template-columns: 1fr;
  }
}
</style>
