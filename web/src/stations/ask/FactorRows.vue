<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, aspectsQuery, type Phase } from '@/api/queries'
import { focusLast } from '@/parts/focusLast'
import ProblemNote from '@/parts/ProblemNote.vue'

import RotationTable from './RotationTable.vue'
import {
  controlLevel, emptyFactor, emptyTreatment, factorsOf, levelsOf, type AskDraft, type FactorDraft, type TreatmentDraft,
} from './draft' // prettier-ignore

/** Factors with their levels; the server crosses them, and the treatments below follow. */
defineProps<{ rotationYear?: number }>()
const draft = defineModel<AskDraft>({ required: true })
const { t } = useI18n()
const { data: aspects } = useQuery(aspectsQuery)
const problem = ref<Error | null>(null)
const rows = useTemplateRef('rows')
const removed = useTemplateRef('removed')
const phases = shallowRef<Phase[]>([])
const TYPED_ON_MS = 200
let asked = 0
let timer: ReturnType<typeof setTimeout> | undefined

const keyOf = (levels: Record<string, string>) =>
  JSON.stringify(Object.entries(levels).sort(([a], [b]) => a.localeCompare(b)))

/** Codes as the server made them of the levels, by treatment: they follow the levels until a person types another. */
let proposed = new Map<string, string>()
const isProposed = (one: TreatmentDraft) => !one.code || proposed.get(one.id) === one.code

/** What a person called a combination, its code and its id outlive a new crossing; controls outside stay as they are. */
async function cross() {
  const factors = factorsOf(draft.value)
  if (!factors.length || factors.some((f) => f.levels.length < 2)) return
  const mine = ++asked
  try {
    const { treatments, rotation } = await api.crossing(factors, draft.value.removed)
    if (mine !== asked) return
    phases.value = rotation
    problem.value = null
    const before = new Map(draft.value.treatments.map((one) => [keyOf(one.levels), one]))
    const outside = draft.value.treatments.filter((one) => !Object.keys(one.levels).length && one.name.trim())
    const typed = new Set(
      draft.value.treatments.filter((one) => !isProposed(one)).map((one) => one.code.toLowerCase()),
    )
    const made = treatments.map((one): TreatmentDraft => {
      const known = before.get(keyOf(one.levels)) ?? { ...emptyTreatment(), name: one.name }
      const code = typed.has(one.code.toLowerCase()) ? '' : one.code
      return { ...known, code: isProposed(known) ? code : known.code, levels: one.levels }
    })
    proposed = new Map(made.map((one) => [one.id, one.code]))
    const control = controlLevel(factors)
    for (const one of made) if (control && one.levels[control.factor] === control.level) one.is_control = true
    draft.value.treatments = [...outside, ...made]
  } catch (thrown) {
    if (mine === asked) problem.value = thrown as Error
  }
}
/** Not at every key: once a level is typed. */
watch(
  () => JSON.stringify([factorsOf(draft.value), draft.value.removed.map((one) => one.levels)]),
  () => {
    clearTimeout(timer)
    timer = setTimeout(cross, TYPED_ON_MS)
  },
)
onBeforeUnmount(() => clearTimeout(timer))
// A trial that is opened shows its rotation without having been typed at.
onMounted(() => {
  if (draft.value.factors.some((f) => f.kind === 'phase')) void cross()
})

/** One factor has the control level; what was marked for another one is a treatment like others again. */
function chooseControl(f: FactorDraft, level: string) {
  for (const one of draft.value.factors) one.control = one === f ? level : ''
  for (const one of draft.value.treatments) if (Object.keys(one.levels).length) one.is_control = false
}
const controlsIn = (f: FactorDraft) => [
  { value: '', title: t('ask.noControlLevel') },
  ...levelsOf(f).map((value) => ({ value, title: value })),
]
function addFactor() {
  draft.value.factors.push(emptyFactor())
  void focusLast(() => rows.value)
}
watch(
  () => draft.value.removed.length,
  (now, before) => {
    if (now > before) void focusLast(() => removed.value)
  },
)

function addControl() {
  const none = !draft.value.treatments.some((one) => one.is_control)
  draft.value.treatments.unshift({ ...emptyTreatment(none), name: t('ask.controlName') })
}
const kinds = computed(() => [
  { value: '', title: t('ask.otherKind') },
  ...(aspects.value ?? []).filter((one) => one.factor).map((one) => ({ value: one.key, title: one.name })),
])
const said = (levels: Record<string, string>) => Object.values(levels).join(', ')
</script>

<template>
  <div ref="rows" class="factors">
    <div
      v-for="(f, i) in draft.factors"
      :key="f.id"
      class="factor"
      role="group"
      :aria-label="t('ask.factorN', { n: i + 1 })"
    >
      <v-text-field v-model="f.name" :label="t('ask.factor')" maxlength="60" />
      <v-select v-model="f.kind" :items="kinds" :label="t('ask.factorKind')" />
      <v-text-field
        v-model="f.levels"
        :label="t('ask.levels')"
        persistent-placeholder
        :placeholder="t('ask.levelsExample')"
      />
      <button
        type="button"
        class="link-button"
        :aria-label="`${t('ask.remove')}: ${f.name || t('ask.factorN', { n: i + 1 })}`"
        @click="draft.factors.splice(i, 1)"
      >
        {{ t('ask.remove') }}
      </button>
      <v-select
        v-if="levelsOf(f).length > 1"
        class="level"
        :model-value="levelsOf(f).includes(f.control) ? f.control : ''"
        :items="controlsIn(f)"
        :label="t('ask.controlLevel')"
        :hint="f.control ? t('ask.controlLevelHint', { level: f.control }) : ''"
        persistent-hint
        @update:model-value="chooseControl(f, $event)"
      />
      <label class="strips"
        ><input v-model="f.whole_strips" type="checkbox" /> {{ t('ask.wholeStrips') }}</label
      >
    </div>
  </div>
  <div class="acts">
    <button type="button" class="pill" @click="addFactor">
      {{ t('ask.addFactor') }}
    </button>
    <button v-if="draft.factors.length" type="button" class="pill" @click="addControl">
      {{ t('ask.addControl') }}
    </button>
  </div>
  <ProblemNote v-if="problem" :problem="problem" />
  <RotationTable v-if="phases.length" :phases="phases" :year="rotationYear ?? 0" />
  <ul v-if="draft.removed.length" ref="removed" class="removed">
    <li v-for="(one, i) in draft.removed" :key="i">
      <span>{{ t('ask.cannotBe', { what: said(one.levels) }) }}</span>
      <v-text-field v-model="one.why" density="compact" :label="t('ask.why')" maxlength="200" />
      <button type="button" class="link-button" @click="draft.removed.splice(i, 1)">
        {{ t('ask.bringBack') }}
      </button>
    </li>
  </ul>
</template>

<style scoped>
.factors {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.factor {
  display: grid;
  grid-template-columns: 160px 220px minmax(0, 1fr) 70px;
  gap: 10px;
  align-items: center;
  border-left: 5px solid var(--band);
  padding-left: 12px;
}
.level {
  grid-column: 1 / 3;
}
.strips {
  grid-column: 3 / -1;
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 36px;
}
.strips input {
  width: 20px;
  height: 20px;
  accent-color: var(--accent);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.removed {
  list-style: none;
  padding: 0;
  margin: 0;
}
.removed li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) 90px;
  gap: 10px;
  align-items: center;
}
@media (max-width: 720px) {
  .factor {
    grid-template-columns: minmax(0, 1fr);
  }
  .level,
  .strips {
    grid-column: 1;
  }
  .strips {
    min-height: 48px;
  }
  .removed li {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
