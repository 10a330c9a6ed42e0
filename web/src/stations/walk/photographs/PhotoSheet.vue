<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, ref, toRef } from 'vue'
import { useI18n } from 'vue-i18n'

import {
  photographsQuery,
  plotPhotographsQuery,
  samplePhotographsApi,
  type SamplePhotograph,
} from '@/api/samplePhotographs'
import { trialQueries, type Trial } from '@/api/queries'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useStationGround } from '@/shell/useGround'
import { day } from '@/texts/format'

import PhotoMeasure from './PhotoMeasure.vue'

/** The photographs of a visit side by side: a row for each treatment, a column for each block. */
const props = defineProps<{ trial: Trial; visit: string }>()
const { t } = useI18n()
const queries = useQueryClient()
const { data, error, refetch } = useQuery(photographsQuery(toRef(props, 'visit')))
const { data: season } = useQuery(trialQueries.season(toRef(() => props.trial.id)))
const name = computed(() => season.value?.visits.find((one) => one.id === props.visit)?.name ?? '')
useStationGround(() => ({ title: name.value || t('ground.by.treatment'), unit: '', faces: {} }))

const mayRecord = computed(() => props.trial.may.includes('record'))
const plots = computed(() => new Map(props.trial.plots.map((plot) => [plot.id, plot])))
const blocks = computed(() => [...new Set(props.trial.plots.map((plot) => plot.block))])
const rows = computed(() =>
  props.trial.treatments.map((treatment, index) => ({
    treatment,
    index,
    cells: blocks.value.map((block) =>
      (data.value ?? []).filter((one) => {
        const plot = plots.value.get(one.unit)
        return plot?.treatment === treatment.id && plot.block === block
      }),
    ),
  })),
)
const said = (one: SamplePhotograph) =>
  [
    t('walk.plot', { p: plots.value.get(one.unit)?.label }),
    one.zone,
    one.sample ? t('walk.frameN', { n: one.sample }) : '',
  ]
    .filter(Boolean)
    .join(', ')
const largeId = ref('')
const plotSeason = ref('')
const throughSeason = ref<HTMLElement | null>(null)
const { data: through, error: throughError } = useQuery(
  plotPhotographsQuery(() => props.trial.id, plotSeason),
)
const large = computed(
  () => [...(data.value ?? []), ...(through.value ?? [])].find((one) => one.id === largeId.value) ?? null,
)
const problem = ref<Error | null>(null)
const asking = ref(false)
function open(id: string) {
  largeId.value = id
  problem.value = null
  asking.value = false
}
async function remove(one: SamplePhotograph) {
  problem.value = null
  try {
    await samplePhotographsApi.remove(one.visit, one.id)
    open('')
    await renew()
  } catch (thrown) {
    problem.value = thrown as Error
  }
}
async function renew() {
  await refetch()
  await queries.invalidateQueries({ queryKey: ['trials', props.trial.id, 'plots'] })
}
function showSeason(one: SamplePhotograph) {
  plotSeason.value = one.unit
  open('')
  void nextTick(() => throughSeason.value?.scrollIntoView({ block: 'nearest' }))
}

/** At one scale each picture is as wide as what it shows, so that roots and canopies can be compared by eye. */
const oneScale = ref(false)
const MOST_WIDE = 168
const known = computed(() => [...(data.value ?? []), ...(through.value ?? [])].filter((one) => one.size_m))
const unscaled = computed(() => (data.value ?? []).filter((one) => !one.size_m).length)
const perMetre = computed(() => MOST_WIDE / Math.max(...known.value.map((one) => Math.max(...one.size_m!))))
function sized(one: SamplePhotograph) {
  if (!oneScale.value || !one.size_m) return undefined
  const [width, length] = one.size_m.map((side) => `${Math.round(side * perMetre.value)}px`)
  return { width, height: length, objectFit: 'fill' as const }
}
const pictureOf = (one: SamplePhotograph) =>
  oneScale.value && one.size_m
    ? samplePhotographsApi.straight(one.id, [...one.corners, one.size_m])
    : `/api/v1/photographs/${one.id}/preview`
</script>

<template>
  <p class="back">
    <router-link :to="{ name: 'visit', params: { visit } }">← {{ name || t('walk.visit') }}</router-link>
  </p>
  <h1>{{ t('walk.photos.title') }}</h1>
  <ProblemNote v-if="error && !data" :problem="error" :again="refetch" />
  <p v-else-if="!data" role="status">{{ t('app.loading') }}</p>
  <p v-else-if="!data.length" class="quiet">{{ t('walk.photos.none') }}</p>
  <label v-if="known.length" class="tick"
    ><input v-model="oneScale" type="checkbox" /> {{ t('walk.photos.oneScale') }}</label
  >
  <p v-if="oneScale && unscaled" class="quiet small">{{ t('walk.photos.unscaled', unscaled) }}</p>
  <div v-if="data?.length" class="scroll" tabindex="0" role="region" :aria-label="t('walk.photos.title')">
    <table>
      <thead>
        <tr>
          <th scope="col">{{ t('full.col.treatment') }}</th>
          <th v-for="block in blocks" :key="block" scope="col">{{ t('ground.block', { b: block }) }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ treatment, index, cells } in rows" :key="treatment.id">
          <th scope="row">
            <TreatmentTag :index="index" :code="treatment.code" />
            {{ treatment.name }}
          </th>
          <td v-for="(photographs, i) in cells" :key="i">
            <button
              v-for="one in photographs"
              :key="one.id"
              type="button"
              :aria-label="t('walk.photos.open', { what: said(one) })"
              @click="open(one.id)"
            >
              <img :src="pictureOf(one)" :style="sized(one)" alt="" loading="lazy" />
              <span>{{ said(one) }}</span>
            </button>
            <span v-if="!photographs.length" class="quiet">–</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <section
    v-if="plotSeason"
    ref="throughSeason"
    :aria-label="t('walk.photos.season', { p: plots.get(plotSeason)?.label })"
  >
    <h2>{{ t('walk.photos.season', { p: plots.get(plotSeason)?.label }) }}</h2>
    <ProblemNote v-if="throughError && !through" :problem="throughError" />
    <p v-if="through" class="row">
      <button
        v-for="one in through"
        :key="one.id"
        type="button"
        :aria-label="t('walk.photos.open', { what: `${one.visit_name}, ${said(one)}` })"
        @click="open(one.id)"
      >
        <img :src="pictureOf(one)" :style="sized(one)" alt="" loading="lazy" />
        <strong>{{ one.visit_name }}</strong>
        <span>{{ one.visit_date ? day(one.visit_date) : '–' }}</span>
      </button>
    </p>
    <button type="button" class="link-button" @click="plotSeason = ''">
      {{ t('walk.photos.hideSeason') }}
    </button>
  </section>
  <v-dialog
    :model-value="Boolean(large)"
    max-width="1100"
    scrollable
    :aria-label="large ? said(large) : ''"
    @update:model-value="open('')"
  >
    <div v-if="large" class="large">
      <h2>{{ said(large) }}</h2>
      <p class="quiet">
        {{ [large.by, large.taken ? day(large.taken.slice(0, 10)) : ''].filter(Boolean).join(', ') }}
      </p>
      <PhotoMeasure :photograph="large" :may-record="mayRecord" @scaled="renew" />
      <ProblemNote v-if="problem" :problem="problem" />
      <p v-if="asking" role="alert" class="acts">
        {{ t('walk.photos.removeAsk') }}
        <button type="button" class="pill" @click="remove(large)">{{ t('walk.photos.remove') }}</button>
        <button type="button" class="link-button" @click="asking = false">{{ t('margin.cancel') }}</button>
      </p>
      <p v-else class="acts">
        <button type="button" class="pill" @click="open('')">{{ t('walk.photos.close') }}</button>
        <button type="button" class="pill" @click="showSeason(large)">
          {{ t('walk.photos.showSeason', { p: plots.get(large.unit)?.label }) }}
        </button>
        <button v-if="mayRecord" type="button" class="link-button" @click="asking = true">
          {{ t('walk.photos.remove') }}
        </button>
      </p>
    </div>
  </v-dialog>
</template>

<style scoped>
.scroll {
  overflow: auto;
  border: 1px solid var(--rule);
  border-radius: 8px;
}
table {
  border-collapse: collapse;
}
th,
td {
  padding: 8px 10px;
  border-bottom: 1px solid var(--rule);
  text-align: left;
  vertical-align: top;
}
th[scope='row'] {
  white-space: nowrap;
}
td button,
.row button {
  display: inline-grid;
  gap: 2px;
  margin: 0 6px 6px 0;
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: 13px;
  text-align: left;
  cursor: pointer;
}
td img,
.row img {
  width: 168px;
  height: 126px;
  object-fit: cover;
  border-radius: 6px;
}
.row {
  display: flex;
  gap: 10px;
  overflow-x: auto;
  align-items: end;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
}
.tick input {
  width: 20px;
  height: 20px;
  accent-color: var(--accent);
}
.large {
  overflow: auto;
  background: var(--paper);
  color: var(--ink);
  border-radius: 12px;
  padding: 18px;
}
.acts {
  display: flex;
  gap: 18px;
  align-items: center;
}
</style>
