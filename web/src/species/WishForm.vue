<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import { sessionQuery, type Guide } from '@/api/queries'

import { winterMissing, type WishDraft } from './wish'

/** What the cover is for, and where and when it grows. */
defineProps<{ guide: Guide; faults: Record<string, string> }>()
const wish = defineModel<WishDraft>({ required: true })
const { t, tm } = useI18n()
const { data: session } = useQuery(sessionQuery)
const WINTERS = ['', 'lives', 'dies'] as const
const FIELDS = ['mild_winter', 'harsh_winter', 'soil', 'days'] as const
const WAYS = ['drilled', 'broadcast', 'frost_seeded'] as const
const missing = computed(() => winterMissing(wish.value))
const CONDITIONS = ['wet', 'saline', 'shaded', 'grazed'] as const
const words = tm('species.weights') as string[]

function weigh(key: string, value: string) {
  wish.value.weights = { ...wish.value.weights, [key]: Number(value) }
}
</script>

<template>
  <form class="wish" @submit.prevent>
    <fieldset>
      <legend>{{ t('species.purposes') }}</legend>
      <label v-for="purpose in guide.purposes" :key="purpose.key" class="weight">
        <span>{{ purpose.label }}</span>
        <input
          type="range"
          min="0"
          max="3"
          :value="wish.weights[purpose.key] ?? 0"
          :aria-valuetext="words[wish.weights[purpose.key] ?? 0]"
          :class="{ none: !wish.weights[purpose.key] }"
          @input="weigh(purpose.key, ($event.target as HTMLInputElement).value)"
        />
        <output class="quiet small" aria-hidden="true">{{ words[wish.weights[purpose.key] ?? 0] }}</output>
      </label>
    </fieldset>
    <fieldset class="place">
      <legend>{{ t('species.place') }}</legend>
      <v-text-field v-model="wish.sown" type="date" :label="t('species.sown')" />
      <v-text-field
        v-model="wish.first_frost"
        :label="t('species.firstFrost')"
        persistent-placeholder
        :placeholder="t('ask.monthDay')"
      />
      <v-text-field
        v-model="wish.last_frost"
        :label="t('species.lastFrost')"
        persistent-placeholder
        :placeholder="t('ask.monthDay')"
      />
      <v-text-field
        v-for="field in FIELDS"
        :key="field"
        v-model="wish[field]"
        inputmode="decimal"
        :label="t(`species.field.${field}`, { unit: session?.temperature_unit })"
        persistent-placeholder
        :placeholder="t(`species.example.${session?.units ?? 'metric'}.${field}`)"
        :error-messages="faults[field] ?? []"
      />
      <v-select
        v-model="wish.winter"
        :items="WINTERS.map((value) => ({ value, title: t(`species.winters.${value || 'none'}`) }))"
        :label="t('species.winter')"
        class="whole"
      />
      <p class="whole small quiet lead">{{ t('species.wintersLead') }}</p>
      <p v-if="missing" class="whole small needed">{{ t(`species.needed.${missing}`) }}</p>
      <v-select
        v-model="wish.ways"
        multiple
        :items="WAYS.map((value) => ({ value, title: t(`species.ways.${value}`) }))"
        :label="t('species.way')"
        persistent-placeholder
        :placeholder="t('species.anyWay')"
        class="whole"
      />
      <v-select
        v-for="end in ['before', 'after'] as const"
        :key="end"
        v-model="wish[end]"
        :items="[{ value: '', title: t('species.notSaid') }, ...guide.crops]"
        :label="t(`species.${end}`)"
      />
      <label v-for="one in CONDITIONS" :key="one" class="check">
        <input v-model="wish[one]" type="checkbox" />
        {{ t(`species.conditions.${one}`) }}
      </label>
    </fieldset>
  </form>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0 0 18px;
}
legend {
  padding: 0;
  font-weight: 700;
  font-size: 15px;
  margin-bottom: 6px;
}
.weight {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 84px 76px;
  gap: 8px;
  align-items: center;
  min-height: 30px;
}
input[type='range'] {
  accent-color: var(--accent);
  width: 100%;
}
input.none {
  accent-color: var(--quiet);
}
.place {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.place legend {
  grid-column: 1 / -1;
}
.whole {
  grid-column: 1 / -1;
}
.check {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 34px;
}
.check input {
  width: 18px;
  height: 18px;
  accent-color: var(--accent);
}
.lead {
  margin: 0;
}
.needed {
  border-left: 4px solid var(--margin);
  padding-left: 10px;
  margin: 0;
}
@media (max-width: 720px) {
  .weight,
  .check {
    min-height: 48px;
  }
}
</style>
