<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { sowApi, sowQuery, type DecisionIn, type Sow } from '@/api/sow'
import { faultsIn } from '@/parts/faults'
import { newId } from '@/parts/newId'
import ProblemNote from '@/parts/ProblemNote.vue'
import { day } from '@/texts/format'

/** What is looked at before the drill starts, and what was decided then. */
const props = defineProps<{ trial: Trial; sow: Sow; mayRecord: boolean }>()
const { t } = useI18n()
const queries = useQueryClient()
const ANSWERS = ['good', 'bad', 'unknown'] as const
const checks = reactive<DecisionIn['checks']>(
  Object.fromEntries(props.sow.checks.map((check) => [check, 'unknown'])),
)
const note = ref('')
let id = newId()
const {
  mutate: decide,
  isPending: busy,
  error: problem,
} = useMutation({
  mutationFn: async (decision: DecisionIn['decision']) => {
    const body = { day: props.sow.today, checks: { ...checks }, decision, note: note.value }
    const now = await sowApi.decide(props.trial.id, id, body)
    queries.setQueryData(sowQuery(props.trial.id).queryKey, now)
    id = newId()
    note.value = ''
  },
})
const faults = computed(() => faultsIn(problem.value))
</script>

<template>
  <p class="quiet small">{{ t('sow.goLead') }}</p>
  <form v-if="mayRecord" :aria-label="t('sow.section.go')" @submit.prevent>
    <fieldset v-for="check in sow.checks" :key="check" class="check">
      <legend>
        {{ t(`sow.checks.${check}`) }}
        <span v-if="check === 'weather' && sow.ahead.length" class="quiet small">{{
          sow.ahead.join(' ')
        }}</span>
      </legend>
      <label v-for="one in ANSWERS" :key="one" :class="one">
        <input v-model="checks[check]" type="radio" :name="`check-${check}`" :value="one" />
        {{ t(`sow.answers.${one}`) }}
      </label>
    </fieldset>
    <v-text-field
      v-model="note"
      :label="t('sow.goNote')"
      maxlength="300"
      :error-messages="faults.note ?? []"
      data-where="note"
    />
    <ProblemNote v-if="problem" :problem="problem" />
    <div class="acts">
      <v-btn color="accent" :disabled="busy" @click="decide('go')">{{ t('sow.go') }}</v-btn>
      <button type="button" class="pill" :disabled="busy" @click="decide('wait')">{{ t('sow.wait') }}</button>
    </div>
  </form>
  <p v-if="!sow.decisions.length" class="quiet small">{{ t('sow.noDecisions') }}</p>
  <ul v-else class="decided">
    <li v-for="one in sow.decisions" :key="one.id">
      {{ day(one.day) }}: <strong>{{ t(`sow.decided.${one.decision}`) }}</strong>, {{ one.by }}.
      {{ t(`sow.advice.${one.advice}`) }} {{ one.note }}
    </li>
  </ul>
</template>

<style scoped>
.check {
  border: 0;
  border-top: 1px solid var(--rule);
  padding: 4px 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0 18px;
  align-items: center;
}
legend {
  float: left;
  min-width: 240px;
  font-weight: 600;
}
label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 48px;
}
input {
  width: 22px;
  height: 22px;
  margin: 0;
  accent-color: var(--accent);
}
.acts {
  display: flex;
  gap: 14px;
  align-items: center;
  margin: 12px 0;
}
.decided {
  padding-left: 18px;
}
@media (max-width: 720px) {
  legend {
    width: 100%;
  }
}
</style>
