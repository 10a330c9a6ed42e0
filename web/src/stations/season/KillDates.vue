<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, type Season, type Trial } from '@/api/queries'
import { stagesQuery } from '@/api/stages'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import { newId } from '@/parts/newId'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'

import { emptyTrigger, triggerBody } from './trigger'

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
const by = ref<'date' | 'after' | 'stage'>('date')
const WAYS = ['date', 'after', 'stage'] as const
const rows = reactive<
  Record<string, { id: string; due: string; days: string; plant: string; stage: string }>
>({})
const { data: stages } = useQuery(computed(() => ({ ...stagesQuery(props.trial.id), enabled: open.value })))
const plantsOf = (treatment: string) =>
  (stages.value?.plants ?? [])
    .filter((one) => one.treatments.includes(treatment))
    .map((one) => ({ value: one.key, title: one.name }))
/** The plant that was chosen, else the treatment’s first. */
const plantOf = (treatment: string) => rows[treatment]?.plant || (plantsOf(treatment)[0]?.value ?? '')
const stagesOf = (plant: string) =>
  (stages.value?.plants.find((one) => one.key === plant)?.stages ?? [])
    .filter((one) => one.code > 0)
    .map((one) => ({ value: String(one.code), title: `${one.code} · ${one.seen}` }))
const others = computed(() => props.season.operations.map((one) => ({ value: one.id, title: one.name })))
watch(
  open,
  (now) => {
    if (!now) return
    for (const one of covers.value) {
      rows[one.id] = { id: newId(), due: '', days: '', plant: '', stage: '' }
    }
  },
  { immediate: true },
)
/** Whether a row has what its way of saying when needs. */
function given(row?: { due: string; days: string; stage: string }): boolean {
  if (!row) return false
  return Boolean(
    by.value === 'date' ? row.due : by.value === 'stage' ? row.stage : after.value && row.days.trim(),
  )
}
const { problem, keep } = useKeep(open, () => {
  const dates = covers.value
    .filter((one) => given(rows[one.id]))
    .map((one) => {
      const { id, due, days, stage } = rows[one.id]!
      const plant = plantOf(one.id)
      const trigger =
        by.value === 'stage' ? triggerBody({ ...emptyTrigger('stage'), plant, value: stage }) : null
      return {
        id, name: t('season.killName', { code: one.code }), treatments: [one.id], trigger,
        due: by.value === 'date' ? due : null,
        after: by.value === 'after' ? after.value : null, after_days: by.value === 'after' ? days : 0,
      } // prettier-ignore
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
    <v-select
      v-model="by"
      :label="t('season.when')"
      :items="WAYS.map((value) => ({ value, title: t(`season.whens.${value}`) }))"
    />
    <v-select v-if="by === 'after'" v-model="after" :label="t('season.orDays')" :items="others" />
    <div v-for="one in covers" :key="one.id" class="row" role="group" :aria-label="one.name">
      <span class="name"><TreatmentTag :index="one.index" :code="one.code" /> {{ one.name }}</span>
      <template v-if="rows[one.id]">
        <v-text-field v-if="by === 'date'" v-model="rows[one.id]!.due" type="date" :label="t('season.due')" />
        <v-text-field
          v-else-if="by === 'after'"
          v-model="rows[one.id]!.days"
          :label="t('season.days')"
          :hint="t('season.daysHint')"
          inputmode="numeric"
        />
        <template v-else>
          <v-select
            v-if="plantsOf(one.id).length > 1"
            :model-value="plantOf(one.id)"
            :items="plantsOf(one.id)"
            :label="t('stages.plant')"
            @update:model-value="rows[one.id]!.plant = $event"
          />
          <v-select
            v-model="rows[one.id]!.stage"
            class="stage"
            :items="stagesOf(plantOf(one.id))"
            :label="t('stages.stage')"
          />
        </template>
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
