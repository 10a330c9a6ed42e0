<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Assembled } from '@/api/queries'

/** What has to be settled before the table can be imported; the sentences and choices are the server's. */
const props = defineProps<{ questions: Assembled['questions'] }>()
const emit = defineEmits<{ answer: [question: string, choice: string] }>()
const { t } = useI18n()
const open = computed(() => props.questions.filter((q) => !q.answer || q.answer === 'stop').length)
</script>

<template>
  <section class="questions" aria-live="polite">
    <h2>{{ t('bring.questions', { n: questions.length }, questions.length) }}</h2>
    <p class="quiet small">
      {{ open ? t('bring.questionsOpen', { n: open }, open) : t('bring.questionsDone') }}
    </p>
    <fieldset v-for="q in questions" :key="q.id" :class="{ open: !q.answer || q.answer === 'stop' }">
      <legend>{{ q.why }}</legend>
      <table v-if="q.cells.length" class="plain cells">
        <thead>
          <tr>
            <th scope="col" class="right">{{ t('bring.line') }}</th>
            <th scope="col" class="right">{{ t('bring.written') }}</th>
            <th scope="col" class="right">{{ t('bring.withComma') }}</th>
            <th scope="col" class="right">{{ t('bring.withPoint') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in q.cells.slice(0, 8)" :key="c.line">
            <td class="right">{{ c.line }}</td>
            <td class="right">{{ c.text }}</td>
            <td v-for="(reading, i) in c.readings" :key="i" class="right">{{ reading }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="q.cells.length > 8" class="quiet small">
        {{ t('bring.moreCells', { n: q.cells.length - 8 }) }}
      </p>
      <v-radio-group
        :model-value="q.answer || null"
        :aria-label="q.why"
        hide-details
        @update:model-value="emit('answer', q.id, String($event))"
      >
        <v-radio v-for="c in q.choices" :key="c.key" :value="c.key" :label="c.text" />
      </v-radio-group>
      <p v-if="q.answer === 'stop'" class="small">{{ t('bring.stopped') }}</p>
    </fieldset>
  </section>
</template>

<style scoped>
fieldset {
  border: 0;
  border-left: 5px solid var(--rule);
  margin: 12px 0;
  padding: 4px 14px;
}
fieldset.open {
  border-left-color: var(--accent);
}
legend {
  float: left;
  width: 100%;
  padding: 0;
  font-weight: 600;
  max-width: 860px;
}
legend + * {
  clear: both;
}
.cells {
  width: auto;
  margin: 6px 0;
}
.cells th,
.cells td {
  padding-left: 18px;
}
</style>
