<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, type Row, type Trial, type Visit } from '@/api/queries'
import type { Outbox } from '@/offline/sending'
import { newId } from '@/parts/newId'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useRequired } from '@/parts/useRequired'
import { capital } from '@/texts/format'

import { figureOf } from './figureOf'
import { keyOf } from '@/offline/cells'
import { GUESS } from './useSheet'

/** Two people's figures for one place: both are shown, and a person says which stays, and why. */
/** `about`: what the outbox calls the visit, and where it is shown. */
const props = defineProps<{
  trial: Trial
  visit: Visit
  outbox: Outbox
  about: { said: string; path: string }
}>()
const emit = defineEmits<{ decided: [visit: Visit] }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const keep = ref('')
const why = ref('')
const problem = ref<Error | null>(null)
let id = ''

const conflicting = computed(() => props.visit.conflicts[0]!)
const standing = computed(() => props.visit.rows.find((row) => keyOf(row) === keyOf(conflicting.value)))
const both = computed(() => [standing.value, conflicting.value].filter((row): row is Row => !!row))
const plot = computed(() => props.trial.plots.find((one) => one.id === conflicting.value.unit)?.label)
const measure = computed(() => props.visit.measures.find((m) => m.id === conflicting.value.measure))
/** Which of the plot’s values of the visit it is. */
const where = computed(() => {
  const { component, zone, sample } = conflicting.value
  const of = measure.value?.samples ?? 1
  const name = capital(measure.value?.sample_name ?? '')
  return [measure.value?.name, component, zone, of > 1 && t('walk.sampleOf', { name, n: sample, of })]
    .filter(Boolean)
    .join(' · ')
})

watch(
  [open, conflicting],
  () => {
    id = newId()
    keep.value = standing.value?.id ?? ''
    why.value = ''
    problem.value = null
  },
  { immediate: true },
)
function said(row: Row): string {
  if (row.missing_status) return `${t(`walk.missingStatus.${row.missing_status}`)}: ${row.missing_reason}`
  const typed = Object.entries(row.fields)
    .filter(([field, text]) => field !== GUESS && text)
    .map(([, text]) => text)
    .join(' · ')
  const figure = measure.value && figureOf(row, measure.value)
  return figure ? `${typed} (${figure} ${measure.value!.unit})` : typed
}
const onThisPage = (visit: Visit) =>
  visit.page === props.visit.page ? visit : api.visit(visit.id, { page: props.visit.page })
/** The decision waits on this device; nobody has to make it again. */
const withoutConflict = (id: string): Visit => ({
  ...props.visit,
  conflicts: props.visit.conflicts.filter((row) => row.id !== id),
})
const { missing, missingAt, complete } = useRequired(
  () => (why.value.trim() ? [] : [{ where: 'why', what: t('missing.reason') }]),
  open,
)
async function settle() {
  if (!complete()) return
  try {
    const change = { id, conflicting: conflicting.value.id, keep: keep.value, why: why.value }
    const { said, path } = props.about
    const answer = (await props.outbox.perform(
      { kind: 'decision', visit: props.visit.id, ...change },
      said,
      path,
    )) as Visit | null
    const visit = answer ? await onThisPage(answer) : withoutConflict(change.conflicting)
    if (!visit.conflicts.length) open.value = false
    emit('decided', visit)
  } catch (error) {
    problem.value = error as Error
  }
}
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t('walk.conflict', { p: plot, where })"
    :act="t('walk.decide')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    :missing="missing"
    @act="settle"
  >
    <fieldset>
      <legend class="seen-by-readers-only">{{ t('walk.whichStays') }}</legend>
      <label v-for="row in both" :key="row.id">
        <input v-model="keep" type="radio" name="keep" :value="row.id" />
        <span
          ><strong>{{ said(row) }}</strong> {{ row.by }}</span
        >
      </label>
    </fieldset>
    <v-text-field
      v-model="why"
      data-where="why"
      :label="t('missing.required', { label: t('walk.why') })"
      :error-messages="missingAt('why')"
      aria-required="true"
      maxlength="300"
    />
  </SheetDialog>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
label {
  display: flex;
  gap: 12px;
  align-items: center;
  min-height: 48px;
}
input {
  width: 22px;
  height: 22px;
  accent-color: var(--accent);
}
</style>
