<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SheetMeasure, Trial, Visit } from '@/api/queries'
import type { Step } from '@/offline/cells'

import CoverPhotos from './CoverPhotos.vue'
import type { Sheet } from '@/stations/walk/useSheet'

/**
 * What a visit does with photographs: green cover, counts on them, and all of them side by side. `at`: tells where one
 * is, when it is asked.
 */
const props = defineProps<{
  trial: Trial
  visit: Visit
  sheet: Sheet
  at: () => Step | null
  mayRecord: boolean
}>()
const { t } = useI18n()
/** It comes when somebody counts on a photograph, which needs the network anyway. */
const PhotoCount = defineAsyncComponent(() => import('./PhotoCount.vue'))
const covers = computed(() => props.visit.measures.filter((m) => m.by_photograph))
const counted = computed(() => props.visit.measures.filter((m) => m.counted_on_photograph))
/** Only whether, which stays as it is from step to step. */
const anywhere = computed(() => props.at() !== null)
const counting = ref<SheetMeasure | null>(null)
</script>

<template>
  <template v-if="mayRecord && anywhere">
    <CoverPhotos
      v-for="m in covers"
      :key="m.id"
      :trial="trial"
      :visit="visit"
      :sheet="sheet"
      :measure="m"
      :at="at()!"
    />
    <button v-for="m in counted" :key="m.id" type="button" class="pill" @click="counting = m">
      {{ t('walk.count.start', { m: m.name }) }}
    </button>
    <PhotoCount
      v-if="counting"
      :trial="trial"
      :visit="visit"
      :sheet="sheet"
      :measure="counting"
      :at="at()!"
      @close="counting = null"
    />
  </template>
  <router-link
    v-if="covers.length || counted.length"
    class="quiet-link"
    :to="{ name: 'photo-sheet', params: { visit: visit.id } }"
    >{{ t('walk.photos.show') }}</router-link
  >
</template>

<style scoped>
.quiet-link {
  display: inline-flex;
  align-items: center;
  min-height: 48px;
  padding: 0 6px;
}
</style>
