<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { sessionQuery, trialQueries } from '@/api/queries'

/** What is done standing in a plot, one tap away: for the trial that was chosen here last. */
const { t } = useI18n()
const KEPT = 'apercu.field-trial'
const { data: session } = useQuery(sessionQuery)
const { data } = useQuery(trialQueries.list())
const trials = computed(() =>
  (data.value?.results ?? []).filter(
    (one) =>
      !one.archived_at &&
      one.plots > 0 &&
      session.value?.memberships.some((m) => m.workspace === one.workspace && m.may.includes('record')),
  ),
)
const chosen = ref(localStorage.getItem(KEPT) ?? '')
watch(
  trials,
  (now) => {
    if (now.length && !now.some((one) => one.id === chosen.value))
      chosen.value = (now.find((one) => one.stage === 'walk') ?? now[0]!).id
  },
  { immediate: true },
)
watch(chosen, (now) => localStorage.setItem(KEPT, now))
const acts = computed(() => {
  const params = { trial: chosen.value }
  return [
    { key: 'stage', to: { name: 'stages', params, query: { add: 'stage' } } },
    { key: 'trouble', to: { name: 'log', params, query: { add: 'trouble' } } },
    { key: 'go', to: { name: 'sow', params, hash: '#go' } },
    { key: 'pack', to: { name: 'sow', params, hash: '#pack' } },
  ] as const
})
</script>

<template>
  <section v-if="trials.length" class="field">
    <h2>{{ t('inField.title') }}</h2>
    <v-select
      v-if="trials.length > 1"
      v-model="chosen"
      :items="trials.map((one) => ({ value: one.id, title: one.name }))"
      :label="t('inField.trial')"
      hide-details
    />
    <div class="acts">
      <router-link v-for="act in acts" :key="act.key" class="pill" :to="act.to">{{
        t(`inField.${act.key}`)
      }}</router-link>
    </div>
  </section>
</template>

<style scoped>
.field {
  margin-bottom: 18px;
}
.acts {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
  margin-top: 10px;
}
.pill {
  display: flex;
  align-items: center;
  justify-content: center;
  min-height: 52px;
  text-decoration: none;
  text-align: center;
}
</style>
