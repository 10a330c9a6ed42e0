<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { acts, type MeasureReading, type PlotValue } from '@/api/queries'
import { newId } from '@/parts/newId'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'

const props = defineProps<{ measure: MeasureReading; plot: PlotValue; sample: number }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const typed = ref('')
const why = ref('')
let id = ''
const title = computed(() =>
  t(props.plot.observations.length > 1 ? 'full.correctSampleTitle' : 'full.correctTitle', {
    p: props.plot.label,
    m: props.measure.name,
    n: props.sample + 1,
  }),
)

watch(
  open,
  (now) => {
    if (!now) return
    // One id for each time the dialog opens: sending it twice can't correct twice.
    id = newId()
    typed.value = String(props.plot.samples[props.sample] ?? '')
    why.value = ''
  },
  { immediate: true },
)

const { problem, keep } = useKeep(open, () =>
  acts.correct(id, props.plot.observations[props.sample]!, typed.value, why.value),
)
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="title"
    :act="t('full.keep')"
    :cancel="t('full.cancel')"
    :problem="problem"
    @act="keep"
  >
    <v-text-field
      v-model="typed"
      :label="measure.unit ? t('full.typed', { unit: measure.unit }) : t('full.typedPlain')"
      inputmode="decimal"
    />
    <v-text-field v-model="why" :label="t('full.why')" maxlength="300" />
  </SheetDialog>
</template>
