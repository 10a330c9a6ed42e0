<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Kill } from '@/api/fieldLog'
import { trialQueries, type Season, type Trial } from '@/api/queries'
import { killQuery, type KillWindow } from '@/api/stages'
import { newId } from '@/parts/newId'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useStationGround } from '@/shell/useGround'
import { day } from '@/texts/format'

import OperationDialog from '../OperationDialog.vue'
import { rangeSaid } from '../range'
import SeasonTabs from '../SeasonTabs.vue'
import { emptyTrigger, type Preset } from '../trigger'
import AfterKill from './AfterKill.vue'
import KillPicture from './KillPicture.vue'
import SchoolTable from './SchoolTable.vue'

/** When to end each cover: the weeks around it on one axis, and what each choice means. */
const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const early = ref(28)
const typed = ref('28')
watch(typed, (now) => {
  const days = Number(now)
  if (Number.isInteger(days) && days > 0 && days <= 200) early.value = days
})
const { data: kills, error, refetch } = useQuery(computed(() => killQuery(props.trial.id, early.value)))
const { data: season } = useQuery(computed(() => trialQueries.season(props.trial.id)))
useStationGround(() => ({ title: t('ground.by.treatment'), unit: '', faces: {} }))
const mayRecord = computed(() => props.trial.may.includes('record'))
const chosen = ref('')
watch(kills, (now) => {
  if (now?.windows.length && !now.windows.some((one) => one.treatment === chosen.value))
    chosen.value = now.windows[0]!.treatment
})
const window = computed(() => kills.value?.windows.find((one) => one.treatment === chosen.value))
const treatment = computed(() => props.trial.treatments.find((one) => one.id === chosen.value))

const killSaid = computed(() => {
  const { day: on, early: from, late } = window.value?.kill ?? {}
  const range = rangeSaid(from, late)
  return (on ? day(on) : '') + (range ? ` (${range})` : '')
})

type Operation = Season['operations'][number]
const open = ref(false)
const editing = ref<{ id: string; was: Operation | null; preset: Preset }>({ id: '', was: null, preset: {} })
/** The kill that is planned, with another date; or a new one. Nothing is kept until the dialog is saved. */
function plan(preset: Preset, another = false) {
  const there = another
    ? undefined
    : season.value?.operations.find((one) => one.id === window.value?.kill?.id)
  const name = t('season.killName', { code: treatment.value?.code ?? '' })
  editing.value = {
    id: there?.id ?? newId(), was: there ?? null,
    preset: there ? preset : { kind: 'kill', name, treatments: [chosen.value], ...preset },
  } // prettier-ignore
  open.value = true
}
const AFTER = { early: () => -early.value, at_sowing: () => 0, after_sowing: () => 5 }
function useSchool(key: keyof typeof AFTER) {
  plan({ after: window.value?.crop?.id, days: String(AFTER[key]()) })
}
function useWay(way: KillWindow['ways'][number]) {
  if (way.key === 'calendar') return plan({ after: window.value?.crop?.id, days: String(-early.value) })
  if (way.key === 'height') return plan({ trigger: emptyTrigger('height') })
  plan({ trigger: emptyTrigger('stage') })
}
/** The other pass comes some days after the first. */
function secondPass() {
  plan(
    {
      name: t('kill.secondName', { code: treatment.value?.code ?? '' }),
      after: window.value?.kill?.id,
      days: '14',
    },
    true,
  )
}
/** Of a kill that left some alive: for those treatments alone. */
function secondAfter(kill: Kill) {
  plan(
    {
      name: t('kill.secondAfter', { name: kill.name }),
      treatments: kill.alive.map((one) => one.treatment),
      after: kill.operation,
      days: '14',
    },
    true,
  )
}
</script>

<template>
  <SeasonTabs />
  <h1>{{ t('kill.title') }}</h1>
  <ProblemNote v-if="error && !kills" :problem="error" :again="refetch" />
  <p v-else-if="!kills" role="status">{{ t('app.loading') }}</p>
  <p v-else-if="!kills.windows.length" class="quiet">{{ t('season.noCovers') }}</p>
  <template v-else>
    <KillPicture v-model="chosen" :trial="trial" :kills="kills" />
    <template v-if="window && season">
      <h2>{{ treatment?.name }}</h2>
      <p>
        {{
          window.kill?.day ? t('kill.planned', { name: window.kill.name, day: killSaid }) : t('kill.noKill')
        }}
        {{ window.crop?.day ? t('kill.cropOn', { day: day(window.crop.day) }) + '.' : '' }}
      </p>
      <ul v-if="window.notes.length || window.plants.some((one) => one.why_not)" class="notes">
        <li v-for="note in window.notes" :key="note">{{ note }}</li>
        <template v-for="plant in window.plants" :key="plant.name">
          <li v-if="plant.why_not">{{ plant.name }}: {{ plant.why_not }}</li>
        </template>
      </ul>
      <template v-if="window.schools.length">
        <div class="head">
          <h2>{{ t('kill.schools') }}</h2>
          <v-text-field
            v-model="typed"
            class="early"
            inputmode="numeric"
            :label="t('kill.earlyDays')"
            hide-details
          />
        </div>
        <SchoolTable :kills="kills" :window="window" :may-record="mayRecord" @use="useSchool" />
      </template>
      <h2>{{ t('kill.ways') }}</h2>
      <ul class="ways">
        <li v-for="way in window.ways" :key="way.key">
          <strong>{{ t(`kill.way.${way.key}`) }}</strong>
          <span class="when">{{ way.day ? day(way.day) : t('season.noForecast') }}</span>
          <span class="quiet">{{ rangeSaid(way.early, way.late) }}</span>
          <span class="said">{{ way.said }} {{ way.day ? '' : way.why.join(' ') }}</span>
          <button v-if="mayRecord" type="button" class="pill" @click="useWay(way)">
            {{ t(`kill.planBy.${way.key}`) }}
          </button>
        </li>
      </ul>
      <template v-if="window.planned">
        <h2>{{ t('kill.methods', { day: day(window.planned.day) }) }}</h2>
        <table class="plain methods">
          <tbody>
            <template v-for="plant in window.planned.plants" :key="plant.name">
              <tr v-for="one in plant.ways" :key="one.way">
                <td>{{ plant.name }}</td>
                <td>{{ t(`kill.method.${one.way}`) }}</td>
                <td :class="['effect', one.effect]">{{ t(`kill.effect.${one.effect}`) }}</td>
                <td>{{ one.why }}</td>
              </tr>
            </template>
          </tbody>
        </table>
        <p v-if="!window.planned.plants.some((one) => one.ways.length)" class="quiet">
          {{ t('kill.noMethods') }}
        </p>
        <div v-for="note in window.second_pass" :key="note" class="second">
          <strong>{{ note }}</strong>
          <button v-if="mayRecord" type="button" class="pill" @click="secondPass()">
            {{ t('kill.second') }}
          </button>
        </div>
      </template>
      <template v-if="window.frost.length">
        <h2>{{ t('kill.frost') }}</h2>
        <ul class="notes">
          <li v-for="note in window.frost" :key="note">{{ note }}</li>
        </ul>
      </template>
    </template>
  </template>
  <template v-if="season">
    <AfterKill :trial="trial" :season="season" @second="secondAfter" />
    <OperationDialog
      v-model="open"
      :trial="trial"
      :season="season"
      :id="editing.id"
      :was="editing.was"
      :preset="editing.preset"
    />
  </template>
</template>

<style scoped>
h2 {
  font-size: 17px;
  margin: 18px 0 4px;
}
p {
  margin: 2px 0 6px;
}
.notes {
  margin: 0 0 8px;
  padding-left: 18px;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: end;
  gap: 20px;
  margin-bottom: 10px;
}
.early {
  max-width: 270px;
  min-width: 250px;
}
@media (max-width: 720px) {
  .head {
    display: block;
  }
}
.ways {
  list-style: none;
  padding: 0;
  margin: 0;
}
.ways li {
  display: grid;
  grid-template-columns: 100px 110px 200px minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  padding: 7px 0;
  border-top: 1px solid var(--rule);
}
.methods td:first-child {
  white-space: nowrap;
}
.methods td {
  padding-right: 16px;
}
.effect {
  font-weight: 700;
  white-space: nowrap;
}
.effect.kills {
  color: var(--gain);
}
.effect.fails {
  color: var(--loss);
}
.effect.partly {
  color: var(--unsettled);
}
.second {
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
  align-items: center;
  margin-top: 10px;
}
@media (max-width: 720px) {
  .ways li {
    grid-template-columns: 1fr 1fr;
  }
  .ways .said {
    grid-column: span 2;
  }
}
</style>
