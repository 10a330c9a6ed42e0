<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { isTakenOut } from '@/api/client'
import { api, trialQueries, type Trial } from '@/api/queries'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useGround } from '@/shell/useGround'

/** Plots that change places by hand after chance has drawn the plan. */
const props = defineProps<{ trial: Trial; mayDraw: boolean }>()
const { t } = useI18n()
const queries = useQueryClient()
const { chosen } = useGround()
const why = ref('')
const two = computed(() =>
  chosen.value.length === 2
    ? chosen.value.flatMap((label) => props.trial.plots.find((plot) => plot.label === label) ?? [])
    : [],
)

const {
  mutate: swap,
  isPending: busy,
  error: problem,
} = useMutation({
  mutationFn: async (although: boolean) => {
    const [a, b] = two.value
    if (!a || !b) return
    const now = await api.swap(props.trial.id, { first: a.id, second: b.id, why: why.value }, although)
    queries.setQueryData(trialQueries.one(props.trial.id).queryKey, now)
    why.value = ''
  },
})
</script>

<template>
  <section v-if="mayDraw || trial.moved.length" class="moved">
    <h2>{{ t('plan.moved.title') }}</h2>
    <ul v-if="trial.moved.length">
      <li v-for="one in trial.moved" :key="one.at">{{ t('plan.moved.so', one) }}</li>
    </ul>
    <template v-if="mayDraw">
      <p class="quiet small">{{ t('plan.moved.lead') }}</p>
      <form v-if="two.length === 2" @submit.prevent="swap(false)">
        <strong>{{ t('plan.moved.two', { a: two[0]!.label, b: two[1]!.label }) }}</strong>
        <v-text-field v-model="why" :label="t('plan.moved.why')" maxlength="200" />
        <v-btn type="submit" :loading="busy">{{ t('plan.moved.act') }}</v-btn>
      </form>
      <ProblemNote
        v-if="problem"
        :problem="problem"
        :again="isTakenOut(problem) ? () => swap(true) : undefined"
        :act="t('app.changeMapAnyway')"
      />
    </template>
  </section>
</template>

<style scoped>
form {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
.v-text-field {
  flex: 1 1 240px;
  max-width: 420px;
}
</style>
