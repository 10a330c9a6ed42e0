<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Cell, Trial } from '@/api/queries'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import { faultsIn } from '@/parts/faults'
import DownloadTable from '@/parts/DownloadTable.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { toneOf } from '@/figures/verdicts'

import { useRehearsal } from './useRehearsal'

/** Invent a truth, and see which verdicts the board would give. */
const props = defineProps<{ trial: Trial; wholeShare: string }>()
const { t } = useI18n()
const { done, wanted, busy, problem, ran, rehearse, stop } = useRehearsal(() => props.trial.id)
const MANY = 500

const base = computed(
  () => props.trial.treatments.find((one) => one.is_control) ?? props.trial.treatments[0]!,
)
const others = computed(() => props.trial.treatments.filter((one) => one.id !== base.value.id))
const truths = reactive<Record<string, string>>({})
const lost = ref('')
const faults = computed(() => faultsIn(problem.value))
const index = (id: string) => props.trial.treatments.findIndex((one) => one.id === id)
const treatment = (id: string) => props.trial.treatments[index(id)]!

function start(seasons: number) {
  const margins: Record<string, string> = {}
  for (const one of others.value) margins[one.id] = truths[one.id] ?? ''
  const labels = lost.value.split(/[,;\s]+/).filter(Boolean)
  void rehearse({ margins, lost: labels, whole_share: props.wholeShare }, seasons)
}
/** Room for the longest code on its colour. */
const tag = computed(() => Math.max(44, 14 + 8 * Math.max(...others.value.map((one) => one.code.length))))
const inOrder = <T extends { treatment: string }>(cells: T[]) =>
  [...cells].sort((a, b) => index(a.treatment) - index(b.treatment))
/** Verdicts with their share, the most frequent first. */
function shares(counts: Record<string, number>) {
  return Object.entries(counts)
    .sort((a, b) => b[1] - a[1])
    .map(([verdict, n]) => ({
      verdict: verdict as Cell['verdict'],
      percent: 200 * n < ran.value ? t('plan.underOne') : String(Math.round((100 * n) / ran.value)),
    }))
}
</script>

<template>
  <section class="rehearsal" :aria-labelledby="`rehearsal-${trial.id}`">
    <h2 :id="`rehearsal-${trial.id}`">{{ t('plan.rehearsal') }}</h2>
    <p class="quiet small">{{ t('plan.rehearsalLead') }}</p>
    <form @submit.prevent="start(MANY)">
      <div class="truths" :style="{ '--tag': `${tag}px` }">
        <div v-for="one in others" :key="one.id" class="truth">
          <TreatmentTag :index="index(one.id)" :code="one.code" />
          <span>{{ one.name }}</span>
          <v-text-field
            v-model="truths[one.id]"
            density="compact"
            :aria-label="t('plan.truly', { name: one.name })"
            :suffix="t('plan.margins')"
            placeholder="0"
            persistent-placeholder
            inputmode="decimal"
            :error-messages="faults[`margins.${one.id}`] ?? []"
          />
        </div>
      </div>
      <div class="acts">
        <v-text-field
          v-model="lost"
          class="lost"
          :label="t('plan.lostPlots')"
          persistent-placeholder
          :placeholder="t('plan.lostExample')"
        />
        <button type="button" class="pill" :disabled="busy" @click="start(1)">
          {{ t('plan.rehearseOne') }}
        </button>
        <button type="submit" class="pill" :disabled="busy">{{ t('plan.rehearseMany') }}</button>
        <button v-if="busy" type="button" class="pill" @click="stop">{{ t('plan.stop') }}</button>
      </div>
    </form>
    <ProblemNote v-if="problem" :problem="problem" />
    <p v-if="done || busy" role="status" class="small">{{ t('plan.ran', { n: ran, all: wanted }) }}</p>
    <progress v-if="busy" :value="ran" :max="wanted" :aria-label="t('plan.rehearsal')" />
    <template v-if="done">
      <DownloadTable v-for="m in done.measures" :key="m.name" :name="t('plan.rehearsal')" :of="m.name">
        <table class="counts">
          <caption>
            {{
              t('plan.often', { m: m.name })
            }}
          </caption>
          <tbody>
            <tr v-for="cell in inOrder(m.cells)" :key="cell.treatment">
              <th scope="row">
                <TreatmentTag :index="index(cell.treatment)" :code="treatment(cell.treatment).code" />
              </th>
              <td>
                <span
                  v-for="part in shares(cell.counts)"
                  :key="part.verdict"
                  class="part"
                  :class="`tone-${toneOf(part.verdict)}`"
                  ><b>{{ part.percent }} %</b> {{ t(`read.verdict.${part.verdict}`) }}</span
                >
                <span v-if="cell.shown !== null && m.planned !== 'none'" class="part">{{
                  t(`plan.shownIn.${m.planned}`, { p: Math.round((100 * cell.shown) / ran) })
                }}</span>
              </td>
            </tr>
          </tbody>
        </table>
      </DownloadTable>
      <p v-if="done.left_out.length" class="quiet small">
        {{ t('plan.leftOut', { names: done.left_out.join(', ') }) }}
      </p>
    </template>
  </section>
</template>

<style scoped>
.rehearsal {
  margin-top: 26px;
}
.truths {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
  gap: 8px 24px;
}
.truth {
  display: grid;
  grid-template-columns: var(--tag, 44px) minmax(0, 1fr) 150px;
  gap: 8px;
  align-items: center;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin: 12px 0;
}
.lost {
  flex: 0 1 220px;
}
progress {
  width: 100%;
  height: 8px;
  accent-color: var(--accent);
}
.counts {
  width: 100%;
  border-collapse: collapse;
  margin: 10px 0;
}
.counts caption {
  text-align: left;
  font-weight: 700;
  padding-bottom: 4px;
}
.counts th {
  width: 60px;
  text-align: left;
  padding: 4px 0;
}
.counts td {
  border-bottom: 1px solid var(--rule);
  padding: 4px 0;
}
.part {
  margin-right: 14px;
  white-space: nowrap;
}
@media (max-width: 720px) {
  .truths {
    grid-template-columns: minmax(0, 1fr);
  }
  .truth {
    grid-template-columns: var(--tag, 44px) minmax(0, 1fr) 130px;
  }
}
</style>
