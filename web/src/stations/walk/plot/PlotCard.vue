<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SheetMeasure, Trial, Visit } from '@/api/queries'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import { capital, day, plain } from '@/texts/format'

import { keyOf, stepsIn, type Step } from '@/offline/cells'
import { painted } from '@/parts/painted'
import CardActs from './CardActs.vue'
import DrawnArea from './DrawnArea.vue'
import FigureInput from './FigureInput.vue'
import PartList from './PartList.vue'
import PlotLocator from './PlotLocator.vue'
import ReadingsPad from './ReadingsPad.vue'
import SamplePlaces from './SamplePlaces.vue'
import StopWatch from './StopWatch.vue'
import TallyKeys from './TallyKeys.vue'
import { figureOf } from '@/stations/walk/figureOf'
import { GUESS, type Sheet } from '@/stations/walk/useSheet'

/**
 * One plot at a time, for a phone: where it lies, its figures large, and one act that leads on. `at`: asked here, so that
 * the page around isn’t drawn anew at every step.
 */
const props = defineProps<{
  trial: Trial
  visit: Visit
  sheet: Sheet
  states: Record<string, string>
  at: () => Step
  mayRecord: boolean
}>()
const emit = defineEmits<{
  go: [step: Step | undefined, focus?: boolean]
  key: [step: Step, event: KeyboardEvent]
  missing: []
  note: []
  undo: []
  redo: []
}>()
const { t } = useI18n()

const present = computed(() => props.at())
const plot = computed(() => props.trial.plots.find((one) => one.id === present.value.unit)!)
const place = computed(() => props.trial.treatments.findIndex((one) => one.id === plot.value.treatment))
/** Where one stands in a plot: a sample, or a sample in a zone; each with the first of its fields. */
function spotsOf(steps: Step[]): Step[] {
  const spots = new Map<string, Step>()
  for (const step of steps) if (!spots.has(spotOf(step))) spots.set(spotOf(step), step)
  return [...spots.values()]
}
const spotOf = (step: Step) => `${step.zone}|${step.sample}`
const inPlot = computed(() => stepsIn(props.visit, plot.value.id))
const spots = computed(() => spotsOf(inPlot.value))
const nth = computed(() =>
  Math.max(
    0,
    spots.value.findIndex((spot) => spotOf(spot) === spotOf(present.value)),
  ),
)
/** The fields of this sample; measures with fewer samples have had theirs. */
const here = computed(() => inPlot.value.filter((step) => spotOf(step) === spotOf(present.value)))
const tallied = (m: SheetMeasure) =>
  Boolean(m.part_kind) && m.fields.length === 1 && m.fields[0]!.kind === 'whole'
const shown = computed(() => here.value.filter((step) => !tallied(measureOf(step))))
/** Measures that are counted by species: a key for each. */
const tallies = computed(() =>
  props.visit.measures
    .filter(tallied)
    .map((m) => ({ m, steps: here.value.filter((step) => step.measure === m.id) }))
    .filter((one) => one.steps.length),
)
/** Species of a frame that was looked at and that have no count weren’t there. */
function zeros(steps: Step[]) {
  for (const step of steps) {
    if (props.sheet.cell(step).status === 'empty') props.sheet.type(step, '0')
    if (props.sheet.cell(step).status === 'draft') void props.sheet.finish(step)
  }
}
const counted = (steps: Step[]) => steps.some((step) => props.sheet.cell(step).status !== 'empty')
function noneHere(steps: Step[]) {
  props.sheet.type(steps[0]!, '0')
  void onward()
}
/** What one of several samples is called there; one name for measures that differ in it. */
function sampleName(spot: Step): string {
  const names = new Set(
    inPlot.value.filter((step) => spotOf(step) === spotOf(spot)).map((step) => measureOf(step).sample_name),
  )
  return names.size === 1 ? [...names][0]! : t('walk.sample')
}
const sampleHere = computed(() => {
  const inZone = spots.value.filter((spot) => spot.zone === present.value.zone)
  const name = capital(sampleName(present.value))
  const said = t('walk.sampleOf', { name, n: present.value.sample, of: inZone.length })
  return [present.value.zone, inZone.length > 1 ? said : ''].filter(Boolean).join(': ')
})
const measures = computed(() => new Map(props.visit.measures.map((m) => [m.id, m])))
const measureOf = (step: Step) => measures.value.get(step.measure)!
const fieldOf = (step: Step) => measureOf(step).fields.find((field) => field.key === step.field)!
const name = (step: Step) =>
  [measureOf(step).name, step.component, alone(step) ? '' : fieldOf(step).name].filter(Boolean).join(': ')
/** Its name says nothing beside that of the measure. */
const alone = (step: Step) => ['whole', 'squares'].includes(fieldOf(step).kind)
const whole = (step: Step) => fieldOf(step).kind === 'whole'
const at = computed(() => props.visit.order.indexOf(plot.value.id))
const following = computed(() => {
  const inPlot = spots.value[nth.value + 1]
  if (inPlot) {
    const zone = inPlot.zone === present.value.zone ? '' : inPlot.zone
    const name = sampleName(inPlot)
    const text = zone ? t('walk.nextZone', { zone }) : t('walk.nextSample', { name, n: inPlot.sample })
    return { step: inPlot, text }
  }
  const unit = props.visit.order[at.value + 1]
  if (!unit) return null
  const label = props.trial.plots.find((one) => one.id === unit)?.label
  return { step: stepsIn(props.visit, unit)[0], text: t('walk.nextPlot', { p: label }) }
})
const previous = computed(() => {
  const unit = props.visit.order[at.value - 1]
  return spots.value[nth.value - 1] ?? (unit ? spotsOf(stepsIn(props.visit, unit)).at(-1) : undefined)
})
const missingStatus = computed(() =>
  inPlot.value.map((step) => props.sheet.cell(step)).find((c) => c.missingStatus),
)

function count(step: Step, by: number) {
  const now = Number(textOf(step)) || 0
  props.sheet.type(step, String(Math.max(0, now + by)))
}
/** Of several times in one field each is added to those before. */
function take(step: Step, seconds: number) {
  const time = fieldOf(step).unit === 'min' ? plain(Number((seconds / 60).toFixed(2))) : String(seconds)
  const there = textOf(step).trim().replace(/;$/, '')
  const list = fieldOf(step).kind === 'readings' && there
  props.sheet.type(step, list ? `${there}; ${time}` : time)
}
const textOf = (step: Step) => props.sheet.cell(step).fields[step.field] ?? ''
function left(step: Step) {
  if (props.sheet.cell(step).status === 'draft') void props.sheet.finish(step)
}
function choose(step: Step, one: string) {
  emit('go', step, false)
  props.sheet.type(step, one)
  void props.sheet.finish(step)
}
/** The next sample is drawn first; what was typed is on this device already, and is finished then. */
async function onward() {
  const talliedHere = tallies.value.filter(({ steps }) => counted(steps))
  const typedHere = shown.value
  emit('go', following.value?.step, false)
  await painted()
  for (const { steps } of talliedHere) zeros(steps)
  typedHere.forEach(left)
}
/** What the plot had at the visit before, of these places together; nothing at a blind visit, where it would lead. */
function pastSaid(m: SheetMeasure, steps: Step[]): string {
  if (props.visit.blind) return ''
  const found = props.visit.past.filter(
    (one) =>
      one.unit === plot.value.id &&
      one.measure === m.id &&
      steps.some((step) => step.zone === one.zone && (step.component === one.component || !step.component)),
  )
  if (!found.length) return ''
  const sum = found.reduce((all, one) => all + one.value, 0)
  const made = m.rules.own?.parts_make === 'mean' ? sum / found.length : sum
  const value = `${plain(Number((made * m.factor).toPrecision(3)))} ${m.unit}`.trim()
  return t('walk.last', { value, visit: found[0]!.date ? day(found[0]!.date) : found[0]!.visit })
}
/** A guess is asked for of what is counted or measured as one value. */
const guessing = (step: Step) =>
  props.visit.guess_first &&
  measureOf(step).fields.length === 1 &&
  !fieldOf(step).choices.length &&
  fieldOf(step).kind !== 'squares'
function compared(step: Step): string {
  const fields = props.sheet.cell(step).fields
  const [guess, found] = [fields[GUESS], fields[step.field]]
  return guess && found && ['saved', 'queued'].includes(props.sheet.cell(step).status)
    ? t('walk.guess.compared', { guess, found })
    : ''
}
function said(step: Step): string {
  const m = measureOf(step)
  const figure = figureOf(props.sheet.cell(step).row, m)
  return figure && `${figure} ${m.unit}`.replaceAll(' ', '\u00a0') // in one line, however narrow
}
</script>

<template>
  <div class="card">
    <section class="where" :aria-label="t('walk.where')">
      <PlotLocator :trial="trial" :states="states" :unit="plot.id" />
      <div>
        <div class="which">
          <p class="number">{{ plot.label }}</p>
          <p class="quiet small">
            <template v-if="plot.block">{{ t('ground.block', { b: plot.block }) }} · </template
            >{{ t(visit.pages > 1 ? 'walk.pages.nth' : 'walk.nth', { n: at + 1, of: visit.order.length }) }}
          </p>
        </div>
        <p v-if="place >= 0" class="treatment">
          <TreatmentTag :index="place" :code="trial.treatments[place]?.code ?? ''" />
          <strong>{{ trial.treatments[place]?.name }}</strong>
        </p>
        <p v-else class="quiet">{{ t('walk.blind.hidden') }}</p>
      </div>
    </section>
    <SamplePlaces :trial="trial" :visit="visit" :plot="plot" :sample="present.sample">
      <p v-if="sampleHere" class="samples">
        <strong>{{ sampleHere }}</strong>
        <span class="quiet small">{{ visit.measures[0]?.settings.slice(0, 1).join() }}</span>
      </p>
    </SamplePlaces>
    <p v-if="missingStatus" class="missing">
      {{ t(`walk.missingStatus.${missingStatus.missingStatus as 'failed'}`) }}: {{ missingStatus.reason }}
    </p>
    <section v-for="{ m, steps } in tallies" :key="m.id" class="entry">
      <p class="name">
        <strong>{{ m.name }}</strong>
        <span class="quiet value">{{ pastSaid(m, steps) }}</span>
      </p>
      <StopWatch
        v-if="m.watched"
        :key="keyOf(steps[0]!)"
        :place="`${visit.id}|${m.id}|${plot.id}|${steps[0]!.zone}|${steps[0]!.sample}`"
        :limit="m.watched * 60"
        :disabled="!mayRecord"
      />
      <TallyKeys
        :measure="m"
        :steps="steps"
        :sheet="sheet"
        :may-record="mayRecord"
        @at="emit('go', $event, false)"
      />
      <div class="acts">
        <PartList
          :measure="m"
          :trial="trial"
          :unit="plot.id"
          :may-record="mayRecord"
          @add="(part, group) => sheet.addPart(m.id, part, group)"
        />
        <button v-if="mayRecord && !counted(steps)" type="button" class="pill" @click="noneHere(steps)">
          {{ t('walk.tally.none') }}
        </button>
      </div>
    </section>
    <section v-for="step in shown" :key="step.measure + step.component + step.field" class="entry">
      <p class="name">
        <strong>{{ name(step) }}</strong>
        <span v-if="fieldOf(step).unit" class="quiet">{{ fieldOf(step).unit }}</span>
        <span class="quiet value">{{ said(step) || pastSaid(measureOf(step), [step]) }}</span>
      </p>
      <label v-if="guessing(step)" class="guess">
        {{ t('walk.guess.label') }}
        <input
          :value="sheet.cell(step).fields[GUESS] ?? ''"
          inputmode="decimal"
          autocomplete="off"
          maxlength="12"
          :disabled="!mayRecord"
          @input="sheet.type({ ...step, field: GUESS }, ($event.target as HTMLInputElement).value)"
        />
      </label>
      <StopWatch
        v-if="fieldOf(step).timed"
        :key="`${keyOf(step)}|${step.field}`"
        :place="`${visit.id}|${keyOf(step)}|${step.field}`"
        :disabled="!mayRecord"
        @timed="take(step, $event)"
      />
      <DrawnArea
        v-if="fieldOf(step).kind === 'squares'"
        :key="keyOf(step)"
        :trial="trial"
        :plot="plot"
        :measure="measureOf(step)"
        :corner="visit.places.corner"
        :text="textOf(step)"
        :disabled="!mayRecord"
        @drawn="sheet.type(step, $event)"
        @left="left(step)"
      />
      <p v-if="compared(step)" class="quiet small">{{ compared(step) }}</p>
      <div
        v-if="fieldOf(step).choices.length"
        class="choices"
        role="radiogroup"
        :aria-label="`${t('walk.plot', { p: plot.label })}, ${name(step)}`"
      >
        <button
          v-for="one in fieldOf(step).choices"
          :key="one"
          type="button"
          role="radio"
          class="tap"
          :aria-checked="sheet.cell(step).fields[step.field] === one"
          :disabled="!mayRecord"
          @click="choose(step, one)"
        >
          {{ one }}
        </button>
      </div>
      <ReadingsPad
        v-else-if="fieldOf(step).kind === 'readings'"
        :step="step"
        :sheet="sheet"
        :label="`${t('walk.plot', { p: plot.label })}, ${name(step)}`"
        :disabled="!mayRecord"
        :field="fieldOf(step)"
        @at="emit('go', $event, false)"
        @key="(s, event) => emit('key', s, event)"
      />
      <div v-else class="figure" :class="{ counted: whole(step) }">
        <button
          v-if="whole(step)"
          type="button"
          class="tap"
          :disabled="!mayRecord"
          :aria-label="t('walk.less', { m: name(step) })"
          @click="count(step, -1)"
        >
          −
        </button>
        <FigureInput
          :step="step"
          :sheet="sheet"
          :label="`${t('walk.plot', { p: plot.label })}, ${name(step)}`"
          :disabled="!mayRecord"
          :field="fieldOf(step)"
          @at="emit('go', $event, false)"
          @key="(s, event) => emit('key', s, event)"
        />
        <button
          v-if="whole(step)"
          type="button"
          class="tap"
          :disabled="!mayRecord"
          :aria-label="t('walk.plus', { m: name(step) })"
          @click="count(step, 1)"
        >
          +
        </button>
      </div>
    </section>
    <slot />
    <CardActs
      v-if="mayRecord"
      :sheet="sheet"
      :may-go-back="Boolean(previous)"
      @back="emit('go', previous, false)"
      @missing="emit('missing')"
      @note="emit('note')"
      @undo="emit('undo')"
      @redo="emit('redo')"
    />
    <button type="button" class="onward" @click="onward">
      {{ following ? following.text : t('walk.finish') }}
    </button>
  </div>
</template>

<style scoped>
.card {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.card :deep(.places) {
  margin-bottom: 0;
}
section {
  contain: layout paint style;
  border: 1px solid var(--rule);
  border-radius: 12px;
  background: var(--ground);
  padding: 12px 14px;
}
.where {
  padding: 6px 14px;
  display: flex;
  gap: 16px;
  align-items: center;
}
.where p {
  margin: 0 0 2px;
}
.number {
  font-size: 32px;
  font-weight: 800;
  line-height: 1.1;
}
.which {
  display: flex;
  gap: 10px;
  align-items: baseline;
}
.treatment {
  display: flex;
  gap: 8px;
  align-items: center;
}
.samples,
.missing {
  margin: 0;
}
.samples {
  display: flex;
  gap: 12px;
  align-items: baseline;
}
.missing {
  color: var(--loss);
  font-weight: 650;
}
.name {
  display: flex;
  gap: 8px;
  margin: 0 0 6px;
}
.value {
  margin-left: auto;
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.choices .tap {
  flex: 1 0 56px;
  padding: 0 12px;
  font-size: 20px;
  font-weight: 400;
}
.choices .tap[aria-checked='true'] {
  background: var(--accent);
  color: var(--on-accent);
  border-color: var(--accent);
  font-weight: 750;
}
.guess {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-bottom: 8px;
}
.guess input {
  width: 110px;
  min-height: 48px;
  padding: 4px 8px;
  border: 1px solid var(--field);
  border-radius: 6px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  font-size: 20px;
  text-align: center;
}
.figure {
  display: grid;
  gap: 10px;
}
.figure.counted {
  grid-template-columns: 64px 1fr 64px;
}
.figure :deep(input) {
  min-height: 56px;
  font-size: 30px;
  font-weight: 750;
  text-align: center;
}
.figure .tap {
  padding: 0;
  font-size: 28px;
  font-weight: 400;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.acts .pill {
  flex: 1 0 auto;
  padding: 4px 10px;
}
.onward {
  position: sticky;
  bottom: 104px;
  min-height: 60px;
  border: 0;
  border-radius: 14px;
  background: var(--accent);
  color: var(--on-accent);
  font: inherit;
  font-size: 19px;
  font-weight: 750;
}
</style>
