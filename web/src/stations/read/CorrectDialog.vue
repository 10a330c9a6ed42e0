<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, type CorrectedField, type MeasureReading, type PlotValue } from '@/api/queries'
import { newId } from '@/parts/newId'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'
import { useRequired } from '@/parts/useRequired'

/** A value is corrected as it was entered: by the fields of its sheet, with the sheet's rules. */
const props = defineProps<{ measure: MeasureReading; plot: PlotValue; sample: number }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const fields = ref<CorrectedField[]>([])
const why = ref('')
const asked = ref('')
const confirmed = ref(false)
const failed = ref<Error | null>(null)
let id = ''
const row = computed(() => props.plot.observations[props.sample]!)
const title = computed(() =>
  t(props.plot.observations.length > 1 ? 'full.correctSampleTitle' : 'full.correctTitle', {
    p: props.plot.label,
    m: props.measure.name,
    n: props.sample + 1,
  }),
)

watch(
  open,
  async (now) => {
    if (!now) return
    // One id for each time the dialog opens: sending it twice can't correct twice.
    id = newId()
    why.value = ''
    asked.value = ''
    confirmed.value = false
    failed.value = null
    fields.value = []
    try {
      fields.value = (await api.observation(row.value)).fields
    } catch (error) {
      failed.value = error as Error
    }
  },
  { immediate: true },
)

const { problem, keep } = useKeep(open, async () => {
  const typed = Object.fromEntries(fields.value.map((field) => [field.key, field.typed]))
  const outcome = await api.correct(id, row.value, typed, why.value, confirmed.value)
  asked.value = outcome.state === 'question' ? outcome.message : ''
  return outcome.state !== 'question'
})
const { missing, missingAt, complete } = useRequired(
  () => (why.value.trim() ? [] : [{ where: 'why', what: t('missing.reason') }]),
  open,
)
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="title"
    :act="t('full.keep')"
    :cancel="t('full.cancel')"
    :problem="failed ?? problem"
    :missing="missing"
    @act="complete() && keep()"
  >
    <v-text-field
      v-for="field in fields"
      :key="field.key"
      v-model="field.typed"
      :label="field.unit ? `${field.name} (${field.unit})` : field.name"
      inputmode="decimal"
      @update:model-value="asked = ''"
    />
    <v-text-field
      v-model="why"
      data-where="why"
      :label="t('missing.required', { label: t('full.why') })"
      :error-messages="missingAt('why')"
      aria-required="true"
      maxlength="200"
    />
    <template v-if="asked">
      <p class="asked" role="alert">{{ asked }}</p>
      <v-checkbox v-model="confirmed" :label="t('full.isRight')" hide-details />
    </template>
  </SheetDialog>
</template>

<style scoped>
.asked {
  border-left: 5px solid var(--unsettled);
  padding: 4px 12px;
  margin: 6px 0;
}
</style>
