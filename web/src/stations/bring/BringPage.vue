<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'

import { Problem } from '@/api/client'
import { api, sessionQuery, type Accept, type Assembled, type Upload } from '@/api/queries'
import DropZone from '@/parts/DropZone.vue'
import JobProgress from '@/parts/JobProgress.vue'
import { newId } from '@/parts/newId'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useJob } from '@/parts/useJob'
import TopBand from '@/shell/TopBand.vue'
import { plain } from '@/texts/format'

import ColumnRoles from './ColumnRoles.vue'
import MeasureRows, { type MeasureDraft } from './MeasureRows.vue'
import OddCells from './OddCells.vue'
import ReadColumns from './ReadColumns.vue'
import TableQuestions from './TableQuestions.vue'
import { useBroughtFile } from './useBroughtFile'

const { t } = useI18n()
const router = useRouter()
const queries = useQueryClient()
const brought = useBroughtFile()
const { data: session } = useQuery(sessionQuery)

const busy = ref('')
const problem = ref<Error | null>(null)
const upload = ref<Upload | null>(null)
const made = ref<Assembled | null>(null)
const roles = ref<Accept['roles']>({})
const answers = ref<Accept['answers']>({})
const name = ref('')
const question = ref('')
const control = ref<string | null>(null)
const allocation = ref<Accept['allocation']>('unknown')
const drafts = ref<Record<string, MeasureDraft>>({})
const trialId = newId()
const { job, lost, follow, stop } = useJob()
document.title = 'Apercu'

onMounted(() => {
  const file = brought.take()
  if (file) void read(file)
})

async function read(file: File) {
  busy.value = file.name
  problem.value = null
  upload.value = null
  try {
    const workspace = session.value!.memberships.find((m) => m.may.includes('plan'))
    upload.value = await api.bring((workspace ?? session.value!.memberships[0]!).workspace, file)
    roles.value = Object.fromEntries(upload.value.columns.map((c) => [c.name, c.role]))
    answers.value = {}
    settled.clear()
    made.value = null
    drafts.value = {}
    name.value = file.name.replace(/\.[^.]+$/, '').replaceAll('_', ' ')
    take(upload.value.proposed)
    takeDescribed()
  } catch (error) {
    problem.value = error as Error
  } finally {
    busy.value = ''
  }
}

/** A data package says what a table alone can't: name, question, control, margins. */
function takeDescribed() {
  const known = upload.value?.described
  question.value = known?.question ?? ''
  if (!known) return
  name.value = known.name || name.value
  control.value = known.control
  allocation.value = known.allocation
  for (const m of known.measures)
    if (drafts.value[m.column])
      drafts.value[m.column] = {
        name: m.name, unit: m.unit, margin: m.margin === null ? '' : plain(m.margin), kind: m.margin_kind,
        direction: m.direction, planned: m.planned,
      } // prettier-ignore
}

/** What is missing in the table, and how many samples a plot has. */
const gapsAndSamples = computed(() => {
  const beyond = upload.value?.described?.beyond
  const most = made.value?.most_samples ?? 1
  return [
    t('bring.gaps', made.value?.gaps ?? 0),
    beyond ? t('bring.beyond', beyond) : '',
    most > 1 ? t('bring.samples', { n: most }) : '',
  ].join(' ')
})

function take(found: Assembled) {
  const now = { ...found, questions: [...found.questions, ...answeredAway(found.questions)] }
  made.value = now
  answers.value = Object.fromEntries(now.questions.filter((q) => q.answer).map((q) => [q.id, q.answer]))
  for (const m of now.measures)
    drafts.value[m.key] ??= {
      name: m.label, unit: m.unit, margin: '', kind: 'absolute', direction: m.direction, planned: 'none',
    } // prettier-ignore
  const known = control.value ?? ''
  // A package may say that there is no control; a table by itself is asked.
  if (!now.treatments.includes(known) && !upload.value?.described) control.value = now.likely_control || null
}

/** An answer can take its own question away ("leave the last line out"). It stays in force, and on the page. */
const settled = new Set<string>()
function answeredAway(asked: Assembled['questions']) {
  return (made.value?.questions ?? [])
    .filter((q) => settled.has(q.id) && !asked.some((other) => other.id === q.id))
    .map((q) => ({ ...q, answer: answers.value?.[q.id] ?? q.answer }))
}

/** A new role for a column opens again what was asked about that column. */
function changeRoles(next: Accept['roles']) {
  for (const q of made.value?.questions ?? [])
    if (q.column && roles.value[q.column] !== next[q.column]) settled.delete(q.id)
  roles.value = next
  void recheck()
}

let asked = 0
async function recheck() {
  const mine = ++asked
  try {
    const now = await api.check(upload.value!.id, roles.value, answers.value)
    if (mine === asked) take(now)
  } catch (error) {
    problem.value = error as Error
  }
}

function settle(question: string, choice: string) {
  settled.add(question)
  answers.value = { ...answers.value, [question]: choice }
  void recheck()
}

const values = computed(() => (made.value?.measures ?? []).map((m) => m.key))
const faults = computed(() => (problem.value instanceof Problem ? problem.value.places : []))
const wrongMargin = computed(() =>
  Object.fromEntries(
    values.value.flatMap((key, i) => {
      const fault = faults.value.find((place) => place.where === `measures.${i}.margin`)
      return fault ? [[key, fault.what]] : []
    }),
  ),
)
const controls = computed(() => [
  { value: null, title: t('bring.noControl') },
  ...(made.value?.treatments ?? []).map((value) => ({ value, title: value })),
])
const allocations = computed(() =>
  (['drawn', 'systematic', 'unknown'] as const).map((value) => ({
    value,
    title: t(`bring.allocations.${value}`),
  })),
)

async function accept() {
  problem.value = null
  busy.value = name.value
  try {
    const accepted = await api.accept(upload.value!.id, {
      id: trialId,
      name: name.value.trim() || t('bring.title'),
      question: question.value,
      roles: roles.value,
      answers: answers.value,
      control: control.value,
      allocation: allocation.value,
      measures: values.value.map((column) => {
        const draft = drafts.value[column]!
        return {
          column,
          name: draft.name,
          unit: draft.unit,
          margin: draft.margin,
          margin_kind: draft.kind,
          direction: draft.direction,
          planned: draft.planned,
        }
      }),
    })
    if (accepted.job && !(await follow(accepted.job))) return
    await api.openResults(trialId) // who brings the values has seen them
    await queries.invalidateQueries({ queryKey: ['trials'] })
    await router.push(`/trials/${trialId}/read`)
  } catch (error) {
    problem.value = error as Error
  } finally {
    busy.value = ''
  }
}
</script>

<template>
  <TopBand />
  <main class="page">
    <h1>{{ t('bring.title') }}</h1>
    <template v-if="!upload">
      <p class="quiet">{{ t('bring.lead') }}</p>
      <p v-if="busy" role="status">{{ t('bring.reading', { f: busy }) }}</p>
      <ProblemNote v-if="problem" :problem="problem" />
      <DropZone @file="read" />
    </template>

    <form v-else @submit.prevent="accept">
      <p>
        {{
          t('bring.said', {
            f: upload.name,
            rows: upload.rows,
            encoding: upload.encoding,
            separator: t(`bring.separators.${upload.separator}`),
          })
        }}
        <button type="button" class="link-button" @click="upload = null">{{ t('bring.other') }}</button>
      </p>

      <section>
        <h2>{{ t('bring.columns') }}</h2>
        <ColumnRoles :model-value="roles" :columns="upload.columns" @update:model-value="changeRoles" />
        <p v-if="made?.refusal" class="refusal" role="alert">{{ made.refusal }}</p>
        <p v-else-if="made" class="becomes" role="status">
          <strong>{{
            t(made.design === 'crd' ? 'bring.becomesCrd' : 'bring.becomes', {
              plots: made.plots,
              t: made.treatments.length,
              b: made.blocks.length,
            })
          }}</strong>
          {{ gapsAndSamples }}
        </p>
      </section>

      <TableQuestions v-if="made?.questions.length" :questions="made.questions" @answer="settle" />

      <section v-if="made?.read.length">
        <h2>{{ t('bring.read') }}</h2>
        <p class="quiet small">{{ t('bring.readLead') }}</p>
        <ReadColumns :columns="made.read" :questions="made.questions" />
        <OddCells v-if="made.odd.length" :cells="made.odd" />
      </section>

      <section v-if="made && !made.refusal">
        <div class="row">
          <v-select v-model="control" :items="controls" :label="t('bring.control')" />
          <v-select v-model="allocation" :items="allocations" :label="t('bring.allocation')" />
          <v-text-field v-model="name" :label="t('bring.name')" maxlength="160" />
        </div>
      </section>

      <section v-if="made && !made.refusal">
        <h2>{{ t('bring.measures') }}</h2>
        <p class="quiet small">{{ t('bring.measureLead') }}</p>
        <MeasureRows v-model="drafts" :columns="values" :wrong="wrongMargin" />
      </section>

      <ProblemNote v-if="problem" :problem="problem" />
      <p v-if="made && !made.settled" class="small" role="status">{{ t('bring.waits') }}</p>
      <JobProgress v-if="job" :job="job" :lost="lost" @stop="stop" />
      <v-btn
        type="submit"
        color="accent"
        :loading="!!busy"
        :disabled="!made || !!made.refusal || !made.settled || !values.length"
      >
        {{ t('bring.accept') }}
      </v-btn>
    </form>
  </main>
</template>

<style scoped>
.page {
  padding: 20px 24px 60px;
  max-width: 1080px;
  width: 100%;
  margin: 0 auto;
}
section {
  margin: 18px 0;
}
.row {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 14px;
}
.refusal {
  color: var(--loss);
  font-weight: 600;
  max-width: 760px;
}
@media (max-width: 720px) {
  .page {
    padding: 14px 14px 40px;
  }
  .row {
    grid-template-columns: 1fr;
  }
}
</style>
