<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'

import { api, sessionQuery, sitesQuery, speciesQueries } from '@/api/queries'
import { faultsIn } from '@/parts/faults'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useKeptDraft } from '@/parts/useKeptDraft'
import TopBand from '@/shell/TopBand.vue'

import FitList from './FitList.vue'
import MixDesk from './MixDesk.vue'
import SpeciesRecord from './SpeciesRecord.vue'
import WishForm from './WishForm.vue'
import { emptyGuide, guideIsWhole, winterMissing, wishOf, type SownCover } from './wish'

/** From a purpose, a place and a date to species and a mix. `?site=` fills in the place of one. */
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
document.title = 'Apercu'
const { data: session } = useQuery(sessionQuery)
const { data: sites } = useQuery(sitesQuery)
const { draft } = useKeptDraft(
  session.value?.units === 'us' ? 'species.us' : 'species',
  emptyGuide,
  guideIsWhole,
)

const chosen = ref<string | null>(null)
const memberships = computed(() => session.value?.memberships ?? [])
const workspace = computed(() => chosen.value ?? memberships.value[0]?.workspace ?? '')
const mayPlan = computed(() =>
  memberships.value.some((m) => m.workspace === workspace.value && m.may.includes('plan')),
)
const { data: guide, error, refetch } = useQuery(
  computed(() => ({ ...speciesQueries.guide(workspace.value), enabled: Boolean(workspace.value) })),
) // prettier-ignore
const wish = computed(() => wishOf(draft.value.wish))
const { data: fits, error: fitError } = useQuery(
  computed(() => ({
    ...speciesQueries.fit(workspace.value, wish.value),
    enabled: Boolean(workspace.value),
    placeholderData: keepPreviousData,
    retry: false,
  })),
)
const weighed = computed(() => Object.values(draft.value.wish.weights).some(Boolean))
const missing = computed(() => winterMissing(draft.value.wish))
const mixed = computed(() => draft.value.mix.parts.map((part) => part.key))
const site = computed(() => sites.value?.results.find((one) => one.id === route.query.site))
function takePlace() {
  draft.value.wish.first_frost = site.value?.first_frost ?? ''
  draft.value.wish.last_frost = site.value?.last_frost ?? ''
}

const open = ref(false)
const shown = ref<string | null>(null)
const record = computed(() => guide.value?.species.find((one) => one.key === shown.value) ?? null)
function show(key: string | null) {
  shown.value = key
  open.value = true
}
function add(key: string) {
  draft.value.mix.parts.push({ key, share: '50', full: '', tkw: '' })
}

const brought = ref<number | null>(null)
const problem = ref<Error | null>(null)
async function bring(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  problem.value = null
  brought.value = null
  try {
    brought.value = (await api.bringSpecies(workspace.value, file)).length
    await queries.invalidateQueries({ queryKey: ['species'] })
  } catch (thrown) {
    problem.value = thrown as Error
  }
}
function use(covers: SownCover[]) {
  const treatments = covers.map((one) => one.name)
  void router.push({ name: 'new', query: { treatments }, state: { covers: JSON.stringify(covers) } })
}
</script>

<template>
  <TopBand />
  <main class="page">
    <h1>{{ t('species.title') }}</h1>
    <p class="quiet">{{ t('species.lead') }}</p>
    <div class="tools">
      <v-select
        v-if="memberships.length > 1"
        v-model="chosen"
        :items="memberships.map((m) => ({ value: m.workspace, title: m.name }))"
        :label="t('species.workspace')"
      />
      <button v-if="site" type="button" class="pill" @click="takePlace">
        {{ t('species.takePlace', { site: site.name }) }}
      </button>
      <template v-if="mayPlan">
        <button type="button" class="pill" @click="show(null)">{{ t('species.add') }}</button>
        <label class="link-button file"
          >{{ t('species.bring')
          }}<input class="seen-by-readers-only" type="file" accept=".csv,text/csv" @change="bring"
        /></label>
      </template>
      <a v-if="workspace" :href="`/api/v1/workspaces/${workspace}/species/table.csv`" download>{{
        t('species.download')
      }}</a>
    </div>
    <p v-if="brought !== null" role="status">{{ t('species.brought', brought) }}</p>
    <ProblemNote v-if="problem" :problem="problem" />
    <ProblemNote v-if="error" :problem="error" :again="refetch" />
    <p v-else-if="!guide" role="status">{{ t('app.loading') }}</p>
    <div v-else class="columns">
      <WishForm :faults="faultsIn(fitError)" v-model="draft.wish" :guide="guide" />
      <div>
        <ProblemNote v-if="fitError" :problem="fitError" />
        <p v-if="missing" class="needed" role="status">{{ t(`species.needed.${missing}`) }}</p>
        <FitList v-if="fits" :fits="fits" :mixed="mixed" :weighed="weighed" @add="add" @open="show" />
        <p class="quiet small">{{ t('species.stockNote') }}</p>
      </div>
      <MixDesk
        v-model="draft.mix"
        :guide="guide"
        :workspace="workspace"
        :weights="draft.wish.weights"
        @use="use"
      />
      <SpeciesRecord
        v-model="open"
        :guide="guide"
        :species="record"
        :workspace="workspace"
        :may-plan="mayPlan"
      />
    </div>
  </main>
</template>

<style scoped>
.page {
  padding: 16px 24px 48px;
  width: 100%;
  max-width: 1500px;
  margin: 0 auto;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  align-items: center;
  margin: 6px 0 12px;
}
.needed {
  border-left: 4px solid var(--unsettled);
  padding-left: 10px;
  font-weight: 600;
  margin: 0 0 12px;
}
.file:focus-within {
  outline: 3px solid var(--link);
  outline-offset: 2px;
}
.file {
  display: flex;
  align-items: center;
}
.columns {
  display: grid;
  grid-template-columns: 290px minmax(0, 1fr) 380px;
  gap: 28px;
  align-items: start;
}
@media (min-width: 1101px) {
  .columns > :first-child,
  .columns > :nth-child(3) {
    position: sticky;
    top: 8px;
    max-height: calc(100vh - 16px);
    overflow-y: auto;
  }
}
@media (max-width: 1100px) {
  .columns {
    grid-template-columns: 290px minmax(0, 1fr);
  }
  .columns > :nth-child(3) {
    grid-column: 1 / -1;
    order: -1;
  }
}
@media (max-width: 720px) {
  .page {
    padding: 14px;
  }
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
  .columns > :nth-child(3) {
    order: 0;
  }
}
</style>
