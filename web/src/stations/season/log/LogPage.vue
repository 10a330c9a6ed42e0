<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'

import { fieldLogApi, logQuery, type LogEntry } from '@/api/fieldLog'
import type { Trial } from '@/api/queries'
import type { PlotFace } from '@/ground/GroundMap.vue'
import type { OutboxItem } from '@/offline/changes'
import { keepPhotographs } from '@/offline/keepLogEntry'
import { useOutbox } from '@/offline/useOutbox'
import { newId } from '@/parts/newId'
import PhotographRow from '@/parts/PhotographRow.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useStationGround } from '@/shell/useGround'
import { day } from '@/texts/format'

import SeasonTabs from '../SeasonTabs.vue'
import LogEntryDialog from './LogEntryDialog.vue'

/** Notes, troubles and decisions, the newest first; plots that a trouble marks stand out on the map. */
const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const route = useRoute()
const queries = useQueryClient()
const { data: log, error, refetch } = useQuery(computed(() => logQuery(props.trial.id)))
const faces = computed(() => {
  const found: Record<string, PlotFace> = {}
  for (const one of log.value?.entries ?? []) {
    if (one.effect === 'none') continue
    for (const plot of props.trial.plots)
      if (one.plots.includes(plot.label) || one.treatments.includes(plot.treatment))
        if (found[plot.label]?.state !== 'lost') found[plot.label] = { state: one.effect }
  }
  return found
})
useStationGround(() => ({ title: t('log.map'), unit: '', faces: faces.value }))

const KINDS = ['trouble', 'note', 'decision'] as const
const mayRecord = computed(() => props.trial.may.includes('record'))
const open = ref(false)
const editing = ref<{ id: string; was: LogEntry | null; kind: LogEntry['kind'] }>({
  id: '',
  was: null,
  kind: 'note',
})
function write(kind: LogEntry['kind'], was: LogEntry | null = null) {
  editing.value = { id: was?.id ?? newId(), was, kind }
  open.value = true
}
/** A link may come with the wish to add one. */
watch(
  log,
  (now, before) => {
    const add = KINDS.find((kind) => kind === route.query.add)
    if (now && !before && add && mayRecord.value) write(add)
  },
  { immediate: true },
)
function titleOf(one: LogEntry): string {
  if (one.kind === 'trouble' && one.trouble) return t(`log.trouble.${one.trouble}`)
  if (one.kind === 'decision' && one.decision)
    return t('log.decided', { what: t(`log.decision.${one.decision}`) })
  return t('log.kind.note')
}
function whereOf(one: LogEntry): string {
  const codes = props.trial.treatments.filter((t) => one.treatments.includes(t.id)).map((t) => t.code)
  const plots = one.plots.length
    ? t('season.forPlots', { plots: one.plots.join(', ') }, one.plots.length)
    : ''
  return [codes.join(', '), plots].filter(Boolean).join(', ') || t('season.wholeTrial')
}
const problem = shallowRef<Error | null>(null)
const asked = ref<LogEntry | null>(null)
/** What can't be restored is asked about first. */
function remove(one: LogEntry) {
  if (one.photographs.length) asked.value = one
  else void tried(() => fieldLogApi.forget(props.trial.id, one.id))
}
function removeAsked() {
  const { id } = asked.value!
  asked.value = null
  void tried(() => fieldLogApi.forget(props.trial.id, id))
}
async function tried(act: () => Promise<unknown>) {
  problem.value = null
  try {
    await act()
  } catch (thrown) {
    problem.value = thrown as Error
  }
  await queries.invalidateQueries({ queryKey: ['trials'] })
}
const addPhotographs = (entry: string, files: File[]) =>
  tried(() => keepPhotographs(props.trial, entry, files))
const outbox = useOutbox()
const sending = computed(() => {
  const found: Record<string, OutboxItem[]> = {}
  for (const item of outbox.value?.items ?? [])
    if (item.change.kind === 'photograph') (found[item.change.entry] ??= []).push(item)
  return found
})
const waitingOf = (entry: string) => (sending.value[entry] ?? []).filter((item) => !item.refused).length
const refusedOf = (entry: string) => (sending.value[entry] ?? []).filter((item) => item.refused)
</script>

<template>
  <SeasonTabs />
  <h1>{{ t('log.title') }}</h1>
  <ProblemNote v-if="error && !log" :problem="error" :again="refetch" />
  <p v-else-if="!log" role="status">{{ t('app.loading') }}</p>
  <template v-else>
    <div v-if="mayRecord" class="acts">
      <button
        v-for="kind in KINDS"
        :key="kind"
        type="button"
        :class="kind === 'trouble' ? 'pill first' : 'pill'"
        @click="write(kind)"
      >
        {{ t(`log.add.${kind}`) }}
      </button>
    </div>
    <p v-if="!log.entries.length" class="quiet">{{ t('log.empty') }}</p>
    <ol class="entries">
      <li
        v-for="one in log.entries"
        :id="one.id"
        :key="one.id"
        :class="{ here: route.hash === `#${one.id}` }"
      >
        <span class="date">{{ day(one.day) }}</span>
        <div>
          <strong>{{ titleOf(one) }}</strong>
          <span class="quiet">{{ ` ${whereOf(one)}, ${one.by}` }}</span>
          <strong v-if="one.effect !== 'none'" class="effect">{{
            t(`log.effectShort.${one.effect}`)
          }}</strong>
          <p v-if="one.text">{{ one.text }}</p>
          <p v-if="one.rule" class="small">{{ t('log.ruleWas', { rule: one.rule }) }}</p>
          <p v-if="one.known" class="small">{{ t('log.knownWas', { known: one.known }) }}</p>
          <PhotographRow
            :photographs="one.photographs"
            :may-remove="mayRecord"
            :about="`${titleOf(one)}, ${whereOf(one)}, ${day(one.day)}`"
            @remove="(id) => tried(() => fieldLogApi.removePhotograph(trial.id, one.id, id))"
          />
          <p v-if="waitingOf(one.id)" class="quiet small" role="status">
            {{ t('photographs.waiting', waitingOf(one.id)) }}
          </p>
          <p v-for="item in refusedOf(one.id)" :key="item.seq" class="refused" role="alert">
            {{ item.about }}. {{ item.refused }}
            <button type="button" class="link-button" @click="outbox?.drop(item)">
              {{ t('outbox.discard') }}
            </button>
          </p>
        </div>
        <span v-if="mayRecord" class="tools">
          <button type="button" class="link-button" @click="write(one.kind, one)">
            {{ t('log.change') }}
          </button>
          <button type="button" class="link-button" @click="remove(one)">{{ t('log.remove') }}</button>
        </span>
      </li>
    </ol>
    <ProblemNote v-if="problem" :problem="problem" />
    <LogEntryDialog
      v-model="open"
      :trial="trial"
      :log="log"
      :id="editing.id"
      :was="editing.was"
      :kind="editing.kind"
      @photographs="addPhotographs"
    />
    <SheetDialog
      v-if="asked"
      :model-value="true"
      :title="t('photographs.removeEntry')"
      :act="t('photographs.removeEntry')"
      :cancel="t('margin.cancel')"
      :problem="null"
      @act="removeAsked"
      @update:model-value="asked = null"
    >
      <p>{{ t('photographs.removeWith', asked.photographs.length) }}</p>
    </SheetDialog>
  </template>
</template>

<style scoped>
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-bottom: 12px;
}
.first {
  border-color: var(--accent);
  color: var(--accent);
  font-weight: 700;
}
.entries {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 104px minmax(0, 1fr) auto;
  gap: 12px;
  padding: 9px 0;
  border-top: 1px solid var(--rule);
}
.here {
  background: var(--ground);
  box-shadow: inset 4px 0 var(--accent);
  padding-left: 10px;
}
p {
  margin: 3px 0 0;
}
.refused {
  color: var(--loss);
}
.effect {
  margin-left: 8px;
  color: var(--unsettled);
}
.tools {
  display: flex;
  gap: 14px;
}
@media (max-width: 720px) {
  li {
    grid-template-columns: 1fr;
    gap: 2px;
  }
}
</style>
