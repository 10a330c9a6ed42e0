<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import type { Stages } from '@/api/stages'
import { keepStage } from '@/offline/keepStage'
import { faultsIn } from '@/parts/faults'
import { newId } from '@/parts/newId'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'
import { useRequired } from '@/parts/useRequired'
import { useGround } from '@/shell/useGround'

/** A stage that somebody sees: of a plant, in one or more treatments, or in the plots that are marked on the map. */
const props = defineProps<{
  trial: Trial
  stages: Stages
  of: { plant: string; treatment: string }
}>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const CROP = 'crop:'
const plant = ref('')
const crop = ref('')
const treatments = ref<string[]>([])
const code = ref<number | null>(null)
const when = ref('')
const note = ref('')
const onlyMarked = ref(false)
const { chosen } = useGround()

const plants = computed(() => [
  ...props.stages.plants.map((one) => ({ value: one.key, title: one.name })),
  { value: CROP, title: t('stages.anotherCrop') },
])
const key = computed(() => (plant.value === CROP ? `${CROP}${crop.value.trim()}` : plant.value))
const chosenPlant = computed(() => props.stages.plants.find((one) => one.key === key.value))
const growing = computed(() => {
  const own = chosenPlant.value?.treatments
  return props.trial.treatments
    .filter((one) => !own || own.includes(one.id))
    .map((one) => ({ value: one.id, title: `${one.code} ${one.name}` }))
})
const choices = computed(() =>
  (chosenPlant.value?.stages ?? [])
    .filter((one) => one.code > 0)
    .map((one) => ({
      value: one.code,
      title: `${one.code} · ${one.seen}${one.older ? ` · ${t('stages.older', { old: one.older })}` : ''}`,
    })),
)
/** Marked plots by treatment; a stage belongs to one. */
const marked = computed(() => {
  const found = new Map<string, string[]>()
  for (const plot of props.trial.plots)
    if (chosen.value.includes(plot.label) && plot.treatment)
      found.set(plot.treatment, [...(found.get(plot.treatment) ?? []), plot.label])
  return found
})
watch(
  open,
  (now) => {
    if (!now) return
    plant.value = props.of.plant || (props.stages.plants.length === 1 ? props.stages.plants[0]!.key : '')
    treatments.value = props.of.treatment ? [props.of.treatment] : []
    code.value = null
    when.value = props.stages.today
    note.value = crop.value = ''
    onlyMarked.value = false
  },
  { immediate: true },
)
watch(plant, (now) => {
  const own = props.stages.plants.find((one) => one.key === now)?.treatments
  treatments.value = treatments.value.filter((one) => !own || own.includes(one))
  if (own?.length === 1) treatments.value = [...own]
})
const { missing, missingAt, complete } = useRequired(() => {
  const out = []
  if (!key.value || key.value === CROP) out.push({ where: 'plant', what: t('stages.needs.plant') })
  if (!treatments.value.length && !onlyMarked.value)
    out.push({ where: 'treatment', what: t('stages.needs.treatment') })
  if (code.value === null || Number.isNaN(Number(code.value)))
    out.push({ where: 'stage', what: t('stages.needs.stage') })
  return out
}, open)
const { problem, keep } = useKeep(open, async () => {
  if (!complete()) return false
  const name = t('stages.of', { plant: chosenPlant.value?.name ?? crop.value, code: code.value })
  const where: [string, string[]][] = onlyMarked.value
    ? [...marked.value].map(([treatment, plots]) => [treatment, plots])
    : treatments.value.map((treatment) => [treatment, []])
  for (const [treatment, plots] of where) {
    const body = {
      treatment,
      plant: key.value,
      code: Number(code.value),
      day: when.value,
      plots,
      note: note.value,
    }
    await keepStage(props.trial, newId(), body, name)
  }
})
const faults = computed(() => faultsIn(problem.value))
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t('stages.enter')"
    :act="t('stages.keep')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    :missing="missing"
    @act="keep"
  >
    <v-select
      v-model="plant"
      data-where="plant"
      :items="plants"
      :label="t('stages.plant')"
      :error-messages="missingAt('plant')[0] ?? faults.plant ?? ''"
    />
    <v-combobox
      v-if="plant === CROP"
      v-model="crop"
      :items="stages.crops"
      :label="t('stages.crop')"
      :hint="t('stages.cropHint')"
      persistent-hint
    />
    <v-select
      v-if="!onlyMarked"
      v-model="treatments"
      data-where="treatment"
      multiple
      chips
      :items="growing"
      :label="t('stages.treatments')"
      :error-messages="missingAt('treatment')"
    />
    <v-checkbox
      v-if="marked.size"
      v-model="onlyMarked"
      :label="t('stages.marked', { n: chosen.length }, chosen.length)"
      hide-details
    />
    <v-select
      v-if="choices.length"
      v-model="code"
      data-where="stage"
      :items="choices"
      :label="t('stages.stage')"
      :error-messages="missingAt('stage')[0] ?? faults.stage ?? ''"
    />
    <v-text-field
      v-else
      v-model="code"
      data-where="stage"
      inputmode="numeric"
      :label="t('stages.stageNumber')"
      :error-messages="missingAt('stage')[0] ?? faults.stage ?? faults.code ?? ''"
    />
    <v-text-field
      v-model="when"
      type="date"
      :max="stages.today"
      :label="t('stages.day')"
      :error-messages="faults.day ?? ''"
    />
    <v-text-field v-model="note" :label="t('season.note')" maxlength="300" />
  </SheetDialog>
</template>
