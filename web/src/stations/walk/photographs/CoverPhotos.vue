<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { samplePhotographsApi, type Cover } from '@/api/samplePhotographs'
import type { SheetMeasure, Trial, Visit } from '@/api/queries'
import { keyOf, stepsOf, type Step } from '@/offline/cells'
import { newId } from '@/parts/newId'
import ProblemNote from '@/parts/ProblemNote.vue'
import { plain } from '@/texts/format'

import type { Sheet } from '@/stations/walk/useSheet'

/** Green cover from photographs of the frames: one, or those of many plots in walking order. */
const props = defineProps<{ trial: Trial; visit: Visit; sheet: Sheet; measure: SheetMeasure; at: Step }>()
const { t } = useI18n()
const open = ref(false)
interface Taken {
  id: string
  file: File
  place: string
  /** Where the server has it. */
  kept: string
  state: 'sending' | 'here' | 'failed'
  cover: Cover | null
  threshold: number | null
  problem: Error | null
}
const surplus = ref(0)
const photographs = reactive<Taken[]>([])
const steps = computed(() => stepsOf(props.visit).filter((step) => step.measure === props.measure.id))
const labels = computed(() => new Map(props.trial.plots.map((plot) => [plot.id, plot.label])))
const places = computed(() =>
  steps.value.map((step) => ({
    value: keyOf(step),
    title: [
      t('walk.plot', { p: labels.value.get(step.unit) }),
      step.zone,
      props.measure.samples > 1 ? t('walk.frameN', { n: step.sample }) : '',
    ]
      .filter(Boolean)
      .join(', '),
  })),
)
const stepOf = (place: string) => steps.value.find((step) => keyOf(step) === place)!
/** The empty places from where one stands on, in walking order. */
function following(): string[] {
  const from = Math.max(
    0,
    steps.value.findIndex((step) => keyOf(step) === keyOf(props.at)),
  )
  const taken = new Set(photographs.map((one) => one.place))
  return [...steps.value.slice(from), ...steps.value.slice(0, from)]
    .filter((step) => props.sheet.cell(step).status === 'empty' && !taken.has(keyOf(step)))
    .map(keyOf)
}
async function took(event: Event) {
  const input = event.target as HTMLInputElement
  // Cameras count their files upwards: by name they stand in the order in which they were taken.
  const files = [...(input.files ?? [])].sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))
  input.value = ''
  const free = following()
  open.value = true
  surplus.value = Math.max(0, files.length - free.length) // a plot that has a value isn't written over unseen
  for (const [i, file] of files.slice(0, free.length).entries()) {
    const place = free[i]!
    photographs.push({ id: newId(), file, place, kept: '', state: 'sending', cover: null, threshold: null, problem: null }) // prettier-ignore
    await send(photographs.at(-1)!)
  }
}
async function keep(one: Taken) {
  const { unit, zone, sample } = stepOf(one.place)
  await samplePhotographsApi.keep(props.visit.id, one.id, one.file, { unit, zone, sample })
  one.kept = one.place
}
async function send(one: Taken) {
  try {
    await keep(one)
    one.cover = await samplePhotographsApi.cover(one.id, null)
    one.state = 'here'
  } catch (error) {
    one.problem = error as Error
    one.state = 'failed'
  }
}
async function byHand(one: Taken, threshold: number) {
  one.threshold = threshold
  one.problem = null
  try {
    const cover = await samplePhotographsApi.cover(one.id, threshold)
    if (one.threshold === threshold) one.cover = cover
  } catch (error) {
    one.problem = error as Error
  }
}
const ready = computed(() => photographs.filter((one) => one.state === 'here' && one.cover))
const twice = computed(() => new Set(ready.value.map((one) => one.place)).size < ready.value.length)
async function enter() {
  const all = ready.value
  for (const one of all)
    if (one.kept !== one.place) {
      one.problem = null
      await keep(one).catch((error: unknown) => (one.problem = error as Error))
      if (one.problem) return
    }
  for (const one of all) {
    const step = stepOf(one.place)
    props.sheet.type(step, String(Math.round(one.cover!.percent * 10) / 10))
    void props.sheet.finish(step)
  }
  close()
}
function close() {
  photographs.splice(0)
  open.value = false
}
</script>

<template>
  <label class="pill file">
    {{ t('walk.cover.take') }}
    <input type="file" accept="image/jpeg,image/png,image/webp" multiple @change="took" />
  </label>
  <v-dialog v-model="open" max-width="920" scrollable persistent :aria-label="t('walk.cover.title')">
    <div class="sheet">
      <h2>{{ t('walk.cover.title') }}</h2>
      <p class="quiet">{{ t('walk.cover.lead') }}</p>
      <article v-for="one in photographs" :key="one.id">
        <img
          v-if="one.state === 'here'"
          :src="samplePhotographsApi.picture(one.id, one.threshold)"
          :alt="t('walk.cover.picture', { name: one.file.name })"
        />
        <div>
          <p class="name">{{ one.file.name }}</p>
          <p v-if="one.state === 'sending'" role="status">{{ t('walk.cover.sending') }}</p>
          <ProblemNote v-if="one.problem" :problem="one.problem" />
          <template v-if="one.cover">
            <p class="percent">
              {{ t('walk.cover.percent', { n: plain(Math.round(one.cover.percent * 10) / 10) }) }}
            </p>
            <v-select
              v-model="one.place"
              :items="places"
              :label="t('walk.cover.place', { name: one.file.name })"
            />
            <label class="threshold">
              {{ t('walk.cover.threshold', { n: plain(Math.round(one.cover.threshold * 1000) / 1000) }) }}
              <input
                type="range"
                min="0"
                max="0.5"
                step="0.01"
                :value="one.cover.threshold"
                @change="byHand(one, Number(($event.target as HTMLInputElement).value))"
              />
            </label>
            <p v-for="note in one.cover.notes" :key="note" class="quiet small">{{ note }}</p>
          </template>
        </div>
      </article>
      <p v-if="surplus" role="alert">{{ t('walk.cover.surplus', surplus) }}</p>
      <p v-if="twice" role="alert">{{ t('walk.cover.twice') }}</p>
      <p class="acts">
        <v-btn color="accent" :disabled="!ready.length || twice" @click="enter">{{
          t('walk.cover.enter', ready.length)
        }}</v-btn>
        <button type="button" class="link-button" @click="close">{{ t('walk.cover.close') }}</button>
      </p>
    </div>
  </v-dialog>
</template>

<style scoped>
.sheet {
  background: var(--paper);
  color: var(--ink);
  border-radius: 12px;
  padding: 18px;
  overflow: auto;
}
article {
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr);
  gap: 16px;
  border-top: 1px solid var(--rule);
  padding: 14px 0;
}
img {
  width: 100%;
  border-radius: 8px;
}
.name,
.percent {
  margin: 0 0 6px;
  font-weight: 650;
  overflow-wrap: anywhere;
}
.percent {
  font-size: 26px;
  font-weight: 800;
}
.threshold {
  display: grid;
  gap: 4px;
}
.threshold input {
  min-height: 44px;
  accent-color: var(--accent);
}
.acts {
  display: flex;
  gap: 18px;
  align-items: center;
}
@media (max-width: 720px) {
  article {
    grid-template-columns: 1fr;
  }
}
</style>
