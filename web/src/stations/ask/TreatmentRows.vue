<script setup lang="ts">
import { computed, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'

import TreatmentTag from '@/ground/TreatmentTag.vue'

import type { AskDraft } from './draft'
import TreatmentDetails from './TreatmentDetails.vue'

/** `crossed`: some rows come from factors; such a one is taken out as a combination that can't be. */
const props = defineProps<{
  crossed?: boolean
  workspace: string
  mayPlan: boolean
  faults?: Record<string, string>
  missing?: (where: string) => string[]
}>()
const emit = defineEmits<{ cannotBe: [levels: Record<string, string>] }>()
const rows = defineModel<AskDraft['treatments']>({ required: true })
const { t } = useI18n()
const list = useTemplateRef('list')
defineExpose({ rows: list })

/** What is compared with comes first among those that are known: the first is what is asked where nothing else is said. */
function noControl() {
  for (const row of rows.value) row.is_control = false
}
/** Room for the longest code on its colour. */
const tag = computed(() => Math.max(40, 14 + 8 * Math.max(...rows.value.map((row) => row.code.length))))
/** Where a treatment will stand in the palette: the control comes first. */
function place(index: number): number {
  const ordered = [...rows.value].sort((a, b) => Number(b.is_control) - Number(a.is_control))
  return ordered.indexOf(rows.value[index]!)
}
</script>

<template>
  <div ref="list" class="rows" :style="{ '--tag': `${tag}px` }">
    <div v-for="(row, i) in rows" :key="row.id" role="group" :aria-label="t('ask.treatmentN', { n: i + 1 })">
      <TreatmentTag :index="place(i)" :code="row.code || String(i + 1)" />
      <v-text-field
        v-model="row.name"
        :label="
          i < 2 && !props.crossed ? t('missing.required', { label: t('ask.treatment') }) : t('ask.treatment')
        "
        maxlength="160"
        :data-where="`treatments.${row.id}.name`"
        :error-messages="missing?.(`treatments.${row.id}.name`) ?? []"
      />
      <v-text-field v-model="row.code" class="code" :label="t('ask.code')" maxlength="8" />
      <label class="control">
        <input
          v-model="row.is_control"
          type="checkbox"
          :aria-label="`${t('ask.control')}: ${row.name || t('ask.treatmentN', { n: i + 1 })}`"
        />
        {{ t('ask.control') }}
      </label>
      <button
        v-if="crossed && Object.keys(row.levels).length"
        type="button"
        class="link-button"
        :aria-label="`${t('ask.cannot')}: ${row.name}`"
        @click="emit('cannotBe', row.levels)"
      >
        {{ t('ask.cannot') }}
      </button>
      <button
        v-else
        type="button"
        class="link-button"
        :disabled="!crossed && rows.length < 3"
        :aria-label="`${t('ask.remove')}: ${row.name || t('ask.treatmentN', { n: i + 1 })}`"
        @click="rows.splice(i, 1)"
      >
        {{ t('ask.remove') }}
      </button>
      <TreatmentDetails
        v-if="mayPlan"
        v-model="row.details"
        :treatment="row.id"
        :faults="faults ?? {}"
        :name="row.name"
        :workspace="workspace"
      />
    </div>
  </div>
  <button v-if="rows.some((row) => row.is_control)" type="button" class="link-button none" @click="noControl">
    {{ t('ask.noControl') }}
  </button>
</template>

<style scoped>
.rows {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.rows > div {
  display: grid;
  grid-template-columns: var(--tag, 40px) minmax(0, 1fr) 110px 100px 70px;
  gap: 10px;
  align-items: center;
}
.control {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 48px;
}
.control input {
  width: 22px;
  height: 22px;
  accent-color: var(--accent);
}
.none {
  align-self: flex-start;
}
@media (max-width: 720px) {
  .rows > div {
    grid-template-columns: var(--tag, 40px) minmax(0, 1fr) 84px;
    border-bottom: 1px solid var(--rule);
    padding-bottom: 8px;
  }
  .control {
    grid-column: 2;
  }
}
</style>
