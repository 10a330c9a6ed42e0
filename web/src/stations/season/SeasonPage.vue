<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'

import { changedMeanwhile } from '@/api/client'
import { trialQueries, type Season, type Trial } from '@/api/queries'
import { keepOperation } from '@/offline/keepOperation'
import { useOutbox } from '@/offline/useOutbox'
import { newId } from '@/parts/newId'
import CalendarDialog from '@/calendar/CalendarDialog.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useStationGround } from '@/shell/useGround'
import { day } from '@/texts/format'

import KillDates from './KillDates.vue'
import OperationDialog from './OperationDialog.vue'
import { rangeSaid } from './range'
import SeasonTabs from './SeasonTabs.vue'
import { detailsBody, detailsOf } from './details'
import { closingBody, draftOf, triggerBody } from './trigger'

const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const route = useRoute()
const queries = useQueryClient()
const { data: season, error, refetch } = useQuery(computed(() => trialQueries.season(props.trial.id)))
/** Plots that a label keeps closed are marked on the map. */
const closed = computed(() => season.value?.closed ?? [])
useStationGround(() => ({
  title: t(closed.value.length ? 'season.closedMap' : 'ground.by.treatment'), unit: '',
  faces: Object.fromEntries(closed.value.map((one) => [one.plot, { figure: t('season.closed') }])),
})) // prettier-ignore

type Operation = Season['operations'][number]
const mayRecord = computed(() => props.trial.may.includes('record'))
const open = ref(false)
const killing = ref(false)
const calendar = ref(false)
const editing = ref<{ id: string; was: Operation | null }>({ id: '', was: null })
const problem = ref<Error | null>(null)

const lines = computed(() => {
  const visits = (season.value?.visits ?? []).map((v) => ({
    kind: 'visit' as const,
    id: v.id,
    date: v.date ?? v.due,
    v,
  }))
  const operations = (season.value?.operations ?? []).map((o) => ({
    kind: 'operation' as const, id: o.id, date: o.done ?? o.due, o,
  })) // prettier-ignore
  return [...visits, ...operations].sort((a, b) => (a.date ?? '9').localeCompare(b.date ?? '9'))
})

function plan(operation?: Operation) {
  editing.value = {
    id: operation?.id ?? newId(),
    was: operation ?? null,
  }
  open.value = true
}
async function doneToday(operation: Operation) {
  problem.value = null
  try {
    const { kind, name, note, after, after_days, treatments, plots } = operation
    const due = after || operation.trigger ? null : operation.due
    const body = {
      kind, name, due, note, after, after_days, treatments, plots, ...detailsBody(detailsOf(operation), kind),
      trigger: triggerBody(draftOf(operation.trigger, 'date')), closes: closingBody(draftOf(operation.closes, 'none')),
      done: season.value!.today,
    } // prettier-ignore
    await keepOperation(props.trial, operation.id, body, operation.etag)
    await queries.invalidateQueries({ queryKey: ['trials'] })
  } catch (thrown) {
    problem.value = thrown as Error
    if (changedMeanwhile(thrown)) await refetch()
  }
}
/** Operations whose change waits on this device, also new ones that the server doesn’t know yet. */
const outbox = useOutbox()
const waiting = computed(
  () =>
    new Set(
      (outbox.value?.items ?? []).flatMap(({ change }) =>
        change.kind === 'operation' && change.trial === props.trial.id ? [change.id] : [],
      ),
    ),
)
watch(
  () => waiting.value.size,
  (now, before) => now < before && void queries.invalidateQueries({ queryKey: ['trials'] }),
)
/** What an operation waits for, and what it is for, where that isn’t the whole trial. */
function hangsOn(operation: Operation): string {
  if (operation.trigger) return operation.trigger.said
  const name = season.value!.operations.find((one) => one.id === operation.after)?.name
  if (!name) return ''
  const n = operation.after_days
  if (!n) return t('season.sameDay', { name })
  return t(n > 0 ? 'season.hangsOn' : 'season.hangsBefore', { n: Math.abs(n), name }, Math.abs(n))
}
function scopeOf(operation: Operation): string {
  const codes = props.trial.treatments.filter((one) => operation.treatments.includes(one.id))
  if (codes.length) return codes.map((one) => one.code).join(', ')
  return operation.plots.length
    ? t('season.forPlots', { plots: operation.plots.join(', ') }, operation.plots.length)
    : ''
}
/** What moved with another operation since the page was opened or the last change was looked at. */
const moves = ref<string[]>([])
watch(season, (now, before) => {
  if (!now || !before) return
  const was = new Map(before.operations.map((one) => [one.id, one.due]))
  const found = now.operations.filter((one) => one.after && was.has(one.id) && was.get(one.id) !== one.due)
  if (found.length)
    moves.value = found.map((one) =>
      t('season.movedOne', {
        name: one.name, from: was.get(one.id) ? day(was.get(one.id)!) : '–', to: one.due ? day(one.due) : '–',
      }),
    ) // prettier-ignore
})
const hangs = (line: (typeof lines.value)[number]) => line.kind === 'operation' && Boolean(line.o.trigger)
/** Whether the work is near enough that its caution stands open. */
const near = (state: string) => ['overdue', 'due', 'soon'].includes(state)
</script>

<template>
  <SeasonTabs />
  <h1>{{ t('season.title') }}</h1>
  <ProblemNote v-if="error && !season" :problem="error" :again="refetch" />
  <p v-else-if="!season" role="status">{{ t('app.loading') }}</p>
  <template v-else>
    <p v-if="closed.length" class="aside grave" role="status">
      {{
        t('season.closedLead', { plots: closed.map((one) => `${one.plot} (${day(one.until)})`).join(', ') })
      }}
    </p>
    <p v-if="!lines.length" class="quiet">{{ t('season.empty') }}</p>
    <ol class="lines">
      <li v-for="line in lines" :id="line.id" :key="line.id" :class="{ here: route.hash === `#${line.id}` }">
        <span class="date"
          >{{ line.date ? day(line.date) : t(hangs(line) ? 'season.noForecast' : 'season.undated') }}
          <span v-if="line.kind === 'operation' && !line.o.done" class="quiet small range">{{
            rangeSaid(line.o.early, line.o.late)
          }}</span></span
        >
        <template v-if="line.kind === 'visit'">
          <span class="what">
            <router-link :to="{ name: 'visit', params: { visit: line.v.id } }">{{ line.v.name }}</router-link>
            <span class="quiet small">
              {{ t('season.visit') }} ·
              {{ t('walk.progress', { d: line.v.progress.done, n: line.v.progress.of }) }}</span
            >
            <strong v-for="warning in line.v.watched" :key="warning" class="warning small">{{
              warning
            }}</strong>
            <details v-if="line.v.state !== 'done'" class="caution small">
              <summary>{{ t('season.caution') }}</summary>
              {{ line.v.caution }}
            </details>
          </span>
          <span class="state" :class="line.v.state">{{ t(`season.state.${line.v.state}`) }}</span>
          <span />
        </template>
        <template v-else>
          <span class="what">
            <button v-if="mayRecord" type="button" class="link-button" @click="plan(line.o)">
              {{ line.o.name }}
            </button>
            <strong v-else>{{ line.o.name }}</strong>
            <span class="quiet small">
              {{
                [
                  t(`season.kind.${line.o.kind}`),
                  hangsOn(line.o),
                  scopeOf(line.o),
                  line.o.zones.length ? t('season.onlyIn', { zones: line.o.zones.join(', ') }) : '',
                  line.o.amount,
                  line.o.note,
                ]
                  .filter(Boolean)
                  .join(' · ')
              }}</span
            >
            <details v-if="line.o.why.length && !line.o.done" class="small">
              <summary>{{ t('season.forecastHow') }}</summary>
              <p v-for="why in line.o.why" :key="why">{{ why }}</p>
            </details>
            <span v-if="line.o.closes_day && !line.o.done" class="small">{{
              t('season.closesOn', { day: day(line.o.closes_day) })
            }}</span>
            <span v-for="found in line.o.found" :key="found" class="small">{{ found }}</span>
            <strong
              v-for="warning in [line.o.warning, ...line.o.watched].filter(Boolean)"
              :key="warning"
              class="warning small"
              >{{ warning }}</strong
            >
            <details
              v-if="line.o.caution && line.o.state !== 'done'"
              class="caution small"
              :open="near(line.o.state)"
            >
              <summary>{{ t('season.caution') }}</summary>
              {{ line.o.caution }}
            </details>
          </span>
          <span class="state" :class="waiting.has(line.id) ? 'soon' : line.o.state">{{
            waiting.has(line.id) ? t('season.waits') : t(`season.state.${line.o.state}`)
          }}</span>
          <button
            v-if="mayRecord && !waiting.has(line.id) && line.o.state !== 'done'"
            type="button"
            class="pill"
            :aria-label="`${t('season.doneToday')}: ${line.o.name}`"
            @click="doneToday(line.o)"
          >
            {{ t('season.doneToday') }}
          </button>
          <span v-else />
        </template>
      </li>
    </ol>
    <p v-if="moves.length" class="aside" role="status">
      {{ t('season.moved', { list: moves.join('; ') }) }}
    </p>
    <p v-if="waiting.size" class="aside" role="status">{{ t('season.waitLead', waiting.size) }}</p>
    <ProblemNote v-if="problem" :problem="problem" />
    <div class="acts">
      <v-btn v-if="mayRecord" color="accent" @click="plan()">{{ t('season.add') }}</v-btn>
      <button v-if="mayRecord" type="button" class="pill" @click="killing = true">
        {{ t('season.killDates') }}
      </button>
      <router-link v-if="trial.may.includes('plan')" :to="{ name: 'walk' }">{{
        t('season.toWalk')
      }}</router-link>
      <button type="button" class="link-button" @click="calendar = true">{{ t('calendar.open') }}</button>
    </div>
    <OperationDialog v-model="open" :trial="trial" :id="editing.id" :was="editing.was" :season="season" />
    <KillDates v-model="killing" :trial="trial" :season="season" />
    <CalendarDialog v-model="calendar" :trial="trial" />
  </template>
</template>

<style scoped>
.lines {
  list-style: none;
  padding: 0;
  margin: 10px 0 20px;
}
li {
  display: grid;
  grid-template-columns: 116px minmax(0, 1fr) 104px 120px;
  gap: 12px;
  align-items: center;
  padding: 9px 0;
  border-top: 1px solid var(--rule);
}
.here {
  background: var(--ground);
  box-shadow: inset 4px 0 var(--accent);
  padding-left: 10px;
}
.what {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
}
.what a,
.what .link-button {
  font-weight: 650;
}
.state.overdue,
.state.due {
  color: var(--accent);
  font-weight: 700;
}
.state.begun,
.state.conflict {
  color: var(--unsettled);
  font-weight: 700;
}
.caution {
  max-width: 560px;
  color: var(--unsettled);
}
.range {
  display: block;
}
.warning {
  color: var(--unsettled);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 20px;
  align-items: center;
}
@media (max-width: 720px) {
  li {
    grid-template-columns: 1fr 1fr;
  }
  .what {
    grid-column: span 2;
    order: -1;
  }
  .what a {
    padding: 15px 0;
  }
}
</style>
