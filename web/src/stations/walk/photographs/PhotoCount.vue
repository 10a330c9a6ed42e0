<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { photographsQuery, samplePhotographsApi, type Corners, type Mark, type PhotoCount } from '@/api/samplePhotographs' // prettier-ignore
import type { SheetMeasure, Trial, Visit } from '@/api/queries'
import { columnsOf, type Step } from '@/offline/cells'
import { newId } from '@/parts/newId'
import ProblemNote from '@/parts/ProblemNote.vue'
import { plain } from '@/texts/format'

import FrameForm from './FrameForm.vue'
import MarkedPicture from './MarkedPicture.vue'
import type { Sheet } from '@/stations/walk/useSheet'

/** A frame counted on its photograph: straightened to the frame’s corners, marked plant by plant, and entered. */
const props = defineProps<{ trial: Trial; visit: Visit; sheet: Sheet; measure: SheetMeasure; at: Step }>()
const { t } = useI18n()
const queries = useQueryClient()
const emit = defineEmits<{ close: [] }>()
const open = ref(true)
watch(open, (now) => {
  if (!now) emit('close')
})
const { data: photographs } = useQuery({ ...photographsQuery(() => props.visit.id), enabled: open })

const place = computed(() => {
  const mine = props.at.measure === props.measure.id
  return { unit: props.at.unit, zone: mine ? props.at.zone : (props.measure.zones[0] ?? ''), sample: mine ? props.at.sample : 1 } // prettier-ignore
})
const said = computed(() =>
  [
    t('walk.plot', { p: props.trial.plots.find((plot) => plot.id === place.value.unit)?.label }),
    place.value.zone,
    props.measure.samples > 1 ? t('walk.frameN', { n: place.value.sample }) : '',
  ]
    .filter(Boolean)
    .join(', '),
)
const here = computed(() =>
  (photographs.value ?? []).filter(
    (one) =>
      one.unit === place.value.unit && one.zone === place.value.zone && one.sample === place.value.sample,
  ),
)
const parts = computed(() => props.measure.parts.map((part) => part.name))
const component = ref(parts.value.includes(props.at.component) ? props.at.component : (parts.value[0] ?? ''))
const step = computed<Step | null>(() => {
  const found = columnsOf(props.measure).find(
    (one) =>
      one.zone === place.value.zone && one.sample === place.value.sample && one.component === component.value,
  )
  return found ? { unit: place.value.unit, ...found } : null
})

const photograph = ref('')
const state = ref<'choose' | 'sending' | 'corners' | 'marks'>('choose')
const count = ref<PhotoCount | null>(null)
const corners = ref<Corners>([])
const sides = ref({ width: '', length: '' })
const marks = ref<Mark[]>([])
const suggestions = ref<Mark[]>([])
const note = ref('')
const entered = ref(false)
const busy = ref(false)
const problem = ref<Error | null>(null)
const before = ref<Mark[][]>([])

const INSIDE: Corners = [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9], [0.1, 0.9]] // prettier-ignore
const others = computed(() => count.value?.others ?? [])
const othersMarks = computed(() => (entered.value ? others.value.flatMap((one) => one.marks) : []))

async function act(work: () => Promise<void>) {
  busy.value = true
  problem.value = null
  try {
    await work()
  } catch (error) {
    problem.value = error as Error
  } finally {
    busy.value = false
  }
}
function take(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  state.value = 'sending'
  const id = newId()
  void act(async () => {
    await samplePhotographsApi.keep(props.visit.id, id, file, place.value)
    await queries.invalidateQueries({ queryKey: ['visits', props.visit.id, 'photographs'] })
    await show(id)
  }).then(() => {
    if (problem.value) state.value = 'choose'
  })
}
async function show(id: string) {
  photograph.value = id
  taken(await samplePhotographsApi.count(id, component.value))
  state.value = count.value!.straightened || count.value!.marks ? 'marks' : 'corners'
}
function taken(found: PhotoCount) {
  count.value = found
  corners.value = found.straightened ? found.corners : INSIDE
  sides.value = { width: text(found.width), length: text(found.length) }
  marks.value = found.marks ?? []
  suggestions.value = []
  before.value = []
  note.value = ''
  entered.value = false
}
const text = (value: number | null) => (value === null ? '' : plain(Number(value.toPrecision(6))))

const straighten = (whole: boolean) =>
  act(async () => {
    const carried = { marks: marks.value, were: count.value!.corners }
    const open = unsaved.value
    const kept = whole ? null : corners.value
    taken(
      await samplePhotographsApi.keepCorners(photograph.value, component.value, kept, sides.value, carried),
    )
    // What is carried along into the new corners isn’t saved by that.
    if (open) count.value = { ...count.value!, marks: null }
    state.value = 'marks'
  })
const suggest = () =>
  act(async () => {
    const found = await samplePhotographsApi.suggested(photograph.value)
    const near = (a: Mark, b: Mark) => Math.hypot(a.x - b.x, (a.y - b.y) * (count.value?.shape ?? 1)) < 0.02
    suggestions.value = found.marks.filter((one) => !marks.value.some((mine) => near(one, mine)))
    note.value = found.note
  })
function remember() {
  before.value = [...before.value.slice(-99), marks.value]
  entered.value = false
}
function change(next: Mark[]) {
  remember()
  marks.value = next
}
function accept(list: Mark[]) {
  change([...marks.value, ...list])
  suggestions.value = suggestions.value.filter((one) => !list.includes(one))
}
function undo() {
  const last = before.value.pop()
  if (last) marks.value = last
}
const enter = () =>
  act(async () => {
    if (!step.value || !count.value) return
    const n = marks.value.length
    const shown = { suggestions: suggestions.value, note: note.value }
    const found = await samplePhotographsApi.keepCount(photograph.value, component.value, count.value.corners, marks.value) // prettier-ignore
    taken(found)
    suggestions.value = shown.suggestions
    note.value = shown.note
    props.sheet.type(step.value, String(n))
    void props.sheet.finish(step.value)
    entered.value = true
    if (!found.others.length) open.value = false
  })
const another = (name: string) =>
  act(async () => {
    component.value = name
    if (photograph.value) await show(photograph.value)
  })
/** Marks that were set and not entered aren’t thrown away unasked. */
const leaving = ref(false)
const unsaved = computed(
  () => !entered.value && JSON.stringify(marks.value) !== JSON.stringify(count.value?.marks ?? []),
)
function leave() {
  if (unsaved.value) leaving.value = true
  else open.value = false
}
const there = computed(() => step.value && props.sheet.cell(step.value).fields[step.value.field])
</script>

<template>
  <v-dialog
    v-model="open"
    max-width="1000"
    scrollable
    persistent
    :aria-label="t('walk.count.title', { place: said })"
  >
    <div class="sheet">
      <h2>{{ t('walk.count.title', { place: said }) }}</h2>
      <v-select
        v-if="parts.length"
        :model-value="component"
        :items="parts"
        :label="t('walk.count.of')"
        :disabled="unsaved"
        :messages="unsaved ? t('walk.count.unsaved', marks.length) : ''"
        @update:model-value="another"
      />
      <ProblemNote v-if="problem" :problem="problem" />

      <template v-if="state === 'choose' || state === 'sending'">
        <p>{{ t('walk.count.lead') }}</p>
        <p class="acts">
          <label class="pill file" :class="{ busy: state === 'sending' }">
            {{ t(state === 'sending' ? 'walk.cover.sending' : 'walk.count.take') }}
            <input
              type="file"
              accept="image/jpeg,image/png,image/webp"
              :disabled="state === 'sending'"
              @change="take"
            />
          </label>
        </p>
        <ul v-if="here.length" class="known">
          <li v-for="one in here" :key="one.id">
            <button type="button" @click="act(() => show(one.id))">
              <img :src="`/api/v1/photographs/${one.id}/preview`" alt="" />
              <span>{{ t('walk.count.known', { by: one.by }) }}</span>
            </button>
          </li>
        </ul>
      </template>

      <template v-else-if="state === 'corners'">
        <FrameForm
          v-model:corners="corners"
          v-model:sides="sides"
          :src="`/api/v1/photographs/${photograph}`"
          :unit="count?.unit ?? ''"
          :hint="t('walk.count.sidesLead', { settings: measure.settings.join(', ') })"
        />
        <p class="acts">
          <v-btn color="accent" :loading="busy" @click="straighten(false)">{{
            t('walk.count.straighten')
          }}</v-btn>
          <button type="button" class="link-button" @click="straighten(true)">
            {{ t('walk.count.whole') }}
          </button>
        </p>
      </template>

      <template v-else-if="count">
        <p class="tally" role="status">
          <strong>{{ t('walk.count.counted', { n: marks.length }) }}</strong>
          <span v-if="suggestions.length">{{ t('walk.count.open', suggestions.length) }}</span>
        </p>
        <p v-if="count.note" role="alert">{{ count.note }}</p>
        <MarkedPicture
          :model-value="marks"
          :src="samplePhotographsApi.straight(photograph, count.corners)"
          :shape="count.shape"
          :open="suggestions"
          :others="othersMarks"
          :may="true"
          @update:model-value="change"
          @accept="accept([$event])"
        />
        <p class="acts">
          <button type="button" class="pill" :disabled="!before.length" @click="undo">
            {{ t('walk.count.undo') }}
          </button>
          <button type="button" class="pill" :disabled="busy" @click="suggest">
            {{ t('walk.count.suggest') }}
          </button>
          <template v-if="suggestions.length">
            <button type="button" class="pill" @click="accept(suggestions)">
              {{ t('walk.count.accept', suggestions.length) }}
            </button>
            <button type="button" class="pill" @click="suggestions = []">{{ t('walk.count.refuse') }}</button>
          </template>
          <button type="button" class="pill" @click="state = 'corners'">{{ t('walk.count.again') }}</button>
        </p>
        <p v-if="note" class="small">{{ note }}</p>
        <template v-if="others.length">
          <p v-for="one in others" :key="one.by" class="small">
            {{
              one.number === null
                ? t('walk.count.hidden', { by: one.by })
                : t('walk.count.other', { by: one.by, n: one.number, agreement: one.agreement })
            }}
          </p>
          <p v-if="entered" class="small quiet">{{ t('walk.count.legend') }}</p>
        </template>
        <p v-if="!entered && there && there !== String(marks.length)" class="small">
          {{ t('walk.count.replaces', { n: there }) }}
        </p>
        <p class="acts">
          <v-btn
            v-if="!entered"
            color="accent"
            :disabled="!step || suggestions.length > 0"
            :loading="busy"
            @click="enter"
            >{{ t('walk.count.enter', marks.length) }}</v-btn
          >
          <span v-if="suggestions.length" class="small">{{ t('walk.count.first') }}</span>
        </p>
      </template>
      <p v-if="leaving" class="acts" role="alert">
        {{ t('walk.count.unsaved', marks.length) }}
        <button type="button" class="pill" @click="leaving = false">{{ t('walk.count.stay') }}</button>
        <button type="button" class="link-button" @click="open = false">{{ t('walk.count.discard') }}</button>
      </p>
      <p v-else class="acts">
        <button type="button" class="link-button" @click="leave">
          {{ t(entered ? 'walk.count.done' : 'walk.count.close') }}
        </button>
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
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin: 10px 0;
}
.tally {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: baseline;
  margin: 0 0 8px;
}
.tally strong {
  font-size: 26px;
}
.known {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.known button {
  display: grid;
  gap: 4px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: 13px;
  cursor: pointer;
}
.known img {
  width: 168px;
  height: 126px;
  object-fit: cover;
  border-radius: 6px;
}
</style>
