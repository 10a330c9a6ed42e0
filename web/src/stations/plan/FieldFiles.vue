<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { fileOf } from '@/api/site'
import MakeFile from '@/parts/MakeFile.vue'

/** The drawn map out to the field: list, outlines, map pages, stake labels. */
const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const SHEETS = ['a4-3x7', 'a4-2x5', 'letter-3x10', 'a4', 'letter'] as const
/** The usual sheet where people measure so. */
const sheet = ref<(typeof SHEETS)[number]>(props.trial.length_unit === 'm' ? 'a4-3x7' : 'letter-3x10')
const sheets = computed(() => SHEETS.map((value) => ({ value, title: t(`plan.sheets.${value}`) })))
const file = (name: string) => fileOf(props.trial.id, name)
const placed = computed(() => props.trial.site.latitude != null && props.trial.site.longitude != null)
</script>

<template>
  <section class="out" :aria-labelledby="`out-${trial.id}`">
    <h2 :id="`out-${trial.id}`">{{ t('plan.out') }}</h2>
    <p class="caution">{{ t('plan.dig') }}</p>
    <div class="files">
      <a class="pill" :href="file('stake-out.csv')" download>{{ t('plan.stakeOut') }}</a>
      <a v-if="placed" class="pill" :href="file('plots.geojson')" download>{{ t('plan.geojson') }}</a>
      <MakeFile :trial="trial.id" :file="{ file: 'map.pdf', ink: 'colour' }">{{
        t('plan.mapColour')
      }}</MakeFile>
      <MakeFile :trial="trial.id" :file="{ file: 'map.pdf', ink: 'black' }">{{
        t('plan.mapBlack')
      }}</MakeFile>
    </div>
    <div class="files">
      <v-select v-model="sheet" class="sheet" :items="sheets" :label="t('plan.sheet')" />
      <MakeFile :trial="trial.id" :file="{ file: 'labels.pdf', sheet }">{{ t('plan.labels') }}</MakeFile>
    </div>
    <p v-if="!placed" class="quiet small">
      {{ t('plan.noPlace') }} <router-link :to="{ name: 'ask' }">{{ t('frame.station.ask') }}</router-link>
    </p>
  </section>
</template>

<style scoped>
.out {
  margin-top: 26px;
}
.files {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: flex-start;
  margin: 8px 0;
}
.files .pill {
  color: var(--ink);
  text-decoration: none;
  display: inline-flex;
  align-items: center;
}
.sheet {
  flex: 0 1 300px;
}
.caution {
  border-left: 5px solid var(--unsettled);
  padding-left: 10px;
}
</style>
