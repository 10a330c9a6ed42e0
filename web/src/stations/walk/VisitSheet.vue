<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, LIVE, type SheetPage, type Trial, type Visit } from '@/api/queries'
import type { PlotFace } from '@/ground/GroundMap.vue'
import DownloadTable from '@/parts/DownloadTable.vue'
import MakeFile from '@/parts/MakeFile.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useKeys } from '@/help/useKeys'
import { useStationGround } from '@/shell/useGround'

import AskBack from './AskBack.vue'
import { keyOf, stepsIn, stepsOf, WHOLE, type Step } from '@/offline/cells'
import ConflictDialog from './ConflictDialog.vue'
import DrawnAreaDialog from './plot/DrawnAreaDialog.vue'
import { failedGround, isDrawn } from './plot/failedGround'
import { draftsOnThisDevice, type Drafts } from '@/offline/drafts'
import type { Outbox } from '@/offline/sending'
import MissingDialog from './MissingDialog.vue'
import NoteDialog from './NoteDialog.vue'
import NotesHere from './NotesHere.vue'
import PartList from './plot/PartList.vue'
import PlotCard from './plot/PlotCard.vue'
import PlotJump from './PlotJump.vue'
import SamplePlaces from './plot/SamplePlaces.vue'
import SheetTable from './SheetTable.vue'
import StandingLines from './plot/StandingLines.vue'
import VisitHead from './VisitHead.vue'
import VisitPhotographs from './photographs/VisitPhotographs.vue'
import { useSheet, watchedLittle } from './useSheet'
import { useSmallScreen } from '@/parts/useSmallScreen'

/** `drafts`: where typed values are kept; on this device, if nothing else is said. */
const props = defineProps<{
  trial: Trial
  opened: Visit
  me: string
  person: string
  outbox: Outbox
  drafts?: Drafts
}>()
const emit = defineEmits<{ turn: [page: SheetPage] }>()
const { t } = useI18n()
const queries = useQueryClient()
const visit = ref<Visit>(watchedLittle(props.opened))
const drafts = props.drafts ?? draftsOnThisDevice(props.person, props.opened.id)
const about = {
  said: `${props.trial.name}: ${props.opened.name}`,
  path: `/trials/${props.trial.id}/walk/${props.opened.id}?site=${props.opened.site}`,
}
/** At a blind visit names and colours of treatments are hidden until somebody asks for them. */
const revealed = ref(false)
const blind = computed(() => visit.value.blind && !revealed.value)
const shownTrial = computed(() =>
  blind.value
    ? { ...props.trial, treatments: [], plots: props.trial.plots.map((plot) => ({ ...plot, treatment: '' })) }
    : props.trial,
)
const sheet = useSheet(visit, props.me, drafts, props.outbox, about, () => blind.value)
const small = useSmallScreen()
const mayRecord = computed(() => props.trial.may.includes('record'))

const steps = computed(() => stepsOf(visit.value))
/** Where photographs are what the visit is for, they stand first on a phone too. */
const covers = computed(() => visit.value.measures.some((m) => m.by_photograph))
/** Measures by species or grade; on a phone the tally of each has its own list. */
const told = computed(() =>
  visit.value.measures.filter((m) => m.part_kind && (!small.value || !m.parts.length)),
)
const plots = computed(() => new Map(props.trial.plots.map((plot) => [plot.id, plot])))
const labels = computed(() => new Map(props.trial.plots.map((plot) => [plot.label, plot.id])))
const at = ref<Step | null>(null)
/** For what asks where one is, and isn’t drawn anew at every step. */
const here = () => at.value
const stepHere = () => at.value ?? steps.value[0]!
const unitHere = () => unit.value
const unit = computed(() => at.value?.unit ?? visit.value.order[0] ?? '')
const standing = computed(() => ({
  trial: props.trial,
  visit: visit.value,
  unit: unit.value,
  sheet,
  blind: blind.value,
  mayRecord: mayRecord.value,
}))
const missing = ref(false)
const noting = ref(false)
const conflict = ref(false)
const jumping = ref(false)
const drawing = ref(false)
/** The area that is drawn on the plot, if this visit has such a measure. */
const drawn = computed(() =>
  steps.value.find((step) => step.unit === unit.value && isDrawn(visit.value, step)),
)
/** To any plot, whatever the walking order: the map follows, and of a large sheet its page. */
function jump(label: string) {
  jumping.value = false
  const id = labels.value.get(label)
  if (id === unit.value) return go(steps.value.find((step) => step.unit === id))
  chosen.value = [label]
}

/** Done when each entry that is due in the plot stands, or one says why it doesn't. */
function stateOf(id: string): 'done' | 'begun' | 'todo' | 'lost' | 'failed' {
  const due = new Map(visit.value.measures.map((m) => [m.id, m.samples_due]))
  const steps = stepsIn(visit.value, id).filter((step) => step.sample <= due.get(step.measure)!)
  const cells = steps.map((step) => sheet.cell(step))
  const missingStatus = cells.find((cell) => cell.missingStatus)?.missingStatus
  if (missingStatus) return missingStatus === 'failed' ? 'failed' : 'lost'
  // Of a frame that is told by parts, those that aren’t entered weren’t there.
  const spots = new Map<string, boolean>()
  for (const step of steps) {
    const spot = step.component ? keyOf({ ...step, ...WHOLE }) : `${keyOf(step)} ${step.field}`
    const filled = ['saved', 'queued', 'conflict'].includes(sheet.cell(step).status)
    spots.set(spot, filled || (spots.get(spot) ?? false))
  }
  const filled = [...spots.values()].filter(Boolean).length
  return spots.size && filled === spots.size ? 'done' : filled ? 'begun' : 'todo'
}
/** Each plot’s on its own: an entry changes that of its plot, and the others aren’t gone through. */
const stateIn = computed(() => new Map(visit.value.order.map((id) => [id, computed(() => stateOf(id))])))
const states = computed(() => Object.fromEntries([...stateIn.value].map(([id, state]) => [id, state.value])))
const { chosen } = useStationGround(() => ({
  // What stands on other pages isn’t here, so the map says whose plots it shows.
  title:
    visit.value.pages > 1
      ? t('walk.pages.ground', { name: visit.value.name, n: visit.value.page, of: visit.value.pages })
      : visit.value.name,
  unit: '',
  faces: Object.fromEntries(
    props.trial.plots.map((plot): [string, PlotFace] => {
      const state = states.value[plot.id] ?? 'todo'
      if (state === 'lost') return [plot.label, { state: 'lost' }]
      const figure = { done: '✓', failed: '0 ✓', begun: '…', todo: '' }[state]
      const shade = state === 'todo' ? 'var(--margin)' : blind.value ? 'var(--rule)' : undefined
      return [plot.label, { figure, shade }]
    }),
  ),
  blind: blind.value,
  samples: props.trial.plots.flatMap((plot) =>
    (visit.value.places.by_plot[plot.id] ?? []).map(({ across, along }) => [
      plot.x + across,
      plot.y + along,
      visit.value.places.width,
      visit.value.places.length,
    ]),
  ),
  failed: failedGround(props.trial.plots, visit.value, sheet),
}))
/** What is allotted to whoever is here. */
const mineOf = computed(() => visit.value.observers.find((one) => one.name === props.me))
const isMine = (id: string) => !mineOf.value || mineOf.value.blocks.includes(plots.value.get(id)?.block ?? '')

function go(step: Step | undefined, focus = true) {
  if (!step) return
  at.value = step
  const label = plots.value.get(step.unit)?.label
  if (label && chosen.value.join() !== label) chosen.value = [label]
  if (!focus) return
  // At once where the field is there: keys typed meanwhile would go to the one before.
  const field = inputOf(step)
  if (field) field.focus()
  else void nextTick(() => inputOf(step)?.focus())
}
function inputOf(step: Step): HTMLInputElement | null {
  return document.querySelector(`[data-step="${nameOf(step)}"]`)
}
const nameOf = (step: Step) => `${keyOf(step)}|${step.field}`
const indices = computed(() => new Map(steps.value.map((step, i) => [nameOf(step), i])))
const indexOf = (step: Step) => indices.value.get(nameOf(step)) ?? -1

async function enter(step: Step) {
  void sheet.finish(step)
  const next = steps.value[indexOf(step) + 1]
  if (!next && visit.value.page < visit.value.pages) emit('turn', { page: visit.value.page + 1 })
  else go(next ?? step)
}
/** The same field of the nearest plot before or after that has it, in walking order. */
function along(step: Step, by: number) {
  const { order } = visit.value
  for (let at = order.indexOf(step.unit) + by; at >= 0 && at < order.length; at += by) {
    const there = { ...step, unit: order[at]! }
    if (indexOf(there) >= 0) return go(there)
  }
}
async function undo() {
  const place = await sheet.undo()
  if (place) go(steps.value.find((s) => keyOf(s) === keyOf(place)))
}
async function redo() {
  const place = await sheet.redo()
  if (place) go(steps.value.find((s) => keyOf(s) === keyOf(place)))
}
/** Letters can't begin a figure, so in an empty field they are commands. */
function key(step: Step, event: KeyboardEvent) {
  const empty = !(event.target as HTMLInputElement).value
  if (event.key === 'Enter') void enter(step)
  else if (event.key === 'ArrowDown') along(step, 1)
  else if (event.key === 'ArrowUp') along(step, -1)
  else if (empty && event.key === 'g') jumping.value = true
  else if (empty && mayRecord.value && event.key === 'x') missing.value = true
  else if (empty && mayRecord.value && event.key === 'n') noting.value = true
  else if (empty && mayRecord.value && event.key === 'u') void undo()
  else if (empty && mayRecord.value && event.key === 'r') void redo()
  else return
  event.preventDefault()
}
useKeys(() => [
  ['Enter', t('keys.enter')],
  ['↓ ↑', t('keys.along')],
  ['g', t('keys.jump')],
  ['x', t('keys.missing')],
  ['n', t('keys.note')],
  ['u', t('keys.undo')],
  ['r', t('keys.redo')],
])

watch(chosen, ([label]) => {
  const id = label && labels.value.get(label)
  if (id && !visit.value.order.includes(id) && visit.value.pages > 1) emit('turn', { plot: id })
  else if (id && id !== unit.value)
    go(
      steps.value.find((step) => step.unit === id),
      !small.value,
    )
})
// A dialog gives the keyboard back to where it was called from.
watch([missing, noting, conflict, drawing], (now) => {
  if (!now.some(Boolean) && at.value && !small.value) go(at.value)
})
// Fields come once they hold what this device kept: the keyboard isn't taken from somebody who types already.
const loaded = ref(false)
onMounted(async () => {
  try {
    await sheet.load()
  } finally {
    loaded.value = true
  }
  void sheet.flush()
  const wanted = chosen.value[0] && labels.value.get(chosen.value[0])
  const first =
    (visit.value.pages > 1 && steps.value.find((step) => step.unit === wanted)) ||
    (steps.value.find((step) => ['todo', 'begun'].includes(states.value[step.unit]!) && isMine(step.unit)) ??
      steps.value.find((step) => ['todo', 'begun'].includes(states.value[step.unit]!)) ??
      steps.value[0])
  const open = steps.value.find((s) => s.unit === first?.unit && sheet.cell(s).status === 'empty') ?? first
  go(open, mayRecord.value && !small.value)
})
/** What colleagues enter meanwhile appears by itself; what is being typed here stays. */
const looking = setInterval(async () => {
  if (document.visibilityState !== 'visible' || sheet.offline.value || !loaded.value) return
  if (sheet.waiting.value) return
  const { page, progress } = visit.value
  const now = await api.visit(props.opened.id, { page }).catch(() => null)
  // An answer from before one's own entry was saved would make it vanish: the next one has it.
  if (now && !sheet.waiting.value && visit.value.progress === progress) sheet.take(now)
}, LIVE)
onBeforeUnmount(() => {
  clearInterval(looking)
  void sheet.flush()
  void queries.invalidateQueries({ queryKey: ['trials'] })
})

async function marked(missingStatus: 'failed' | 'damaged' | 'not-taken', reason: string) {
  const here = unit.value
  missing.value = false
  void sheet.mark(here, missingStatus, reason)
  const after = visit.value.order[visit.value.order.indexOf(here) + 1]
  go(steps.value.find((step) => step.unit === (after ?? here)))
}
const asked = computed(() => [...sheet.byStatus.value.question, ...sheet.byStatus.value.refused])
/** Notes, undo and decisions of this visit that the server didn’t take, or that couldn’t be sent. */
const refused = computed(
  () =>
    props.outbox.items.filter(
      (one) => one.refused && 'visit' in one.change && one.change.visit === props.opened.id,
    ).length + Number(Boolean(sheet.problem.value)),
)
</script>

<template>
  <div class="visit">
    <VisitHead
      v-model:revealed="revealed"
      :visit="visit"
      :sheet="sheet"
      :outbox="outbox"
      :me="me"
      :refused="refused"
      @jump="jumping = true"
      @conflict="conflict = true"
    >
      <VisitPhotographs
        v-if="!small || covers"
        :trial="trial"
        :visit="visit"
        :sheet="sheet"
        :at="here"
        :may-record="mayRecord"
      />
      <MakeFile v-if="!small" :trial="trial.id" :file="{ file: 'field-sheet.pdf', visit: visit.id }">{{
        t('walk.paper')
      }}</MakeFile>
    </VisitHead>
    <p v-if="!visit.measures.length" class="quiet">{{ t('walk.noMeasures') }}</p>
    <p v-else-if="!visit.order.length">
      {{ t('walk.noPlots') }} <router-link :to="{ name: 'plan' }">{{ t('walk.toPlan') }}</router-link>
    </p>
    <p v-else-if="!loaded" role="status">{{ t('app.loading') }}</p>
    <template v-else>
      <AskBack
        v-for="cell in asked"
        :key="keyOf(cell.place)"
        :cell="cell"
        :plot="plots.get(cell.place.unit)?.label ?? ''"
        :measure="visit.measures.find((m) => m.id === cell.place.measure)"
        @keep="sheet.finish({ ...cell.place, field: '' })"
        @change="go(steps.find((s) => keyOf(s) === keyOf(cell.place)))"
      />
      <ProblemNote v-if="sheet.problem.value && !sheet.offline.value" :problem="sheet.problem.value" />
      <nav v-if="visit.pages > 1" class="pages" :aria-label="t('walk.pages.title')">
        <button
          type="button"
          class="pill"
          :disabled="visit.page === 1"
          @click="emit('turn', { page: visit.page - 1 })"
        >
          ← {{ t('walk.pages.before') }}
        </button>
        <span>{{
          t('walk.pages.here', {
            a: plots.get(visit.order[0]!)?.label,
            b: plots.get(visit.order.at(-1)!)?.label,
            n: visit.page,
            of: visit.pages,
          })
        }}</span>
        <button
          type="button"
          class="pill"
          :disabled="visit.page === visit.pages"
          @click="emit('turn', { page: visit.page + 1 })"
        >
          {{ t('walk.pages.after') }} →
        </button>
      </nav>
      <PartList
        v-for="m in told"
        :key="m.id"
        class="not-listed"
        :measure="m"
        :trial="trial"
        :unit="unit"
        :may-record="mayRecord"
        @add="(name, group) => sheet.addPart(m.id, name, group)"
      />
      <PlotCard
        v-if="small && steps.length"
        :trial="shownTrial"
        :visit="visit"
        :sheet="sheet"
        :states="states"
        :at="stepHere"
        :may-record="mayRecord"
        @go="go"
        @key="key"
        @missing="missing = true"
        @note="noting = true"
        @undo="undo"
        @redo="redo"
      >
        <StandingLines v-if="at" v-bind="standing" />
      </PlotCard>
      <div v-if="small && !covers" class="acts">
        <VisitPhotographs :trial="trial" :visit="visit" :sheet="sheet" :at="here" :may-record="mayRecord" />
      </div>
      <p v-if="!small && visit.places.said" class="small">
        <strong>{{ t('walk.places.title') }}</strong> {{ visit.places.said }}
      </p>
      <SamplePlaces
        v-if="!small && at && plots.get(at.unit)"
        :trial="trial"
        :visit="visit"
        :plot="plots.get(at.unit)!"
        :sample="at.sample"
      />
      <DownloadTable v-if="!small && steps.length" :name="visit.name" :of="trial.name">
        <SheetTable
          :trial="shownTrial"
          :visit="visit"
          :sheet="sheet"
          :states="states"
          :unit="unit"
          :may-record="mayRecord"
          @at="go($event, false)"
          @key="key"
        />
      </DownloadTable>
      <StandingLines v-if="!small && at" v-bind="standing" />
      <div v-if="mayRecord && !small" class="acts">
        <button type="button" class="pill" @click="missing = true">
          {{ t('walk.missing', { p: plots.get(unit)?.label }) }} <kbd>x</kbd>
        </button>
        <button type="button" class="pill" @click="noting = true">{{ t('walk.note') }} <kbd>n</kbd></button>
        <button v-if="drawn" type="button" class="pill" @click="drawing = true">
          {{ t('walk.drawn.open', { p: plots.get(unit)?.label }) }}
        </button>
        <button type="button" class="pill" :disabled="!sheet.mayUndo.value" @click="undo">
          {{ t('walk.undo') }} <kbd>u</kbd>
        </button>
        <button type="button" class="pill" :disabled="!sheet.undone.value.length" @click="redo">
          {{ t('walk.redo') }} <kbd>r</kbd>
        </button>
      </div>
      <NotesHere :trial="trial" :visit="visit" :unit="unitHere" />
    </template>
    <PlotJump
      v-model="jumping"
      v-memo="[jumping, jumping && states, jumping && unit]"
      :trial="shownTrial"
      :order="visit.order"
      :states="states"
      :unit="unit"
      :large="visit.pages > 1"
      @jump="jump"
    />
    <!-- A closed dialog isn’t drawn anew at every step. -->
    <MissingDialog
      v-model="missing"
      v-memo="[missing, missing && unit]"
      :plot="plots.get(unit)?.label ?? ''"
      :measures="visit.measures"
      @mark="marked"
    />
    <NoteDialog
      v-model="noting"
      v-memo="[noting, noting && unit]"
      :visit="visit.id"
      :unit="unit"
      :plot="plots.get(unit)?.label ?? ''"
      :me="me"
      :outbox="outbox"
      :about="about"
      @left="visit.notes.push($event)"
    />
    <DrawnAreaDialog
      v-if="drawn"
      v-model="drawing"
      :trial="trial"
      :visit="visit"
      :sheet="sheet"
      :step="drawn"
    />
    <ConflictDialog
      v-if="visit.conflicts.length"
      v-model="conflict"
      :trial="trial"
      :visit="visit"
      :outbox="outbox"
      :about="about"
      @decided="sheet.take"
    />
  </div>
</template>

<style scoped>
.pages {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
  margin: 0 0 10px;
}
@media (max-width: 720px) {
  .pages span {
    order: 3;
    width: 100%;
  }
}
.not-listed {
  margin-bottom: 10px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  padding: 14px 0;
}
kbd {
  margin-left: 6px;
  padding: 0 6px;
  border: 1px solid var(--rule);
  border-radius: 4px;
  font: inherit;
  font-size: 12px;
  color: var(--quiet);
}
</style>
