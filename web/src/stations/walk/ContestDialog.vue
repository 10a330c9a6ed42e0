<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { acts, type Row, type Trial, type Visit } from '@/api/queries'
import { newId } from '@/parts/newId'
import SheetDialog from '@/parts/SheetDialog.vue'
import { plain } from '@/texts/format'

import { keyOf } from './cells'

/** Two people's figures for one place: both are shown, and a person says which stays, and why. */
const props = defineProps<{ trial: Trial; visit: Visit }>()
const emit = defineEmits<{ decided: [visit: Visit] }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const keep = ref('')
const why = ref('')
const problem = ref<Error | null>(null)
let id = ''

const contested = computed(() => props.visit.contested[0]!)
const standing = computed(() => props.visit.rows.find((row) => keyOf(row) === keyOf(contested.value)))
const both = computed(() => [standing.value, contested.value].filter((row): row is Row => !!row))
const plot = computed(() => props.trial.plots.find((one) => one.id === contested.value.unit)?.label)
const measure = computed(() => props.visit.measures.find((m) => m.id === contested.value.measure))

watch(
  [open, contested],
  () => {
    id = newId()
    keep.value = standing.value?.id ?? ''
    why.value = ''
    problem.value = null
  },
  { immediate: true },
)
function said(row: Row): string {
  if (row.fate) return `${t(`walk.fate.${row.fate}`)}: ${row.missing_reason}`
  const typed = Object.values(row.fields).join(' · ')
  if (row.value === null || !measure.value) return typed
  const value = plain(Number((row.value * measure.value.factor).toPrecision(3)))
  return `${typed} (${value} ${measure.value.unit})`
}
async function settle() {
  try {
    const visit = await acts.decide(
      contested.value.id,
      { id, keep: keep.value, why: why.value },
      props.visit.page,
    )
    if (!visit.contested.length) open.value = false
    emit('decided', visit)
  } catch (error) {
    problem.value = error as Error
  }
}
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="
      t('walk.contest', {
        p: plot,
        m: [measure?.name, contested.zone].filter(Boolean).join(', '),
        n: contested.sample,
      })
    "
    :act="t('walk.decide')"
    :cancel="t('margin.cancel')"
    :problem="problem"
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
    <v-text-field v-model="why" :label="t('walk.why')" maxlength="300" />
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
