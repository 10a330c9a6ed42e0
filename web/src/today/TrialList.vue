<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, sessionQuery, trialQueries, type TrialLine } from '@/api/queries'
import ProblemNote from '@/parts/ProblemNote.vue'
import { day } from '@/texts/format'

/** Trials, newest first: found by words, parted by stage, archived ones apart. */
const props = defineProps<{ search: string }>()
const { t } = useI18n()
const queries = useQueryClient()
const archived = ref(false)
const stage = ref<TrialLine['stage'] | ''>('')
const { data: session } = useQuery(sessionQuery)
const { data, error, refetch } = useQuery(
  computed(() => ({ ...trialQueries.list(props.search, archived.value), placeholderData: keepPreviousData })),
)
const all = computed(() => data.value?.results ?? [])
const STAGES = ['plan', 'season', 'walk', 'read'] as const
const counts = computed(() =>
  STAGES.map((one) => ({ one, n: all.value.filter((trial) => trial.stage === one).length })).filter(
    ({ n }) => n,
  ),
)
const shown = computed(() => all.value.filter((trial) => !stage.value || trial.stage === stage.value))
/** A name that stands twice is told apart by when the trial was made. */
const twice = computed(() => {
  const seen = all.value.map((trial) => trial.name)
  return new Set(seen.filter((name, i) => seen.indexOf(name) !== i))
})
const FEW = 6
const mayArchive = (trial: TrialLine) =>
  session.value?.memberships.some((m) => m.workspace === trial.workspace && m.may.includes('plan'))
const {
  mutate: archive,
  isPending: busy,
  error: problem,
} = useMutation({
  mutationFn: async (trial: TrialLine) => {
    await api.archive(trial.id, !trial.archived_at)
    await queries.invalidateQueries({ queryKey: ['trials'] })
  },
})
function about(trial: TrialLine) {
  return [
    trial.site !== 'Not stated' && trial.site,
    trial.years,
    t('today.plots', { n: trial.plots }),
    t(`today.stage.${trial.stage}`),
    twice.value.has(trial.name) && t('today.madeOn', { date: day(trial.created_at.slice(0, 10)) }),
  ]
    .filter(Boolean)
    .join(' · ')
}
</script>

<template>
  <div
    v-if="counts.length > 1 || archived || all.length > FEW"
    class="stages"
    role="group"
    :aria-label="t('today.show')"
  >
    <button
      type="button"
      class="pill"
      :aria-pressed="!stage && !archived"
      @click="((stage = ''), (archived = false))"
    >
      {{ t('today.showAll') }}
    </button>
    <button
      v-for="{ one, n } in counts"
      :key="one"
      type="button"
      class="pill"
      :aria-pressed="stage === one"
      @click="stage = stage === one ? '' : one"
    >
      {{ t(`today.stage.${one}`) }} {{ n }}
    </button>
    <button
      type="button"
      class="pill"
      :aria-pressed="archived"
      @click="((archived = !archived), (stage = ''))"
    >
      {{ t('today.showArchived') }}
    </button>
  </div>
  <button v-else type="button" class="link-button small" @click="archived = true">
    {{ t('today.showArchived') }}
  </button>
  <ProblemNote v-if="error" :problem="error" :again="refetch" />
  <ProblemNote v-if="problem" :problem="problem" />
  <p v-if="!data && !error" role="status">{{ t('app.loading') }}</p>
  <p v-else-if="data && !shown.length" class="quiet">
    {{ archived ? t('today.noneArchived') : search ? t('today.noneFound', { s: search }) : t('today.none') }}
  </p>
  <ul class="trials" :class="{ many: shown.length > FEW }">
    <li v-for="trial in shown" :key="trial.id">
      <router-link :to="`/trials/${trial.id}/${trial.stage}`">
        <strong>{{ trial.name }}</strong>
        <span v-if="trial.question" class="asked">{{ trial.question }}</span>
        <span class="quiet">{{ about(trial) }}</span>
      </router-link>
      <button
        v-if="mayArchive(trial)"
        type="button"
        class="link-button small"
        :disabled="busy"
        :aria-label="`${t(trial.archived_at ? 'today.restore' : 'today.archive')}: ${trial.name}`"
        @click="archive(trial)"
      >
        {{ t(trial.archived_at ? 'today.restore' : 'today.archive') }}
      </button>
    </li>
  </ul>
  <p v-if="data && data.count > all.length" class="quiet">
    {{ t('today.moreTrials', { n: all.length, of: data.count }) }}
  </p>
</template>

<style scoped>
.stages {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.trials {
  list-style: none;
  padding: 0;
  margin: 8px 0;
}
li {
  position: relative;
}
li a {
  display: flex;
  flex-direction: column;
  padding: 12px 96px 12px 14px;
  margin-bottom: 8px;
  border: 1px solid var(--rule);
  border-left: 5px solid var(--band);
  border-radius: 0 8px 8px 0;
  color: var(--ink);
  text-decoration: none;
  background: var(--ground);
}
li a:hover {
  border-left-color: var(--accent);
}
li > .link-button {
  position: absolute;
  top: 8px;
  right: 12px;
}
.many a {
  padding-block: 7px;
  margin-bottom: 5px;
}
.many .asked {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
