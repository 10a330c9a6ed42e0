<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { acts, type MeasureReading, type PlotValue } from '@/api/queries'
import ProblemNote from '@/parts/ProblemNote.vue'

const props = defineProps<{ measure: MeasureReading; plot: PlotValue }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const queries = useQueryClient()
const typed = ref('')
const why = ref('')
const problem = ref<Error | null>(null)
let id = ''

watch(
  open,
  (now) => {
    if (!now) return
    // One id for each time the dialog opens: sending it twice can't correct twice.
    id = crypto.randomUUID()
    typed.value = props.plot.value === null ? '' : String(props.plot.value)
    why.value = ''
    problem.value = null
  },
  { immediate: true },
)

async function keep() {
  try {
    await acts.correct(id, props.plot.observations[0]!, typed.value, why.value)
    await queries.invalidateQueries({ queryKey: ['trials'] })
    open.value = false
  } catch (error) {
    problem.value = error as Error
  }
}
</script>

<template>
  <v-dialog
    v-model="open"
    max-width="440"
    :aria-label="t('full.correctTitle', { p: plot.label, m: measure.name })"
  >
    <form class="sheet" @submit.prevent="keep">
      <h2>{{ t('full.correctTitle', { p: plot.label, m: measure.name }) }}</h2>
      <v-text-field
        v-model="typed"
        :label="measure.unit ? t('full.typed', { unit: measure.unit }) : t('full.typedPlain')"
        inputmode="decimal"
        autofocus
      />
      <v-text-field v-model="why" :label="t('full.why')" maxlength="300" />
      <ProblemNote v-if="problem" :problem="problem" />
      <div class="acts">
        <v-btn type="submit" color="accent">{{ t('full.keep') }}</v-btn>
        <button type="button" class="link-button" @click="open = false">{{ t('full.cancel') }}</button>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.sheet {
  background: var(--paper);
  color: var(--ink);
  border-radius: 12px;
  padding: 20px;
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.acts {
  display: flex;
  gap: 16px;
  align-items: center;
}
</style>
