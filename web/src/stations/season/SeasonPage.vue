<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'

import { changedMeanwhile } from '@/api/client'
import { trialQueries, type OperationIn, type Season, type Trial } from '@/api/queries'
import { keepOperation } from '@/offline/keepOperation'
import { useOutbox } from '@/offline/useOutbox'
import { newId } from '@/parts/newId'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useStationGround } from '@/shell/useGround'
import { day } from '@/texts/format'

import OperationDialog from './OperationDialog.vue'

const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const route = useRoute()
const queries = useQueryClient()
const { data: season, error, refetch } = useQuery(computed(() => trialQueries.season(props.trial.id)))
useStationGround(() => ({ title: t('ground.by.treatment'), unit: '', faces: {} }))

type Operation = Season['operations'][number]
const mayRecord = computed(() => props.trial.may.includes('record'))
const open = ref(false)
const editing = ref<{ id: string; was: OperationIn | null }>({ id: '', was: null })
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
    was: operation ? { ...operation } : null,
  }
  open.value = true
}
async function doneToday(operation: Operation) {
  problem.value = null
  try {
    const { kind, name, due, note } = operation
    const body = { kind, name, due, note, done: season.value!.today }
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
/** Whether the work is near enough that its caution stands open. */
const near = (state: string) => ['overdue', 'due', 'soon'].includes(state)
</script>

<template>
  <h1>{{ t('season.title') }}</h1>
  <ProblemNote v-if="error" :problem="error" :again="refetch" />
  <p v-else-if="!season" role="status">{{ t('app.loading') }}</p>
  <template v-else>
    <p v-if="!lines.length" class="quiet">{{ t('season.empty') }}</p>
    <ol class="lines">
      <li v-for="line in lines" :id="line.id" :key="line.id" :class="{ here: route.hash === `#${line.id}` }">
        <span class="date">{{ line.date ? day(line.date) : t('season.undated') }}</span>
        <template v-if="line.kind === 'visit'">
          <span class="what">
            <router-link :to="{ name: 'visit', params: { visit: line.v.id } }">{{ line.v.name }}</router-link>
            <span class="quiet small">
              {{ t('season.visit') }} ·
              {{ t('walk.progress', { d: line.v.progress.done, n: line.v.progress.of }) }}</span
            >
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
              {{ t(`season.kind.${line.o.kind}`)
              }}<template v-if="line.o.note"> · {{ line.o.note }}</template></span
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
    <p v-if="waiting.size" class="aside" role="status">{{ t('season.waitLead', waiting.size) }}</p>
    <ProblemNote v-if="problem" :problem="problem" />
    <div v-if="mayRecord" class="acts">
      <v-btn color="accent" @click="plan()">{{ t('season.add') }}</v-btn>
      <router-link v-if="trial.may.includes('plan')" :to="{ name: 'walk' }">{{
        t('season.toWalk')
      }}</router-link>
    </div>
    <OperationDialog
      v-model="open"
      :trial="trial"
      :id="editing.id"
      :was="editing.was"
      :today="season.today"
    />
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
  grid-template-columns: 104px minmax(0, 1fr) 110px 120px;
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
.acts {
  display: flex;
  gap: 20px;
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
