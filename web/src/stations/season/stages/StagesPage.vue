<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'

import type { Trial } from '@/api/queries'
import { stagesApi, stagesQuery, type Stages } from '@/api/stages'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useStationGround } from '@/shell/useGround'
import { day } from '@/texts/format'

import { rangeSaid } from '../range'
import SeasonTabs from '../SeasonTabs.vue'
import StageDialog from './StageDialog.vue'

/** Growth stages of each treatment: the last that was seen, the next with their dates, and all that was entered. */
const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const queries = useQueryClient()
const { data: stages, error, refetch } = useQuery(computed(() => stagesQuery(props.trial.id)))
useStationGround(() => ({ title: t('ground.by.treatment'), unit: '', faces: {} }))

type Stand = Stages['stands'][number]
const mayRecord = computed(() => props.trial.may.includes('record'))
const order = computed(() => new Map(props.trial.treatments.map((one, i) => [one.id, i])))
const codeOf = (treatment: string) => props.trial.treatments.find((one) => one.id === treatment)?.code ?? ''
const stands = computed(() =>
  [...(stages.value?.stands ?? [])].sort(
    (a, b) => (order.value.get(a.treatment) ?? 0) - (order.value.get(b.treatment) ?? 0),
  ),
)
/** What is the same in several treatments, such as a cash crop, stands once. */
const groups = computed(() => {
  const found = new Map<string, { stand: Stand; treatments: string[] }>()
  for (const stand of stands.value) {
    const key = JSON.stringify([stand.plant, stand.code, stand.day, stand.next])
    const group = found.get(key)
    if (group) group.treatments.push(stand.treatment)
    else found.set(key, { stand, treatments: [stand.treatment] })
  }
  return [...found.values()]
})
const entering = ref(false)
const of = ref<{ plant: string; treatment: string }>({ plant: '', treatment: '' })
function enter(stand?: Stand) {
  of.value = { plant: stand?.plant ?? '', treatment: stand?.treatment ?? '' }
  entering.value = true
}
/** A link may come with the wish to enter one. */
const route = useRoute()
watch(
  stages,
  (now, before) => {
    if (now && !before && route.query.add === 'stage' && mayRecord.value) enter()
  },
  { immediate: true },
)
function seenOf(plant: string, code: number) {
  return (
    stages.value?.plants.find((one) => one.key === plant)?.stages.find((one) => one.code === code) ?? null
  )
}
function nowOf(stand: Stand): string {
  if (stand.code === null || !stand.day) return t('stages.unknown')
  if (stand.code === 0) return t(stand.planned ? 'stages.toBeSown' : 'stages.sown', { day: day(stand.day) })
  const stage = seenOf(stand.plant, stand.code)
  const older = stage?.older ? ` (${t('stages.older', { old: stage.older })})` : ''
  return t('stages.seenOn', { code: stand.code, seen: stage?.seen ?? '', older, day: day(stand.day) })
}
const problem = shallowRef<Error | null>(null)
async function remove(id: string) {
  problem.value = null
  try {
    await stagesApi.forget(props.trial.id, id)
  } catch (thrown) {
    problem.value = thrown as Error
  }
  await queries.invalidateQueries({ queryKey: ['trials'] })
}
</script>

<template>
  <SeasonTabs />
  <h1>{{ t('stages.title') }}</h1>
  <ProblemNote v-if="error && !stages" :problem="error" :again="refetch" />
  <p v-else-if="!stages" role="status">{{ t('app.loading') }}</p>
  <template v-else>
    <v-btn v-if="mayRecord" color="accent" @click="enter()">{{ t('stages.enter') }}</v-btn>
    <p v-if="!stands.length" class="quiet">{{ t('stages.none') }}</p>
    <ul class="stands">
      <li v-for="{ stand, treatments } in groups" :key="stand.treatment + stand.plant">
        <div class="who">
          <TreatmentTag
            v-for="one in treatments"
            :key="one"
            :index="order.get(one) ?? 0"
            :code="codeOf(one)"
          />
          <strong>{{ stand.name }}</strong>
          <button
            v-if="mayRecord"
            type="button"
            class="link-button"
            :aria-label="`${t('stages.enter')}: ${stand.name}, ${codeOf(stand.treatment)}`"
            @click="enter(stand)"
          >
            {{ t('stages.enter') }}
          </button>
        </div>
        <p>{{ nowOf(stand) }}</p>
        <table v-if="stand.next.some((one) => one.day)" class="plain next">
          <tbody>
            <tr v-for="one in stand.next.filter((next) => next.day)" :key="one.code">
              <td class="right">{{ one.code }}</td>
              <td>{{ one.seen }}</td>
              <td class="when">{{ day(one.day!) }}</td>
              <td class="quiet">{{ rangeSaid(one.early, one.late) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-for="why in stand.next.find((one) => !one.day)?.why ?? []" :key="why" class="quiet small">
          {{ t('stages.then', { code: stand.next.find((one) => !one.day)!.code }) }} {{ why }}
        </p>
        <details v-if="stand.next.some((one) => one.day)">
          <summary>{{ t('stages.how') }}</summary>
          <p v-for="why in stand.next.filter((one) => one.day).at(-1)!.why" :key="why" class="small">
            {{ why }}
          </p>
        </details>
      </li>
    </ul>
    <ProblemNote v-if="problem" :problem="problem" />
    <template v-if="stages.seen.length">
      <h2>{{ t('stages.entered') }}</h2>
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">{{ t('stages.day') }}</th>
            <th scope="col">{{ t('stages.treatment') }}</th>
            <th scope="col">{{ t('stages.stage') }}</th>
            <th scope="col">{{ t('stages.by') }}</th>
            <th v-if="mayRecord" scope="col">
              <span class="seen-by-readers-only">{{ t('stages.remove') }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in stages.seen" :key="one.id">
            <td class="when">{{ day(one.day) }}</td>
            <td>
              {{ codeOf(one.treatment)
              }}<template v-if="one.plots.length"
                >, {{ t('season.forPlots', { plots: one.plots.join(', ') }, one.plots.length) }}</template
              >
            </td>
            <td>
              {{ one.code }} · {{ seenOf(one.plant, one.code)?.seen }}
              <span v-if="one.note" class="quiet"> · {{ one.note }}</span>
            </td>
            <td>{{ one.by }}</td>
            <td v-if="mayRecord">
              <button type="button" class="link-button" @click="remove(one.id)">
                {{ t('stages.remove') }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
    <p class="quiet small">{{ t('stages.scales') }}</p>
    <StageDialog v-model="entering" :trial="trial" :stages="stages" :of="of" />
  </template>
</template>

<style scoped>
.stands {
  list-style: none;
  padding: 0;
  margin: 12px 0 18px;
}
.stands li {
  border-top: 1px solid var(--rule);
  padding: 10px 0;
}
.who {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
p {
  margin: 4px 0;
}
.next {
  width: auto;
}
.next td {
  padding: 3px 18px 3px 0;
}
.when {
  white-space: nowrap;
}
h2 {
  font-size: 17px;
}
</style>
