<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { nextTick, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, type Doubt } from '@/api/queries'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useGround } from '@/shell/useGround'

const props = defineProps<{ trial: string; doubts: Doubt[]; mayAnswer: boolean; showSubject?: boolean }>()
const { t } = useI18n()
const queries = useQueryClient()
const { chosen } = useGround()
const open = ref<string | null>(null)
const note = ref('')
const problem = ref<Error | null>(null)

const spot = (d: Doubt) => `◎ ${d.plots.length > 3 ? d.plots.length : d.plots.join(', ')}`

async function begin(doubt: Doubt) {
  open.value = doubt.key
  note.value = doubt.answer?.note ?? ''
  problem.value = null
  await nextTick()
  document.getElementById('doubt-note')?.focus()
}
async function keep(doubt: Doubt) {
  try {
    await api.answerDoubt(props.trial, doubt.key, note.value)
    open.value = null
    await queries.invalidateQueries({ predicate: (q) => q.queryKey.includes('reading') })
  } catch (error) {
    problem.value = error as Error
  }
}
</script>

<template>
  <section class="doubts" :aria-label="t('doubts.title')">
    <h2>{{ t('doubts.title') }}</h2>
    <p v-if="!doubts.length" class="quiet">{{ t('doubts.none') }}</p>
    <article v-for="d in doubts" :key="d.key" class="doubt" :class="d.severity">
      <div class="head">
        <h3>{{ d.title }}</h3>
        <span class="severity">{{ t(`doubts.severity.${d.severity}`) }}</span>
        <span v-if="showSubject" class="quiet small">{{ d.subject || t('doubts.trial') }}</span>
      </div>
      <div>
        <p>{{ d.finding }}</p>
        <details>
          <summary>{{ t('doubts.why') }} · {{ t('doubts.what') }}</summary>
          <p>{{ d.why }}</p>
          <p>{{ d.what_to_do }}</p>
        </details>
        <p v-if="d.answer" class="answer">
          <strong>{{ t('doubts.answered', { by: d.answer.by }) }}</strong> {{ d.answer.note }}
        </p>
        <form v-if="open === d.key" class="form" @submit.prevent="keep(d)">
          <v-textarea id="doubt-note" v-model="note" :label="t('doubts.note')" rows="2" auto-grow />
          <ProblemNote v-if="problem" :problem="problem" />
          <button type="submit" class="pill">{{ t('doubts.keep') }}</button>
          <button type="button" class="link-button" @click="open = null">{{ t('doubts.cancel') }}</button>
        </form>
      </div>
      <div class="acts">
        <button
          v-if="mayAnswer && open !== d.key"
          type="button"
          class="link-button"
          :aria-label="`${t(d.answer ? 'doubts.change' : 'doubts.answer')}: ${d.title}`"
          @click="begin(d)"
        >
          {{ t(d.answer ? 'doubts.change' : 'doubts.answer') }}
        </button>
        <button
          v-if="d.plots.length"
          type="button"
          class="link-button"
          :aria-label="`${spot(d)}: ${d.title}`"
          @click="chosen = [...d.plots]"
        >
          {{ spot(d) }}
        </button>
      </div>
    </article>
  </section>
</template>

<style scoped>
.doubts {
  margin-top: 22px;
}
.doubt {
  display: grid;
  grid-template-columns: 170px 1fr auto;
  gap: 6px 18px;
  padding: 9px 0;
  border-top: 1px solid var(--rule);
}
.head {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
}
.severity {
  font-size: 12px;
  color: var(--quiet);
}
.weakens .severity {
  color: var(--unsettled);
  font-weight: 650;
}
.stops .severity {
  color: var(--loss);
  font-weight: 700;
}
p {
  margin: 0;
}
.answer {
  margin-top: 4px;
  padding-left: 10px;
  border-left: 3px solid var(--rule);
}
.form {
  margin-top: 8px;
  max-width: 560px;
}
.form .pill {
  margin: 8px 12px 0 0;
}
.acts {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
}
@media (max-width: 900px) {
  .doubt {
    grid-template-columns: 1fr;
  }
  .head {
    flex-direction: row;
    gap: 10px;
    align-items: baseline;
  }
  .acts {
    align-items: flex-start;
    flex-direction: row;
    gap: 16px;
  }
}
</style>
