<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial, Visit } from '@/api/queries'
import type { Step } from '@/offline/cells'
import SheetDialog from '@/parts/SheetDialog.vue'

import DrawnArea from './DrawnArea.vue'
import type { Sheet } from '@/stations/walk/useSheet'

/** Draws an area of a plot on a computer; only what is saved enters the sheet, so that a stroke isn’t an entry. */
const props = defineProps<{ trial: Trial; visit: Visit; sheet: Sheet; step: Step }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const plot = computed(() => props.trial.plots.find((one) => one.id === props.step.unit)!)
const measure = computed(() => props.visit.measures.find((m) => m.id === props.step.measure)!)
const text = ref('')
watch(open, (now) => now && (text.value = props.sheet.cell(props.step).fields[props.step.field] ?? ''))
function save() {
  props.sheet.type(props.step, text.value)
  void props.sheet.finish(props.step)
  open.value = false
}
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t('walk.drawn.title', { m: measure.name, p: plot.label })"
    :act="t('walk.drawn.save')"
    :cancel="t('walk.drawn.cancel')"
    :problem="null"
    @act="save"
  >
    <DrawnArea
      :trial="trial"
      :plot="plot"
      :measure="measure"
      :corner="visit.places.corner"
      :text="text"
      :disabled="false"
      @drawn="text = $event"
    />
  </SheetDialog>
</template>
