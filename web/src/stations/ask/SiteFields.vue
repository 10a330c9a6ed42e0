<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import { sessionQuery, sitesQuery } from '@/api/queries'

import { emptySiteDraft, siteDraftOf, type SiteDraft } from './draft'
import GroundHistory from './GroundHistory.vue'

/** One of the trial's sites: a known one, or a new one with all that is known of it. */
const props = defineProps<{
  /** Sites of the trial; another one can't be the same again. */
  taken: string[]
  faults: Record<string, string>
  missing: (where: string) => string[]
  /** Which of the trial’s sites it is. */
  at: number
  earlier: string[]
  mayPlan: boolean
  alone: boolean
}>()
const emit = defineEmits<{ takeAway: [] }>()
const draft = defineModel<SiteDraft>({ required: true })
const { t } = useI18n()
const { data: sites } = useQuery(sitesQuery)

const known = computed(() => [
  { value: '', title: t('ask.newSite') },
  ...(sites.value?.results ?? [])
    .filter((site) => site.name !== 'Not stated')
    .filter((site) => site.id === draft.value.site.id || !props.taken.includes(site.id))
    .map((site) => ({ value: site.id, title: [site.name, site.place].filter(Boolean).join(', ') })),
])
const isKnown = computed(() => known.value.some((site) => site.value === draft.value.site.id))
function take(id: string) {
  const found = sites.value?.results.find((site) => site.id === id)
  draft.value = found ? siteDraftOf(found) : emptySiteDraft()
}
const WORDS = ['name', 'place', 'soil', 'previous_crop', 'time_zone'] as const
/** What the map, the frost dates and the doubts need, and nobody has to know on the first day. */
const LATER = ['last_frost', 'first_frost', 'gradient', 'drainage'] as const
const LABELS = {
  name: 'siteName', place: 'place', soil: 'soil', previous_crop: 'previousCrop', gradient: 'gradient',
  time_zone: 'timeZone', last_frost: 'lastFrost', first_frost: 'firstFrost', drainage: 'drainage',
} as const // prettier-ignore
const { data: session } = useQuery(sessionQuery)
const FIGURES = { latitude: '°', longitude: '°', bearing: '°', slope: '%', coldest: '' } as const
const SENT = {
  latitude: 'latitude', longitude: 'longitude', bearing: 'bearing_deg', slope: 'slope_percent', coldest: 'coldest_c',
} as const // prettier-ignore
const LENGTHS: Partial<Record<keyof typeof LABELS, number>> = { time_zone: 60, last_frost: 5, first_frost: 5 }
const figures = Object.keys(FIGURES) as (keyof typeof FIGURES)[]
const entered = computed(
  () =>
    LATER.filter((key) => draft.value.site[key]).length + figures.filter((key) => draft.value[key]).length,
)
const wrong = computed(() => figures.some((key) => props.faults[`sites.${props.at}.${SENT[key]}`]))
</script>

<template>
  <div class="site" :class="{ several: !alone }">
    <div class="which">
      <v-select
        v-if="known.length > 1"
        :model-value="isKnown ? draft.site.id : ''"
        :items="known"
        :label="t('ask.whichSite')"
        :disabled="!mayPlan"
        @update:model-value="take"
      />
      <button v-if="mayPlan && !alone" type="button" class="link-button" @click="emit('takeAway')">
        {{ t('ask.takeSiteAway', { site: draft.site.name || t('ask.newSite') }) }}
      </button>
    </div>
    <div class="grid">
      <v-text-field
        v-for="key in WORDS"
        :key="key"
        v-model="draft.site[key]"
        :label="
          key === 'name' ? t('missing.required', { label: t('ask.siteName') }) : t(`ask.${LABELS[key]}`)
        "
        :required="key === 'name'"
        :maxlength="LENGTHS[key] ?? 120"
        :data-where="`sites.${at}.${key}`"
        :error-messages="missing(`sites.${at}.${key}`)"
      />
    </div>
    <details :open="wrong || undefined">
      <summary>
        {{ t('ask.later') }}
        <small class="quiet">{{
          t('ask.laterEntered', { n: entered, of: LATER.length + figures.length })
        }}</small>
      </summary>
      <div class="grid">
        <v-text-field
          v-for="key in LATER"
          :key="key"
          v-model="draft.site[key]"
          :label="t(`ask.${LABELS[key]}`)"
          :maxlength="LENGTHS[key] ?? 120"
          :data-where="`sites.${at}.${key}`"
          :persistent-placeholder="key.endsWith('frost')"
          :placeholder="key.endsWith('frost') ? t('ask.monthDay') : undefined"
        />
        <v-text-field
          v-for="key in figures"
          :key="key"
          v-model="draft[key]"
          :label="t(`ask.${key}`)"
          :suffix="FIGURES[key] || session?.temperature_unit"
          inputmode="decimal"
          :data-where="`sites.${at}.${SENT[key]}`"
          :error-messages="faults[`sites.${at}.${SENT[key]}`] ?? []"
        />
      </div>
    </details>
    <GroundHistory v-model="draft.site" :earlier="earlier" />
  </div>
</template>

<style scoped>
.site {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.several {
  border-left: 5px solid var(--band);
  padding-left: 14px;
  margin-bottom: 10px;
}
.which {
  display: flex;
  gap: 16px;
  align-items: center;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
  gap: 12px;
}
details .grid {
  padding-top: 10px;
}
</style>
