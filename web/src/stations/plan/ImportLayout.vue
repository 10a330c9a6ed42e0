<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { isTakenOut } from '@/api/client'
import { api, trialQueries, type Trial } from '@/api/queries'
import ProblemNote from '@/parts/ProblemNote.vue'

import { DESIGNS, type Design } from './designs'

/** A layout that lies in the field already, from a file; its design and how its plots came to their treatments are asked. */
const props = defineProps<{
  trial: Trial
  size: { width: string; length: string; gap: string; alley: string }
}>()
const { t } = useI18n()
const queries = useQueryClient()
const placed = ref<Trial['allocation'] | null>(null)
const design = ref<Design | ''>('')
const taken = ref(0)
const ways = computed(() =>
  (['drawn', 'systematic', 'unknown'] as const).map((value) => ({
    value,
    title: t(`plan.file.placed.${value}`),
  })),
)
const designs = computed(() => [
  { value: '', title: t('plan.file.designInFile') },
  ...DESIGNS.map((value) => ({ value, title: t(`plan.designs.${value}`) })),
])

let picked: File | undefined
function pick(event: Event) {
  const input = event.target as HTMLInputElement
  picked = input.files?.[0]
  input.value = ''
  take(false)
}
const {
  mutate: take,
  isPending: busy,
  error: problem,
} = useMutation({
  mutationFn: async (although: boolean) => {
    if (!picked || !placed.value) return
    taken.value = 0
    const said = { ...props.size, allocation: placed.value, design: design.value }
    const now = await api.importLayout(props.trial.id, picked, said, although)
    queries.setQueryData(trialQueries.one(props.trial.id).queryKey, now)
    taken.value = now.plots.length
    await queries.invalidateQueries({ queryKey: ['trials'] })
  },
})
</script>

<template>
  <details class="file">
    <summary>{{ t('plan.file.title') }}</summary>
    <p class="quiet small">{{ t('plan.file.lead') }}</p>
    <v-select v-model="design" :items="designs" :label="t('plan.file.design')" />
    <v-select v-model="placed" :items="ways" :label="t('plan.file.how')" />
    <label v-if="placed" class="pill pick"
      >{{ t('plan.file.pick')
      }}<input
        class="seen-by-readers-only"
        type="file"
        accept=".csv,.txt,.tsv,.geojson,.json,text/csv,application/geo+json"
        :disabled="busy"
        @change="pick"
    /></label>
    <p v-if="taken" role="status">{{ t('plan.file.taken', { n: taken }) }}</p>
    <ProblemNote
      v-if="problem"
      :problem="problem"
      :again="isTakenOut(problem) ? () => take(true) : undefined"
      :act="t('app.changeMapAnyway')"
    />
  </details>
</template>

<style scoped>
.file {
  margin-top: 16px;
}
.v-select {
  max-width: 460px;
  margin-bottom: 10px;
}
.pick {
  display: inline-flex;
  align-items: center;
  min-height: 40px;
  cursor: pointer;
}
.pick:focus-within {
  outline: 3px solid var(--link);
  outline-offset: 2px;
}
@media (max-width: 720px) {
  .pick {
    min-height: 48px;
  }
}
</style>
