<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, trialQueries, type Trial } from '@/api/queries'
import ProblemNote from '@/parts/ProblemNote.vue'
import { faultsIn } from '@/parts/faults'
import { useMeanwhile } from '@/parts/useMeanwhile'
import { plain, shownIn } from '@/texts/format'

/** How wide the workspace's machines work; every plan of the workspace is fitted to them. */
const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const queries = useQueryClient()
const MACHINES = [
  'drill',
  'combine',
  'sprayer',
  'sprayer_section',
  'spreader',
  'mower',
  'roller',
  'cultivator',
  'row_spacing',
] as const
const typed = (metres: number | null) => (metres === null ? '' : shownIn(props.trial.length_factor, metres))
const widths = reactive(
  Object.fromEntries(MACHINES.map((key) => [key, typed(props.trial.equipment[key])])) as Record<
    (typeof MACHINES)[number],
    string
  >,
)
const rows = ref(props.trial.equipment.rows_caught === null ? '' : plain(props.trial.equipment.rows_caught))
const faults = computed(() => faultsIn(problem.value))
const { theirs, opened, save } = useMeanwhile((current) => {
  const { equipment } = current as { equipment: Trial['equipment'] }
  return { ...equipment, etag: '*' } // seen now, so the next save is made from it
})
opened({ etag: props.trial.etags.equipment })
const differing = computed(() =>
  MACHINES.filter((key) => theirs.value && typed(theirs.value[key]) !== widths[key])
    .map((key) => `${t(`plan.machine.${key}`)} ${typed(theirs.value![key]) || '–'}`)
    .join(', '),
)

const {
  mutate: keep,
  isPending: busy,
  error: problem,
} = useMutation({
  mutationFn: async () => {
    await save((etag) =>
      api.keepEquipment(props.trial.workspace, { ...widths, rows_caught: rows.value }, etag),
    )
    const now = await queries.fetchQuery({ ...trialQueries.one(props.trial.id), staleTime: 0 })
    opened({ etag: now.etags.equipment })
  },
})
</script>

<template>
  <details class="machines">
    <summary>{{ t('plan.machines') }}</summary>
    <p class="quiet small">{{ t('plan.machinesLead') }}</p>
    <form :aria-label="t('plan.machines')" @submit.prevent="keep()">
      <v-text-field
        v-for="key in MACHINES"
        :key="key"
        v-model="widths[key]"
        :label="t(`plan.machine.${key}`)"
        :suffix="trial.length_unit"
        inputmode="decimal"
        :error-messages="faults[key] ?? []"
      />
      <v-text-field
        v-model="rows"
        :label="t('plan.machine.rows_caught')"
        inputmode="numeric"
        :error-messages="faults.rows_caught ?? []"
      />
      <button type="submit" class="pill" :disabled="busy">{{ t('plan.keepMachines') }}</button>
    </form>
    <ProblemNote v-if="problem" :problem="problem" />
    <p v-if="differing" role="status">{{ t('app.theirs', { v: differing }) }}</p>
  </details>
</template>

<style scoped>
.machines {
  width: 100%;
}
form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 12px;
  align-items: center;
}
</style>
