<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'

import { catalogueQuery, sessionQuery, templatesQuery } from '@/api/queries'
import { newId } from '@/parts/newId'
import type { SownCover } from '@/species/wish'
import TopBand from '@/shell/TopBand.vue'

import AskForm from './AskForm.vue'
import { emptyComponent, emptyDetails } from './described'
import { emptyDraft, emptyTreatment, isWhole, takeTemplate, type TreatmentDraft } from './draft'
import { useKeptDraft } from '@/parts/useKeptDraft'

const { t } = useI18n()
const router = useRouter()
const queries = useQueryClient()
const { data: session } = useQuery(sessionQuery)
const id = newId()
const name = session.value?.units === 'us' ? 'new.us' : 'new'
const { draft, restored, sent, startOver } = useKeptDraft(name, emptyDraft, isWhole)
document.title = 'Apercu'

// From the species guide: treatments that were put together there come after those that are already typed.
const route = useRoute()
const covers = JSON.parse((router.options.history.state.covers as string | undefined) ?? '[]') as SownCover[]
function treatmentOf(name: string): TreatmentDraft {
  const sown = covers.find((one) => one.name === name)?.parts ?? []
  const components = sown.map((part) => ({ ...emptyComponent(), ...part }))
  return { ...emptyTreatment(), name, details: { ...emptyDetails(), components } }
}
watch(
  () => [route.query.treatments ?? []].flat().filter((name) => name !== null),
  (names) => {
    const typed = draft.value.treatments.filter((one) => one.name.trim() || one.is_control)
    const known = new Set(typed.map((one) => one.name))
    const more = names.filter((name) => !known.has(name)).map(treatmentOf)
    if (more.length) draft.value.treatments = [...typed, ...more]
  },
  { immediate: true },
)

const workspaces = computed(() => (session.value?.memberships ?? []).filter((m) => m.may.includes('plan')))
const chosen = ref<string | null>(null)
const workspace = computed(() => chosen.value ?? workspaces.value[0]?.workspace)

const { data: templates } = useQuery(templatesQuery)
const { data: catalogue } = useQuery(catalogueQuery)
function fill(key: string | null) {
  const found = templates.value?.find((one) => one.key === key)
  if (found && catalogue.value) draft.value = takeTemplate(draft.value, found, catalogue.value)
}

async function kept() {
  sent()
  await queries.invalidateQueries({ queryKey: ['trials'] })
  await queries.invalidateQueries({ queryKey: ['sites'] })
  await router.push({ name: 'plan', params: { trial: id } })
}
</script>

<template>
  <TopBand />
  <main class="page">
    <h1>{{ t('ask.newTrial') }}</h1>
    <p v-if="session && !workspace">{{ t('ask.mayNot') }}</p>
    <template v-else-if="workspace">
      <v-select
        v-if="workspaces.length > 1"
        v-model="chosen"
        :items="workspaces.map((m) => ({ value: m.workspace, title: m.name }))"
        :label="t('ask.workspace')"
      />
      <p v-if="restored" class="quiet" role="status">
        {{ t('ask.restored') }}
        <button type="button" class="link-button" @click="startOver">{{ t('ask.startOver') }}</button>
      </p>
      <v-select
        v-if="templates?.length && catalogue"
        :model-value="null"
        class="templates"
        :items="templates.map((one) => ({ value: one.key, title: one.name, props: { subtitle: one.what } }))"
        :label="t('ask.template')"
        @update:model-value="fill"
      />
      <AskForm
        v-model="draft"
        :trial="id"
        :workspace="workspace"
        may-plan
        :act="t('ask.keep')"
        @kept="kept"
        @discard="startOver"
      />
    </template>
  </main>
</template>

<style scoped>
.page {
  --above: 44px;
  padding: 20px 24px 60px;
  max-width: 960px;
  width: 100%;
  margin: 0 auto;
}
.templates {
  max-width: 420px;
  margin: 10px 0 14px;
}
@media (max-width: 720px) {
  .page {
    padding: 14px 14px 40px;
  }
}
</style>
