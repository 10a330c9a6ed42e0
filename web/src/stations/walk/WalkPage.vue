<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { trialQueries, type Season, type Trial } from '@/api/queries'
import { newId } from '@/parts/newId'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useStationGround } from '@/shell/useGround'
import { day } from '@/texts/format'

import SeriesDialog from './SeriesDialog.vue'
import VisitDialog from './VisitDialog.vue'

const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const { data: season, error, refetch } = useQuery(computed(() => trialQueries.season(props.trial.id)))
useStationGround(() => ({ title: t('ground.by.treatment'), unit: '', faces: {} }))

const mayPlan = computed(() => props.trial.may.includes('plan'))
const open = ref(false)
const editing = ref<{ id: string; was: Season['visits'][number] | null }>({ id: '', was: null })
const names = computed(() => new Map(props.trial.measures.map((m) => [m.id, m.name])))
const taken = computed(() => new Set((season.value?.visits ?? []).flatMap((visit) => visit.measures)))
const free = computed(() => props.trial.measures.filter((m) => !taken.value.has(m.id)))

function plan(was: Season['visits'][number] | null = null) {
  editing.value = { id: was?.id ?? newId(), was }
  open.value = true
}
const series = ref('')
const severally = ref(false)
function planSeries() {
  series.value = newId()
  severally.value = true
}
function when(visit: Season['visits'][number]): string {
  if (visit.date) return t('walk.walkedOn', { date: day(visit.date) })
  return visit.due ? t('walk.dueOn', { date: day(visit.due) }) : t('walk.noDate')
}
</script>

<template>
  <h1>{{ t('walk.title') }}</h1>
  <ProblemNote v-if="error && !season" :problem="error" :again="refetch" />
  <p v-else-if="!season" role="status">{{ t('app.loading') }}</p>
  <template v-else>
    <p v-if="!season.visits.length" class="quiet">{{ t('walk.empty') }}</p>
    <ul class="visits">
      <li v-for="visit in season.visits" :key="visit.id" :class="visit.state">
        <router-link class="open" :to="{ name: 'visit', params: { visit: visit.id } }">
          <strong>{{ visit.name }}</strong>
          <span>{{ visit.measures.map((id) => names.get(id)).join(', ') || t('walk.noMeasures') }}</span>
          <span class="quiet">{{
            [when(visit), visit.hangs_on, visit.observers.join(', ')].filter(Boolean).join(', ')
          }}</span>
        </router-link>
        <span class="how">
          <strong>{{ t('walk.progress', { d: visit.progress.done, n: visit.progress.of }) }}</strong>
          <progress
            :value="visit.progress.done"
            :max="Math.max(1, visit.progress.of)"
            :aria-label="t('walk.progress', { d: visit.progress.done, n: visit.progress.of })"
          />
          <span class="state">{{ t(`season.state.${visit.state}`) }}</span>
        </span>
        <button
          v-if="mayPlan"
          type="button"
          class="link-button"
          :aria-label="`${t('walk.change')}: ${visit.name}`"
          @click="plan(visit)"
        >
          {{ t('walk.change') }}
        </button>
      </li>
    </ul>
    <template v-if="mayPlan">
      <v-btn :color="free.length ? 'accent' : undefined" @click="plan()">{{ t('walk.planVisit') }}</v-btn>
      <button v-if="trial.measures.length" type="button" class="pill several" @click="planSeries">
        {{ t('walk.series.title') }}
      </button>
      <p v-if="free.length" class="quiet free">
        {{ t('walk.free', { names: free.map((m) => m.name).join(', ') }) }}
      </p>
    </template>
    <SeriesDialog v-if="series" :id="series" v-model="severally" :trial="trial" :season="season" />
    <VisitDialog
      v-model="open"
      :id="editing.id"
      :trial="trial"
      :was="editing.was"
      :free="free"
      :crew="season.crew"
      :placements="season.placements"
    />
  </template>
</template>

<style scoped>
.visits {
  list-style: none;
  padding: 0;
  margin: 10px 0 20px;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 200px 70px;
  gap: 16px;
  align-items: center;
  border: 1px solid var(--rule);
  border-left: 5px solid var(--band);
  border-radius: 0 10px 10px 0;
  background: var(--ground);
  margin-bottom: 8px;
  padding-right: 12px;
}
li.overdue,
li.due,
li.begun,
li.conflict {
  border-left-color: var(--accent);
}
.open {
  display: flex;
  flex-direction: column;
  padding: 10px 14px;
  color: var(--ink);
  text-decoration: none;
}
.open strong {
  font-size: 16px;
}
.how {
  display: flex;
  flex-direction: column;
  gap: 2px;
}
progress {
  width: 100%;
  height: 8px;
  accent-color: var(--gain);
}
.several {
  margin-left: 12px;
}
.free {
  margin-top: 8px;
}
@media (max-width: 720px) {
  li {
    grid-template-columns: minmax(0, 1fr) 80px;
    gap: 4px 12px;
  }
  .open {
    grid-column: span 2;
    padding-bottom: 2px;
  }
  .how {
    padding: 0 0 8px 14px;
  }
}
</style>
