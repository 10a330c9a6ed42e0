<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { trialQueries, type Trial } from '@/api/queries'
import { weatherQuery } from '@/api/weather'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useStationGround } from '@/shell/useGround'
import { day, figure } from '@/texts/format'

import SeasonTabs from '../SeasonTabs.vue'
import DayDialog from './DayDialog.vue'
import DayTable from './DayTable.vue'
import StationChoice from './StationChoice.vue'
import WeatherFile from './WeatherFile.vue'

/** The weather at the trial's site: where it comes from, what is missing, what the season had, and each day. */
const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const { data: weather, error, refetch } = useQuery(computed(() => weatherQuery(props.trial.id)))
const { data: season } = useQuery(computed(() => trialQueries.season(props.trial.id)))
useStationGround(() => ({ title: t('ground.by.treatment'), unit: '', faces: {} }))

const mayRecord = computed(() => props.trial.may.includes('record'))
const sowings = computed(() => (season.value?.operations ?? []).filter((one) => one.rain_after.length))
const entering = ref(false)
const which = ref('')
function enter(at: string) {
  which.value = at
  entering.value = true
}
</script>

<template>
  <SeasonTabs />
  <h1>{{ t('weather.title') }}</h1>
  <ProblemNote v-if="error && !weather" :problem="error" :again="refetch" />
  <p v-else-if="!weather" role="status">{{ t('app.loading') }}</p>
  <template v-else>
    <StationChoice :trial="trial" :weather="weather" :may-record="mayRecord" />
    <template v-if="weather.station">
      <section v-if="weather.summary" :aria-label="t('weather.season')">
        <h2>
          {{ t('weather.since', { from: day(weather.summary.first), to: day(weather.summary.last) }) }}
        </h2>
        <ul class="said">
          <li v-for="sentence in weather.summary.sentences" :key="sentence">{{ sentence }}</li>
        </ul>
        <p v-if="!weather.summary.sentences.length">{{ t('weather.nothing') }}</p>
        <p class="quiet small">
          {{ weather.normals_from ? t('weather.normals', weather.normals_from) : t('weather.noNormals') }}
        </p>
      </section>
      <section v-if="sowings.length">
        <h2>{{ t('weather.afterSowing') }}</h2>
        <table class="plain rain">
          <thead>
            <tr>
              <th scope="col">{{ t('weather.sowing') }}</th>
              <th v-for="one in sowings[0]!.rain_after" :key="one.days" scope="col" class="right">
                {{ t('weather.window', { n: one.days, unit: weather.rain_unit }) }}
              </th>
              <th scope="col">{{ t('weather.warmth') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in sowings" :key="one.id">
              <td>{{ one.name }}, {{ day(one.done!) }}</td>
              <td v-for="after in one.rain_after" :key="after.days" class="right">
                {{ after.rain === null ? t('weather.unknown') : figure(after.rain, 1) }}
              </td>
              <td>{{ one.warmth || t('weather.unknown') }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="weather.missing_days">
        <h2>{{ t('weather.missing', weather.missing_days) }}</h2>
        <p class="quiet small">{{ t('weather.missingLead') }}</p>
        <ul class="runs">
          <li v-for="run in weather.missing" :key="run.first">
            {{
              run.days === 1
                ? day(run.first)
                : t('weather.run', { from: day(run.first), to: day(run.last), n: run.days })
            }}
            <button v-if="mayRecord" type="button" class="link-button" @click="enter(run.first)">
              {{ t('weather.enterThis', { day: day(run.first) }) }}
            </button>
          </li>
        </ul>
      </section>
      <section v-if="mayRecord">
        <h2>{{ t('weather.add') }}</h2>
        <div class="acts">
          <button type="button" class="pill" @click="enter(weather.today)">
            {{ t('weather.enterDay') }}
          </button>
        </div>
        <WeatherFile :trial="trial" />
      </section>
      <section>
        <h2>{{ t('weather.days') }}</h2>
        <DayTable :weather="weather" :may-record="mayRecord" @enter="enter" />
      </section>
      <DayDialog v-model="entering" :trial="trial" :weather="weather" :day="which" />
    </template>
  </template>
</template>

<style scoped>
section {
  margin: 0 0 26px;
}
h2 {
  font-size: 17px;
  margin: 0 0 6px;
}
.said,
.runs {
  margin: 0;
  padding-left: 18px;
}
.rain {
  width: auto;
}
.rain th,
.rain td {
  padding-right: 22px;
}
.acts {
  margin-bottom: 10px;
}
</style>
