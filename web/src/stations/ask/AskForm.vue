<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, sitesQuery, type Trial } from '@/api/queries'
import { changedMeanwhile, isTakenOut, Problem } from '@/api/client'
import { focusLast } from '@/parts/focusLast'
import MissingEntries from '@/parts/MissingEntries.vue'
import PageSections from '@/parts/PageSections.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useRequired } from '@/parts/useRequired'

import {
  askOf,
  draftOf,
  emptySiteDraft,
  emptyTreatment,
  factorsOf,
  faultsOf,
  type AskBase,
  type AskDraft,
} from './draft'
import AskMeasures from './AskMeasures.vue'
import ChangedMeanwhile from './ChangedMeanwhile.vue'
import FactorRows from './FactorRows.vue'
import { emptyRequired, SECTIONS, statesOf } from './sections'
import { mergeInto, type Collision, type Merged } from './merging'
import ConfoundedComparisons from './ConfoundedComparisons.vue'
import SiteFields from './SiteFields.vue'
import TreatmentRows from './TreatmentRows.vue'

/** The page of Ask, for a new trial and for one that is there. */
const props = defineProps<{
  trial: string
  workspace: string
  mayPlan: boolean
  act: string
  /** Site → trials that lay there before. */
  earlier?: Record<string, string[]>
  /** Where the question as it is kept names another size than its margins. */
  contradictions?: string[]
  rotationYear?: number
}>()
const emit = defineEmits<{ kept: []; discard: [] }>()
const draft = defineModel<AskDraft>({ required: true })
/** What the draft was started from; none for a new trial. */
const base = defineModel<AskBase>('base')
const { t } = useI18n()

/** What the server couldn’t take, by its place, until it is sent again. */
const faults = computed(() =>
  problem.value instanceof Problem ? faultsOf(draft.value, problem.value.places) : {},
)
const { data: sites } = useQuery(sitesQuery)
/** The species guide starts from the first site, if it is kept. */
const guideSite = computed(() => {
  const id = draft.value.sites[0]?.site.id
  return sites.value?.results.some((site) => site.id === id) ? { site: id } : {}
})

/** The question as a sentence of its parts, once there are some. */
const sentence = computed(() => {
  const named = draft.value.treatments.filter((one) => one.name.trim())
  const control = named.find((one) => one.is_control)
  const others = named.filter((one) => one !== control).map((one) => one.name.trim())
  const asked = draft.value.measures.filter((m) => m.name.trim() && m.margin.trim())
  const first = asked.find((m) => m.primary) ?? asked[0]
  if (!others.length || !first) return ''
  const unit = first.margin_kind === 'percent' ? '%' : first.shown_unit
  const crossed = factorsOf(draft.value).map((f) => `${f.name} (${f.levels.join(', ')})`)
  const parts = {
    what: crossed.join(' × ') || others.join(', '),
    measure: first.name.trim(),
    margin: `${first.margin.trim()} ${unit}`.trim(),
  }
  const said = control
    ? t('ask.sentence', { ...parts, control: control.name.trim() })
    : t('ask.sentenceNoControl', parts)
  return said === draft.value.question ? '' : said
})

/** After a refusal: that the page isn’t saved, and in which parts the server has something else. */
const PARTS = ['name', 'question', 'sites', 'starts', 'ends', 'factors', 'removed', 'accepted', 'treatments', 'measures'] as const // prettier-ignore
const unsaved = computed(() => {
  if (!base.value) return t('ask.notSavedNew')
  const kept = base.value.draft
  const differ = PARTS.filter((part) => JSON.stringify(draft.value[part]) !== JSON.stringify(kept[part]))
  return differ.length
    ? t('ask.notSaved', { parts: differ.map((part) => t(`ask.changed.field.${part}`)).join(', ') })
    : ''
})
const { missing, missingAt, complete } = useRequired(() =>
  emptyRequired(draft.value).map((one) => ({ ...one, what: t(one.what) })),
)
const mixed = ref(0)
const sections = computed(() => {
  const attention = { question: Boolean(props.contradictions?.length), treatments: mixed.value > 0 }
  const states = statesOf(draft.value, Object.keys(faults.value), attention)
  return SECTIONS.map((id) => ({ id, title: t(`ask.section.${id}`), state: states[id] }))
})
function save() {
  if (complete()) keep(false)
}

const treatments = useTemplateRef('treatments')
function addTreatment() {
  draft.value.treatments.push(emptyTreatment())
  void focusLast(() => treatments.value?.rows)
}

const reason = ref('')
const needsReason = computed(() => problem.value instanceof Problem && problem.value.code === 'needs-reason')
const {
  mutate: keep,
  isPending: busy,
  error: problem,
} = useMutation({
  mutationFn: async (although: boolean) => {
    try {
      const page = askOf(draft.value, props.workspace, reason.value)
      await api.ask(props.trial, page, base.value?.etag, although)
    } catch (thrown) {
      merge(changedMeanwhile<Trial>(thrown))
      throw thrown
    }
    emit('kept')
  },
})

/** What somebody else saved since the page was opened, and what became of it in the draft. */
const merged = ref<Merged | null>(null)
function merge(current: Trial | null) {
  merged.value = null
  if (!current || !base.value) return
  const theirs = draftOf(current)
  merged.value = mergeInto(draft.value, base.value.draft, draftOf(current))
  base.value = { draft: theirs, etag: current.etags.ask }
}
function takeTheirs(one: Collision) {
  one.take()
  merged.value!.collisions = merged.value!.collisions.filter(
    (other) => other.where.join() !== one.where.join(),
  )
}
</script>

<template>
  <PageSections v-if="mayPlan" :sections="sections" />
  <form :aria-label="t('ask.title')" novalidate @submit.prevent="save">
    <fieldset id="question" tabindex="-1" :disabled="!mayPlan">
      <legend>{{ t('ask.theQuestion') }}</legend>
      <v-text-field
        v-model="draft.name"
        :label="t('missing.required', { label: t('ask.name') })"
        maxlength="160"
        required
        data-where="name"
        :error-messages="missingAt('name')"
      />
      <v-text-field
        v-model="draft.question"
        :label="t('ask.question')"
        persistent-placeholder
        :placeholder="t('ask.questionExample')"
        maxlength="300"
      />
      <p v-for="one in contradictions" :key="one" class="differs">{{ one }}</p>
      <p v-if="sentence && mayPlan" class="quiet small">
        {{ sentence }}
        <button type="button" class="link-button" @click="draft.question = sentence.slice(0, 300)">
          {{ t('ask.useSentence') }}
        </button>
      </p>
    </fieldset>

    <fieldset id="treatments" tabindex="-1" :disabled="!mayPlan">
      <legend>{{ t('ask.treatments') }}</legend>
      <p class="quiet small">
        {{ t('ask.treatmentsLead') }}
        <router-link :to="{ name: 'species', query: guideSite }">{{ t('species.open') }}</router-link>
      </p>
      <FactorRows v-if="mayPlan" v-model="draft" :rotation-year="rotationYear" />
      <TreatmentRows
        ref="treatments"
        v-model="draft.treatments"
        :workspace="workspace"
        :may-plan="mayPlan"
        :crossed="draft.factors.length > 0"
        :faults="faults"
        :missing="missingAt"
        @cannot-be="draft.removed.push({ levels: $event, why: '' })"
      />
      <button v-if="mayPlan && !draft.factors.length" type="button" class="pill" @click="addTreatment">
        {{ t('ask.addTreatment') }}
      </button>
      <ConfoundedComparisons v-if="mayPlan" v-model="draft" :workspace="workspace" @open="mixed = $event" />
    </fieldset>

    <fieldset id="measures" tabindex="-1" :disabled="!mayPlan">
      <legend>{{ t('ask.measures') }}</legend>
      <p class="quiet small">{{ t('ask.measuresLead') }}</p>
      <AskMeasures
        v-model="draft.measures"
        :treatments="draft.treatments"
        :factors="factorsOf(draft)"
        :workspace="workspace"
        :faults="faults"
        :may-plan="mayPlan"
      />
    </fieldset>

    <fieldset id="site" tabindex="-1" :disabled="!mayPlan">
      <legend>{{ t('ask.section.site') }}</legend>
      <p v-if="draft.sites.length > 1" class="quiet small">{{ t('ask.sitesLead') }}</p>
      <SiteFields
        v-for="(one, i) in draft.sites"
        :key="one.site.id"
        v-model="draft.sites[i]!"
        :taken="draft.sites.map((other) => other.site.id)"
        :faults="faults"
        :missing="missingAt"
        :at="i"
        :earlier="earlier?.[one.site.id] ?? []"
        :may-plan="mayPlan"
        :alone="draft.sites.length === 1"
        @take-away="draft.sites.splice(i, 1)"
      />
      <button v-if="mayPlan" type="button" class="pill" @click="draft.sites.push(emptySiteDraft())">
        {{ t('ask.addSite') }}
      </button>
      <div class="grid">
        <v-text-field v-model="draft.starts" type="date" :label="t('ask.starts')" />
        <v-text-field v-model="draft.ends" type="date" :label="t('ask.ends')" />
      </div>
    </fieldset>

    <ChangedMeanwhile v-if="merged" :merged="merged" @taken="takeTheirs" />
    <ProblemNote
      v-else-if="problem"
      :problem="problem"
      :at="Object.entries(faults).map(([where, what]) => ({ where, what }))"
      :again="isTakenOut(problem) ? () => keep(true) : undefined"
      :act="t('app.changeMapAnyway')"
    />
    <p v-if="problem && unsaved" class="differs" role="status">
      {{ unsaved }}
      <button type="button" class="link-button" @click="emit('discard')">{{ t('ask.startOver') }}</button>
    </p>
    <MissingEntries :places="missing" />
    <v-text-field
      v-if="needsReason"
      v-model="reason"
      :label="t('missing.required', { label: t('ask.reason') })"
      maxlength="100"
    />
    <v-btn v-if="mayPlan" type="submit" color="accent" :loading="busy">{{ act }}</v-btn>
  </form>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0 0 26px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  min-width: 0;
}
fieldset:focus {
  outline: none;
}
legend {
  font-size: 17px;
  font-weight: 700;
  padding: 0 0 8px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
  gap: 12px;
}
.pill {
  align-self: flex-start;
}
.differs {
  border-left: 5px solid var(--loss);
  padding-left: 10px;
}
</style>
