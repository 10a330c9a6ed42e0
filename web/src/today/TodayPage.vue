<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'

import { sessionQuery, todayQuery, trialQueries, type Due } from '@/api/queries'
import { useOutbox } from '@/offline/useOutbox'
import WaitingHere from '@/offline/WaitingHere.vue'
import DropZone from '@/parts/DropZone.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useBroughtFile } from '@/stations/bring/useBroughtFile'
import TopBand from '@/shell/TopBand.vue'
import { day } from '@/texts/format'

const { t } = useI18n()
const router = useRouter()
const { data, error, refetch } = useQuery(trialQueries.list())
const { data: today } = useQuery(todayQuery)
const { data: session } = useQuery(sessionQuery)
const mayPlan = computed(() => session.value?.memberships.some((m) => m.may.includes('plan')))
const groups = computed(() =>
  (['due', 'begun', 'new', 'soon'] as const)
    .map((key) => ({ key, lines: today.value?.[key] ?? [] }))
    .filter((group) => group.lines.length || group.key === 'due'),
)
function target(line: Due) {
  const to = { params: { trial: line.trial }, query: { site: line.site } }
  if (line.kind === 'reading') return { name: 'read', ...to }
  if (line.kind === 'visit') return { ...to, name: 'visit', params: { ...to.params, visit: line.id } }
  return { name: 'season', ...to, hash: `#${line.id}` }
}
const outbox = useOutbox()
const brought = useBroughtFile()
document.title = 'Apercu'

function bring(file: File) {
  brought.hold(file)
  void router.push({ name: 'bring' })
}
</script>

<template>
  <TopBand />
  <main class="page">
    <h1>{{ t('today.title') }}</h1>
    <WaitingHere v-if="session && outbox" :outbox="outbox" :person="session.email" />
    <div class="columns">
      <div>
        <section v-for="group in groups" :key="group.key" class="group">
          <h2>{{ t(`today.${group.key}`) }}</h2>
          <p v-if="today && !group.lines.length" class="quiet">{{ t('today.nothingDue') }}</p>
          <ul class="lines">
            <li v-for="line in group.lines" :key="line.id">
              <router-link :to="target(line)" :class="line.state">
                <span class="when">{{ line.date ? day(line.date) : t('season.undated') }}</span>
                <span class="what"
                  ><strong>{{ line.name }}</strong>
                  <span v-if="line.kind !== 'reading'" class="quiet">{{ line.trial_name }}</span></span
                >
                <span class="state"
                  >{{ line.kind === 'reading' ? t('today.read') : t(`season.state.${line.state}`)
                  }}<template v-if="line.done"
                    >, {{ t('today.plotsDone', { d: line.done, n: line.of }) }}</template
                  ></span
                >
              </router-link>
            </li>
          </ul>
          <p v-if="today?.more.includes(group.key)" class="quiet">{{ t('today.more') }}</p>
        </section>
      </div>
      <section>
        <h2>{{ t('today.trials') }}</h2>
        <ProblemNote v-if="error" :problem="error" :again="refetch" />
        <p v-else-if="!data" role="status">{{ t('app.loading') }}</p>
        <p v-else-if="!data.results.length" class="quiet">{{ t('today.none') }}</p>
        <ul v-else class="trials">
          <li v-for="trial in data.results" :key="trial.id">
            <router-link :to="`/trials/${trial.id}/${trial.stage}`">
              <strong>{{ trial.name }}</strong>
              <span v-if="trial.question">{{ trial.question }}</span>
              <span class="quiet"
                >{{ trial.site === 'Not stated' ? '' : `${trial.site} · `
                }}{{ t('today.plots', { n: trial.plots }) }} · {{ t(`today.stage.${trial.stage}`) }}</span
              >
            </router-link>
          </li>
        </ul>
        <v-btn v-if="mayPlan" color="accent" :to="{ name: 'new' }">{{ t('today.newTrial') }}</v-btn>
        <router-link class="guide" :to="{ name: 'species' }">{{ t('today.species') }}</router-link>
        <div v-if="mayPlan" class="bring">
          <h2>{{ t('today.bring') }}</h2>
          <p class="quiet">{{ t('today.bringLead') }}</p>
          <DropZone @file="bring" />
        </div>
      </section>
    </div>
  </main>
</template>

<style scoped>
.page {
  padding: 20px 24px 48px;
  max-width: 1180px;
  width: 100%;
  margin: 0 auto;
}
.columns {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 40px;
  margin-top: 16px;
}
.trials {
  list-style: none;
  padding: 0;
  margin: 8px 0;
}
.trials a {
  display: flex;
  flex-direction: column;
  padding: 12px 14px;
  margin-bottom: 8px;
  border: 1px solid var(--rule);
  border-left: 5px solid var(--band);
  border-radius: 0 8px 8px 0;
  color: var(--ink);
  text-decoration: none;
  background: var(--ground);
}
.trials a:hover {
  border-left-color: var(--accent);
}
.guide {
  display: inline-flex;
  align-items: center;
  min-height: 48px;
  margin-left: 18px;
}
.bring {
  margin-top: 28px;
}
.group {
  margin-bottom: 22px;
}
.lines {
  list-style: none;
  padding: 0;
  margin: 6px 0;
}
.lines a {
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr) 130px;
  gap: 12px;
  align-items: center;
  min-height: 48px;
  padding: 6px 12px;
  border-top: 1px solid var(--rule);
  color: var(--ink);
  text-decoration: none;
}
.lines a:hover {
  background: var(--ground);
}
.what {
  display: flex;
  flex-direction: column;
}
.lines .overdue,
.lines .due {
  box-shadow: inset 4px 0 var(--accent);
}
.overdue .state,
.due .state {
  color: var(--accent);
  font-weight: 700;
}
.begun .state,
.conflict .state {
  color: var(--unsettled);
  font-weight: 700;
}
@media (max-width: 720px) {
  .lines a {
    grid-template-columns: 84px minmax(0, 1fr) 92px;
    padding: 6px 8px;
  }
  .columns {
    grid-template-columns: 1fr;
    gap: 24px;
  }
  .page {
    padding: 14px;
  }
}
</style>
