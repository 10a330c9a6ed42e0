<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, toRef } from 'vue'
import { useI18n } from 'vue-i18n'

import { photographsQuery, samplePhotographsApi, type SamplePhotograph } from '@/api/samplePhotographs'
import { trialQueries, type Trial } from '@/api/queries'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useStationGround } from '@/shell/useGround'
import { day } from '@/texts/format'

/** The photographs of a visit side by side: a row for each treatment, a column for each block. */
const props = defineProps<{ trial: Trial; visit: string }>()
const { t } = useI18n()
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
const large = ref<SamplePhotograph | null>(null)
async function remove(one: SamplePhotograph) {
  await samplePhotographsApi.remove(props.visit, one.id)
  large.value = null
  await refetch()
}
</script>

<template>
  <p class="back">
    <router-link :to="{ name: 'visit', params: { visit } }">← {{ name || t('walk.visit') }}</router-link>
  </p>
  <h1>{{ t('walk.photos.title') }}</h1>
  <ProblemNote v-if="error && !data" :problem="error" :again="refetch" />
  <p v-else-if="!data" role="status">{{ t('app.loading') }}</p>
  <p v-else-if="!data.length" class="quiet">{{ t('walk.photos.none') }}</p>
  <div v-else class="scroll" tabindex="0" role="region" :aria-label="t('walk.photos.title')">
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
              @click="large = one"
            >
              <img :src="`/api/v1/photographs/${one.id}/preview`" alt="" loading="lazy" />
              <span>{{ said(one) }}</span>
            </button>
            <span v-if="!photographs.length" class="quiet">–</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <v-dialog
    :model-value="Boolean(large)"
    max-width="1100"
    :aria-label="large ? said(large) : ''"
    @update:model-value="large = null"
  >
    <div v-if="large" class="large">
      <h2>{{ said(large) }}</h2>
      <img :src="`/api/v1/photographs/${large.id}`" :alt="said(large)" />
      <p class="quiet">
        {{ [large.by, large.taken ? day(large.taken.slice(0, 10)) : ''].filter(Boolean).join(', ') }}
      </p>
      <p class="acts">
        <button type="button" class="pill" @click="large = null">{{ t('walk.photos.close') }}</button>
        <button v-if="mayRecord" type="button" class="link-button" @click="remove(large)">
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
td button {
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
td img {
  width: 168px;
  height: 126px;
  object-fit: cover;
  border-radius: 6px;
}
.large {
  background: var(--paper);
  color: var(--ink);
  border-radius: 12px;
  padding: 18px;
}
.large img {
  width: 100%;
  max-height: 70vh;
  object-fit: contain;
}
.acts {
  display: flex;
  gap: 18px;
  align-items: center;
}
</style>
