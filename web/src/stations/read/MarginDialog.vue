<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, type MeasureReading, type Trial } from '@/api/queries'
import SheetDialog from '@/parts/SheetDialog.vue'
import { placeOf } from '@/parts/placeOf'
import { useKeep } from '@/parts/useKeep'
import { useMeanwhile } from '@/parts/useMeanwhile'
import { plain } from '@/texts/format'

const props = defineProps<{ measure: MeasureReading; trial: Trial }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const size = ref('')
const kind = ref<MeasureReading['margin_kind']>('absolute')
const direction = ref<MeasureReading['direction']>('none')
const planned = ref<MeasureReading['planned_kind']>('none')
const reason = ref('')

const { theirs, opened, save } = useMeanwhile((current) => current as Trial['measures'][number])
watch(
  open,
  (now) => {
    if (!now) return
    opened(props.trial.measures.find((one) => one.id === props.measure.id))
    size.value = props.measure.margin === null ? '' : plain(props.measure.margin)
    kind.value = props.measure.margin_kind
    direction.value = props.measure.direction
    planned.value = props.measure.planned_kind
    reason.value = ''
  },
  { immediate: true },
)
const title = computed(() => t('margin.title', { m: props.measure.name }))
const kinds = computed(() => [
  { value: 'absolute', title: props.measure.difference_unit || '–' },
  { value: 'percent', title: t('margin.percent') },
])
const directions = computed(() =>
  ['higher', 'lower', 'none'].map((value) => ({ value, title: t(`margin.${value}`) })),
)
const TESTS = { none: 'plannedNone', equivalence: 'plannedEquivalence', 'non-inferiority': 'plannedNonInferiority' } as const // prettier-ignore
const tests = computed(() =>
  Object.entries(TESTS).map(([value, key]) => ({
    value,
    title: t(`margin.${key}`),
    props: { subtitle: t(`margin.when.${value}`) },
  })),
)

const { problem, keep } = useKeep(open, () =>
  save((etag) =>
    api.changeMeasure(
      props.measure.id,
      {
        margin: size.value,
        margin_kind: kind.value,
        direction: direction.value,
        planned: planned.value,
        reason: reason.value,
      },
      etag,
    ),
  ),
)
/** In the measure's own unit, as it is kept. */
const said = computed(() => {
  const now = theirs.value
  if (!now) return ''
  const unit = now.margin_kind === 'percent' ? '%' : now.unit
  return [
    typeof now.margin === 'number' ? `${plain(now.margin)} ${unit}` : '–',
    t(`margin.${now.direction ?? 'none'}`),
  ].join(', ')
})
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="title"
    :act="t('margin.keep')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    @act="keep"
  >
    <div class="row">
      <v-text-field
        v-model="size"
        :label="t('margin.size')"
        inputmode="decimal"
        :error-messages="placeOf(problem, 'margin')"
      />
      <v-select v-model="kind" :label="t('margin.unit')" :items="kinds" />
    </div>
    <div class="row">
      <v-select v-model="direction" :label="t('margin.direction')" :items="directions" />
      <v-select v-model="planned" :label="t('margin.planned')" :items="tests" />
    </div>
    <v-text-field v-model="reason" :label="t('margin.reason')" maxlength="100" />
    <p v-if="theirs" role="status">{{ t('app.theirs', { v: said }) }}</p>
  </SheetDialog>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
