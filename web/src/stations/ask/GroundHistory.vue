<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { Site } from '@/api/queries'

/** What the ground has seen: crops, covers and tillage of earlier years, weeds and pests, what a trial has left. */
defineProps<{ earlier: string[] }>()
const site = defineModel<Site>({ required: true })
const { t } = useI18n()
const PARTS = ['year', 'crop', 'cover', 'tillage'] as const
const KNOWN = ['weeds', 'pests'] as const

function add() {
  site.value.grown = [...(site.value.grown ?? []), { year: '', crop: '', cover: '', tillage: '' }]
}
function takeAway(index: number) {
  site.value.grown = (site.value.grown ?? []).filter((_, i) => i !== index)
}
</script>

<template>
  <details class="history" :open="Boolean(site.grown?.length || site.weeds || site.pests || earlier.length)">
    <summary>{{ t('ask.history') }}</summary>
    <p v-if="earlier.length" class="earlier">{{ t('ask.earlier', { names: earlier.join(', ') }) }}</p>
    <v-text-field
      v-if="earlier.length || site.carry_over"
      v-model="site.carry_over"
      :label="t('ask.carryOver')"
      maxlength="300"
    />
    <div v-for="(year, i) in site.grown ?? []" :key="i" class="year">
      <v-text-field
        v-for="part in PARTS"
        :key="part"
        v-model="year[part]"
        :label="t(`ask.grown.${part}`)"
        maxlength="80"
      />
      <button type="button" class="link-button" @click="takeAway(i)">{{ t('ask.takeAway') }}</button>
    </div>
    <button type="button" class="pill" @click="add">{{ t('ask.addYear') }}</button>
    <div class="known">
      <v-text-field
        v-for="key in KNOWN"
        :key="key"
        v-model="site[key]"
        :label="t(`ask.${key}`)"
        maxlength="300"
      />
    </div>
  </details>
</template>

<style scoped>
.history {
  margin-top: 10px;
}
.earlier {
  border-left: 5px solid var(--unsettled);
  padding-left: 10px;
}
.year {
  display: grid;
  grid-template-columns: 90px repeat(3, minmax(0, 1fr)) auto;
  gap: 8px;
  align-items: center;
  margin-bottom: 8px;
}
.known {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  margin-top: 10px;
}
@media (max-width: 720px) {
  .year,
  .known {
    grid-template-columns: 1fr;
  }
}
</style>
