<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { isTakenOut, Problem } from '@/api/client'
import { api, trialQueries, type Layout, type Trial } from '@/api/queries'
import { faultsIn } from '@/parts/faults'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useMeanwhile } from '@/parts/useMeanwhile'
import { useLast } from '@/parts/useLast'
import { useStationGround } from '@/shell/useGround'
import { useKeys } from '@/help/useKeys'
import { figure, plain } from '@/texts/format'

import { draftOf, layoutOf, shownLayout, stepOf, type LayoutDraft, type Point } from './draft'
import FieldCanvas from './FieldCanvas.vue'
import FieldForm from './FieldForm.vue'
import ZoneRows from './ZoneRows.vue'
import UndoRedo from './UndoRedo.vue'
import { useUndo } from './useUndo'

/** The plots on the ground of their field: what is around them, whether they fit, and blocks put where they go. */
const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const queries = useQueryClient()
useStationGround(() => ({ title: t('ground.by.treatment'), unit: '', faces: {} }))
useKeys(() => [
  ['← ↑ → ↓', t('layout.keys.nudge')],
  ['Shift ← →', t('layout.keys.far')],
  ['Ctrl Z', t('layout.undo')],
  ['Ctrl Shift Z', t('layout.redo')],
  ['+ − 0', t('keys.zoom')],
])
const factor = computed(() => props.trial.length_factor)
const mayPlan = computed(() => props.trial.may.includes('plan'))
const mayMove = computed(() => mayPlan.value && !props.trial.recorded)
const { data: kept, error } = useQuery(computed(() => trialQueries.layout(props.trial.id)))
const draft = ref<LayoutDraft>(draftOf({ field: {}, bearing: 0 } as never, 1))
const { undo, redo, key, startHere, canUndo, canRedo } = useUndo(draft)
const drawing = ref(false)
/** What plots are made of, where something runs through them; plots that are alike are said together. */
const zones = computed(() => {
  const alike = new Map<string, string[]>()
  for (const plot of found.value?.plots ?? []) {
    const said = Object.entries(plot.zones)
      .map(([name, share]) => `${t(`layout.zones.${name}`)} ${figure(100 * share, 0)} %`)
      .join(', ')
    if (said) alike.set(said, [...(alike.get(said) ?? []), plot.label])
  }
  return [...alike].map(([said, labels]) => t('layout.zoned', { labels: labels.join(', '), said })).join(' ')
})
const canvas = ref<InstanceType<typeof FieldCanvas>>()

const { theirs, opened, save } = useMeanwhile((current) => current as Layout)
function takeTheirs() {
  draft.value = draftOf(theirs.value!, factor.value)
  startHere()
}
let begun = false
watch(
  kept,
  (layout) => {
    if (!layout || begun) return
    begun = true
    opened(layout)
    draft.value = draftOf(layout, factor.value)
    startHere()
  },
  { immediate: true },
)
/** A field that was taken, opened or finished is shown whole. */
watch([() => draft.value.outline, drawing], () => {
  if (!drawing.value) void nextTick(() => canvas.value?.fit())
})
const asked = computed(() => layoutOf(draft.value))
const checkable = computed(() => {
  const corners = draft.value.outline.length
  return Boolean(props.trial.plots.length) && (corners === 0 || corners > 2) && !drawing.value
})
const { data: checked, error: checkError } = useQuery(
  computed(() => ({
    ...trialQueries.layoutCheck(props.trial.id, asked.value),
    enabled: checkable.value,
    placeholderData: keepPreviousData,
    retry: false,
  })),
)
/** While something can't be read, what was read last stays on the map, and is judged no further. */
const found = computed(() => (checkError.value ? undefined : checked.value))
const readLast = useLast(checked)
const shown = computed(() => shownLayout(draft.value, readLast.value ?? kept.value))
const faults = computed(() => ({ ...faultsIn(checkError.value), ...faultsIn(problem.value) }))
const reason = ref('')
const needsReason = computed(
  () => problem.value instanceof Problem && problem.value.code === 'changes-values',
)
const wrong = computed(() => (found.value?.plots ?? []).filter((plot) => plot.wrong.length))
const blocks = computed(() => [...new Set(props.trial.plots.map((plot) => plot.block))])

function move(block: string, by: Point) {
  const [x, y] = draft.value.shifts[block] ?? [0, 0]
  draft.value.shifts = { ...draft.value.shifts, [block]: [x + by[0], y + by[1]] }
}
function moveAll() {
  const by = found.value?.shift as Point | null | undefined
  if (!by) return
  draft.value.shifts = Object.fromEntries(
    blocks.value.map((block) => {
      const [x, y] = draft.value.shifts[block] ?? [0, 0]
      return [block, [x + by[0], y + by[1]]]
    }),
  )
}
const {
  mutate: act,
  isPending: busy,
  error: problem,
} = useMutation({ mutationFn: (what: () => Promise<void>) => what() })
const outline = (file: File) =>
  act(async () => {
    const text = await file.text()
    let geojson: unknown
    try {
      geojson = JSON.parse(text)
    } catch {
      throw new Error(t('layout.notJson', { name: file.name }))
    }
    const taken = await api.outline(props.trial.id, { geojson })
    draft.value = { ...draft.value, outline: taken.outline as Point[], corner: taken.corner as Point }
    drawing.value = false
  })
const rectangle = (size: { width: string; length: string }) =>
  act(async () => {
    draft.value.outline = (await api.outline(props.trial.id, size)).outline as Point[]
  })
const keep = (although = false) =>
  act(async () => {
    const body = layoutOf(draft.value, reason.value)
    const layout = await save((etag) => api.keepLayout(props.trial.id, body, etag, although))
    opened(layout)
    queries.setQueryData(trialQueries.layout(props.trial.id).queryKey, layout)
    await queries.invalidateQueries({ queryKey: trialQueries.one(props.trial.id).queryKey, exact: true })
    await queries.invalidateQueries({ queryKey: trialQueries.zones(props.trial.id).queryKey })
    draft.value = draftOf(layout, factor.value)
    reason.value = ''
    startHere()
  })
</script>

<template>
  <div @keydown="key">
    <h1>{{ t('layout.title') }}</h1>
    <p v-if="!trial.plots.length">
      {{ t('layout.noMap') }} <router-link :to="{ name: 'plan' }">{{ t('layout.toPlan') }}</router-link>
    </p>
    <p v-else-if="trial.recorded" class="quiet">{{ t('layout.stays') }}</p>
    <ProblemNote v-if="error" :problem="error" />
    <div class="columns">
      <div>
        <div class="steps">
          <UndoRedo :can-undo="canUndo" :can-redo="canRedo" @undo="undo" @redo="redo" />
          <span class="quiet small">{{
            drawing
              ? t('layout.drawLead')
              : t('layout.moveLead', { step: stepOf(factor).said, unit: trial.length_unit })
          }}</span>
        </div>
        <FieldCanvas
          ref="canvas"
          :trial="trial"
          :layout="shown"
          :found="found"
          :drawing="drawing"
          :may-move="mayMove"
          @move="move"
          @corner="draft.outline = [...draft.outline, $event]"
        />
        <p v-if="found?.plots.some((plot) => plot.harvest ?? plot.sample)" class="quiet small key">
          {{ t('layout.areasKey') }}
        </p>
        <p v-if="found?.planted_fraction" class="sown">
          {{ t('layout.planted', { p: figure(100 * found.planted_fraction, 0) }) }}
        </p>
        <p v-if="zones" class="quiet small">{{ zones }}</p>
        <div class="verdict" aria-live="polite">
          <ProblemNote v-if="checkError" :problem="checkError" />
          <template v-else-if="found">
            <p :class="found.fits ? 'good' : 'bad'">
              <b>{{
                found.fits ? t('layout.fits', { n: found.plots.length }) : t('layout.fitsNot', wrong.length)
              }}</b>
              <template v-if="found.usable_said !== null"
                >{{ ' ' }}{{ t('layout.usable', { n: found.usable_said }) }}</template
              >
            </p>
            <p v-if="found.shift && mayMove">
              {{
                t('layout.moveBy', {
                  x: plain(found.shift[0]! * factor),
                  y: plain(found.shift[1]! * factor),
                  unit: trial.length_unit,
                })
              }}
              <button type="button" class="pill" @click="moveAll">{{ t('layout.moveAll') }}</button>
            </p>
            <p v-else-if="!found.fits && mayMove">{{ t('layout.noMove') }}</p>
            <p v-if="!found.fits && mayMove">
              <router-link :to="{ name: 'plan' }">{{ t('layout.rearrange') }}</router-link>
            </p>
            <ul v-if="wrong.length">
              <li v-for="plot in wrong.slice(0, 8)" :key="plot.label">
                <b>{{ plot.label }}</b> {{ plot.wrong.join('; ') }}
              </li>
              <li v-if="wrong.length > 8">{{ t('layout.more', { n: wrong.length - 8 }) }}</li>
            </ul>
            <p v-for="one in found.advice" :key="one">{{ one }}</p>
          </template>
        </div>
      </div>
      <form v-if="kept" :aria-label="t('layout.title')" @submit.prevent="keep()">
        <FieldForm
          v-model="draft"
          v-model:drawing="drawing"
          :trial="trial"
          :may-plan="mayPlan"
          :faults="faults"
          @geojson="outline"
          @rectangle="rectangle"
        />
        <ProblemNote
          v-if="problem"
          :problem="problem"
          :again="theirs ? takeTheirs : isTakenOut(problem) ? () => keep(true) : undefined"
          :act="t(theirs ? 'app.takeTheirs' : 'app.changeMapAnyway')"
        />
        <v-text-field
          v-if="needsReason"
          v-model="reason"
          :label="t('missing.required', { label: t('layout.reason') })"
          maxlength="200"
        />
        <v-btn v-if="mayPlan" type="submit" color="accent" :loading="busy">{{ t('layout.keep') }}</v-btn>
        <p class="quiet small">{{ t('layout.redrawn') }}</p>
      </form>
    </div>
    <ZoneRows v-if="trial.plots.length" :trial="trial" :may-plan="mayPlan" />
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 330px;
  gap: 24px;
  align-items: start;
}
.steps {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-bottom: 8px;
}
.verdict {
  margin-top: 10px;
}
.verdict .good {
  border-left: 5px solid var(--gain);
  padding-left: 10px;
}
.verdict .bad {
  border-left: 5px solid var(--loss);
  padding-left: 10px;
}
ul {
  margin: 6px 0;
  padding-left: 20px;
}
@media (max-width: 1180px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
