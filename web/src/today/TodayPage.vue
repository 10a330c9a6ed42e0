<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'

import { sessionQuery, todayQuery, type Due } from '@/api/queries'
import CalendarDialog from '@/calendar/CalendarDialog.vue'
import { useOutbox } from '@/offline/useOutbox'
import WaitingHere from '@/offline/WaitingHere.vue'
import DropZone from '@/parts/DropZone.vue'
import { useBroughtFile } from '@/stations/bring/useBroughtFile'
import { useSmallScreen } from '@/parts/useSmallScreen'
import TopBand from '@/shell/TopBand.vue'
import { day } from '@/texts/format'

import InTheField from './InTheField.vue'
import OnThisDevice from './OnThisDevice.vue'
import TrialList from './TrialList.vue'

const { t } = useI18n()
const router = useRouter()
const { data: today } = useQuery(todayQuery)
const { data: session } = useQuery(sessionQuery)
const mayPlan = computed(() => session.value?.memberships.some((m) => m.may.includes('plan')))
/** What is typed finds trials, and what is due in them. */
const typed = ref('')
const search = ref('')
const TYPED_ON_MS = 250
let timer: ReturnType<typeof setTimeout> | undefined
watch(typed, (now) => {
  clearTimeout(timer)
  timer = setTimeout(() => (search.value = (now ?? '').trim()), TYPED_ON_MS)
})
const finds = (line: Due) =>
  search.value
    .toLowerCase()
    .split(/\s+/)
    .every((word) => `${line.trial_name} ${line.name}`.toLowerCase().includes(word))
const groups = computed(() =>
  (['due', 'begun', 'new', 'soon'] as const)
    .map((key) => ({ key, lines: (today.value?.[key] ?? []).filter(finds) }))
    .filter((group) => group.lines.length || group.key === 'due'),
)
function target(line: Due) {
  const to = { params: { trial: line.trial }, query: { site: line.site } }
  if (line.kind === 'reading') return { name: 'read', ...to }
  if (line.kind === 'visit') return { ...to, name: 'visit', params: { ...to.params, visit: line.id } }
  return { name: 'season', ...to, hash: `#${line.id}` }
}
const calendar = ref(false)
const small = useSmallScreen()
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
    <div class="top">
      <h1>{{ t('today.title') }}</h1>
      <router-link :to="{ name: 'day-list' }">{{ t('dayList.open') }}</router-link>
      <button type="button" class="link-button" @click="calendar = true">{{ t('calendar.open') }}</button>
      <v-text-field v-model="typed" class="search" :label="t('today.search')" type="search" clearable />
    </div>
    <CalendarDialog v-model="calendar" />
    <WaitingHere v-if="session && outbox" :outbox="outbox" :person="session.email" />
    <div class="columns">
      <div>
        <section v-if="today?.conflicts.length" class="aside grave conflicts" role="status">
          <h2>{{ t('today.machines') }}</h2>
          <p v-for="one in today.conflicts" :key="one.machine + one.day">
            {{ t('today.wantedTwice', { machine: one.machine, day: day(one.day) }) }}
            <template v-for="(work, i) in one.operations" :key="work.id"
              >{{ i ? ', ' : ' '
              }}<router-link
                :to="{
                  name: 'season',
                  params: { trial: work.trial },
                  query: { site: work.site },
                  hash: `#${work.id}`,
                }"
                >{{ work.name }} ({{ work.trial_name }})</router-link
              ></template
            >.
          </p>
        </section>
        <InTheField v-if="small" />
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
        <OnThisDevice v-if="session" :person="session.email" />
      </div>
      <section>
        <h2>{{ t('today.trials') }}</h2>
        <TrialList :search="search" />
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
.top {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 28px;
  align-items: center;
}
.search {
  flex: 0 1 340px;
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
.conflicts {
  margin-bottom: 18px;
}
.conflicts h2,
.conflicts p {
  margin: 0 0 4px;
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
