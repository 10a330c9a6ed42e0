<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'

import { aspectsQuery, sessionQuery, speciesQueries } from '@/api/queries'
import { focusLast } from '@/parts/focusLast'

import { emptyComponent, FIGURES, isDescribed, type ComponentDraft, type DetailsDraft } from './described'

/** What a treatment sows and what else is done in it; folded away until somebody wants to say it, and made only then. */
const props = defineProps<{
  name: string
  workspace: string
  treatment?: string
  faults?: Record<string, string>
}>()
const details = defineModel<DetailsDraft>({ required: true })
const { t } = useI18n()
const { data: session } = useQuery(sessionQuery)
const { data: aspects } = useQuery(aspectsQuery)
const opened = ref(false)
const { data: guide } = useQuery({ ...speciesQueries.guide(() => props.workspace), enabled: opened })
const parts = useTemplateRef('parts')
const saying = useTemplateRef('saying')

const rateUnit = computed(() => (session.value?.units === 'us' ? 'lb/ac' : 'kg/ha'))
const known = computed(() => (guide.value?.species ?? []).map((one) => one.name))
const nameOf = (key: string) => aspects.value?.find((one) => one.key === key)?.name ?? key
const unsaid = computed(() =>
  (aspects.value ?? []).filter((one) => one.said && !(one.key in details.value.said)),
)
const seedSets = computed(() =>
  (['', 'prevent', 'wanted'] as const).map((value) => ({
    value,
    title: t(`ask.seedSet.${value || 'unsaid'}`),
  })),
)
const SENT = { purity: 'purity_percent', germination: 'germination_percent', tkw: 'tkw_g' } as const
const named = (one: ComponentDraft) =>
  details.value.components.filter((part) => part.name.trim()).indexOf(one)
const faultsAt = (one: ComponentDraft, key: keyof typeof SENT) =>
  props.faults?.[`treatments.${props.treatment}.${named(one)}.${SENT[key]}`] ?? []

/** What is folded away, in a line. */
const said = computed(() => {
  if (!isDescribed(details.value)) return ''
  const sown = details.value.components
    .filter((one) => one.name.trim())
    .map((one) =>
      [one.name, one.cultivar, one.rate && `${one.rate} ${rateUnit.value}`].filter(Boolean).join(' '),
    )
  const done = Object.entries(details.value.said).filter(([, text]) => text.trim())
  return [sown.join(' + '), ...done.map(([key, text]) => `${nameOf(key)} ${text}`)]
    .filter(Boolean)
    .join(' · ')
})
/** A name of the guide brings its record along; any other is a species of one’s own words. */
function rename(one: ComponentDraft, name: string | null) {
  one.name = name ?? ''
  one.species = guide.value?.species.find((species) => species.name === one.name)?.key ?? ''
}
function add() {
  details.value.components.push(emptyComponent())
  void focusLast(() => parts.value)
}
function say(key: string) {
  details.value.said[key] = ''
  void focusLast(() => saying.value)
}
</script>

<template>
  <details class="details" @toggle="opened = ($event.target as HTMLDetailsElement).open">
    <summary>{{ said || t('ask.details') }}</summary>
    <template v-if="opened">
      <div ref="parts" class="parts">
        <div
          v-for="(one, i) in details.components"
          :key="i"
          class="part"
          role="group"
          :aria-label="`${name}: ${one.name || t('ask.speciesN', { n: i + 1 })}`"
        >
          <v-combobox
            class="wide"
            :model-value="one.name || null"
            :items="known"
            :label="t('ask.species')"
            @update:model-value="rename(one, $event)"
          />
          <v-text-field
            v-model="one.cultivar"
            :label="t('ask.cultivar')"
            persistent-placeholder
            :placeholder="t('ask.notStated')"
            maxlength="80"
          />
          <v-text-field
            v-model="one.rate"
            :label="t('ask.rate')"
            :suffix="rateUnit"
            inputmode="decimal"
            maxlength="20"
          />
          <v-text-field v-model="one.lot" :label="t('ask.lot')" maxlength="80" />
          <v-text-field
            v-for="key in FIGURES"
            :key="key"
            v-model="one[key]"
            :label="t(`ask.seed.${key}`)"
            :suffix="key === 'tkw' ? 'g' : '%'"
            inputmode="decimal"
            :error-messages="faultsAt(one, key)"
          />
          <button
            type="button"
            class="link-button"
            :aria-label="`${t('ask.remove')}: ${one.name || t('ask.speciesN', { n: i + 1 })}`"
            @click="details.components.splice(i, 1)"
          >
            {{ t('ask.remove') }}
          </button>
        </div>
      </div>
      <div class="acts">
        <button type="button" class="pill" @click="add">{{ t('ask.addSpecies') }}</button>
        <v-select
          v-if="details.components.length"
          v-model="details.seed_set"
          class="set"
          :items="seedSets"
          :label="t('ask.seedSetLabel')"
        />
      </div>
      <div ref="saying" class="said">
        <div v-for="(_, key) in details.said" :key="key" class="saying">
          <v-text-field v-model="details.said[key]" :label="nameOf(key)" maxlength="120" />
          <button
            type="button"
            class="link-button"
            :aria-label="`${t('ask.remove')}: ${nameOf(key)}`"
            @click="delete details.said[key]"
          >
            {{ t('ask.remove') }}
          </button>
        </div>
      </div>
      <p v-if="unsaid.length" class="acts" role="group" :aria-label="t('ask.alsoDone')">
        <span class="quiet small">{{ t('ask.alsoDone') }}</span>
        <button v-for="one in unsaid" :key="one.key" type="button" class="pill" @click="say(one.key)">
          {{ one.name }}
        </button>
      </p>
    </template>
  </details>
</template>

<style scoped>
.details {
  grid-column: 2 / -1;
  margin-top: -6px; /* it belongs to the row above */
}
.details[open] {
  border-left: 3px solid var(--rule);
  padding-left: 12px;
}
.parts,
.said {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.part {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(118px, 1fr));
  gap: 8px;
  align-items: center;
  border-bottom: 1px solid var(--rule);
  padding: 8px 0;
}
.wide {
  grid-column: span 2;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  padding: 8px 0;
}
.set {
  max-width: 300px;
}
.saying {
  display: grid;
  grid-template-columns: minmax(0, 420px) 80px;
  gap: 10px;
  align-items: center;
  padding-bottom: 8px;
}
@media (max-width: 720px) {
  .details {
    grid-column: 1 / -1;
  }
}
</style>
