<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, type Season, type Trial } from '@/api/queries'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import { newId } from '@/parts/newId'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'

/** The ends of the covers in one act: a date for each treatment, or days after an operation. */
const props = defineProps<{ trial: Trial; season: Season }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const covers = computed(() =>
  props.trial.treatments
    .map((one, index) => ({ ...one, index }))
    .filter((one) => one.details?.components?.length),
)
const after = ref<string | null>(null)
const rows = reactive<Record<string, { id: string; due: string; days: string }>>({})
const others = computed(() => props.season.operations.map((one) => ({ value: one.id, title: one.name })))
watch(
  open,
  (now) => {
    if (!now) return
    for (const one of covers.value) rows[one.id] = { id: newId(), due: '', days: '' }
  },
  { immediate: true },
)
const { problem, keep } = useKeep(open, () => {
  const dates = covers.value
    .filter((one) => rows[one.id]?.due || (after.value && rows[one.id]?.days.trim()))
    .map((one) => {
      const { id, due, days } = rows[one.id]!
      const name = t('season.killName', { code: one.code })
      return due
        ? { id, name, treatments: [one.id], due, after: null, after_days: 0 }
        : { id, name, treatments: [one.id], due: null, after: after.value, after_days: days }
    })
  return api.keepKillDates(props.trial.id, dates)
})
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t('season.killDates')"
    :act="t('season.keepKills')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    @act="keep"
  >
    <p class="quiet small">{{ t(covers.length ? 'season.killLead' : 'season.noCovers') }}</p>
    <v-select v-model="after" clearable :label="t('season.orDays')" :items="others" />
    <div v-for="one in covers" :key="one.id" class="row" role="group" :aria-label="one.name">
      <span class="name"><TreatmentTag :index="one.index" :code="one.code" /> {{ one.name }}</span>
      <template v-if="rows[one.id]">
        <v-text-field v-model="rows[one.id]!.due" type="date" :label="t('season.due')" />
        <v-text-field
          v-if="after"
          v-model="rows[one.id]!.days"
          :label="t('season.days')"
          :hint="t('season.daysHint')"
          inputmode="numeric"
        />
      </template>
    </div>
  </SheetDialog>
</template>

<style scoped>
p {
  margin: 0;
}
.row {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 12px;
  align-items: center;
}
.name {
  display: flex;
  gap: 8px;
  align-items: center;
  font-weight: 600;
}
</style>
