<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { OperationIn, Season, Trial } from '@/api/queries'
import { blocksOf, plotsIn, requireChosen } from '@/ground/blocks'
import { keepOperation } from '@/offline/keepOperation'
import { faultsIn } from '@/parts/faults'
import FoldedPart from '@/parts/FoldedPart.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'
import { useMeanwhile } from '@/parts/useMeanwhile'
import { useGround } from '@/shell/useGround'
import { day } from '@/texts/format'

import {
  closingBody,
  draftOf,
  emptyTrigger,
  triggerBody,
  TRIGGERS,
  type Preset,
  type TriggerDraft,
} from './trigger'
import TriggerFields from './TriggerFields.vue'
import { detailsBody, detailsOf } from './details'
import OperationDetails from './OperationDetails.vue'

const props = defineProps<{
  trial: Trial
  id: string
  was: Season['operations'][number] | null
  season: Season
  preset?: Preset
}>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const KINDS = [
  'sow',
  'kill',
  'plant',
  'till',
  'fertilise',
  'spray',
  'mow',
  'roll',
  'crimp',
  'graze',
  'graze_out',
  'irrigate',
  'cover_on',
  'cover_off',
  'sample',
  'harvest',
  'other',
] as const
const kinds = computed(() => KINDS.map((value) => ({ value, title: t(`season.kind.${value}`) })))
const kind = ref<OperationIn['kind']>('sow')
const name = ref('')
const due = ref('')
const done = ref('')
const note = ref('')
const opens = ref<TriggerDraft>(emptyTrigger('date'))
const closes = ref<TriggerDraft>(emptyTrigger('none'))
const after = ref<string | null>(null)
const days = ref('')
const whatFor = ref<'all' | 'some' | 'blocks' | 'marked'>('all')
const blocks = ref<string[]>([])
const treatments = ref<string[]>([])
const plots = ref<string[]>([])
const details = ref(detailsOf(null))
const { chosen } = useGround()
const others = computed(() =>
  props.season.operations.filter((one) => one.id !== props.id).map((one) => ({ value: one.id, title: one.name })),
) // prettier-ignore
/** Plots of the operation as it was, or those that are marked on the map now. */
const marked = computed(() => (chosen.value.length ? chosen.value : plots.value))

function take(preset: Preset) {
  if (preset.kind) kind.value = preset.kind as OperationIn['kind']
  if (preset.name) name.value = preset.name
  if (preset.treatments) {
    treatments.value = preset.treatments
    whatFor.value = 'some'
  }
  if (preset.trigger) opens.value = preset.trigger
  if (preset.after) {
    opens.value = emptyTrigger('after')
    after.value = preset.after
    days.value = preset.days ?? '0'
  }
}
const { theirs, opened, save } = useMeanwhile((current) =>
  (current as Season).operations.find((one) => one.id === props.id),
)
watch(
  open,
  (now) => {
    if (!now) return
    opened(props.was)
    kind.value = props.was?.kind ?? 'sow'
    name.value = props.was?.name ?? ''
    due.value = props.was?.due ?? ''
    done.value = props.was?.done ?? ''
    note.value = props.was?.note ?? ''
    opens.value = draftOf(props.was?.trigger ?? null, props.was?.after ? 'after' : 'date')
    opens.value.operation = props.was?.after ?? null
    closes.value = draftOf(props.was?.closes ?? null, 'none')
    after.value = props.was?.after ?? null
    days.value = props.was?.after ? String(props.was.after_days) : ''
    blocks.value = []
    treatments.value = [...(props.was?.treatments ?? [])]
    plots.value = [...(props.was?.plots ?? [])]
    whatFor.value = plots.value.length ? 'marked' : treatments.value.length ? 'some' : 'all'
    take(props.preset ?? {})
    details.value = detailsOf(props.was)
  },
  { immediate: true },
)

const COUNTS = ['degree_days', 'soil_temperature']
const countsFrom = (draft: TriggerDraft) => (COUNTS.includes(draft.kind) ? draft.operation : null)
const whens = computed(() =>
  (['date', 'after', ...TRIGGERS] as const).map((value) => ({
    value, title: t(`season.whens.${value}`), props: { disabled: value === 'after' && !others.value.length },
  })),
) // prettier-ignore
const closings = computed(() =>
  (['none', 'day', 'after', ...TRIGGERS] as const).map((value) => ({ value, title: t(`season.closings.${value}`) })),
) // prettier-ignore
const { problem, keep } = useKeep(open, () =>
  save(async (etag) => {
    if (whatFor.value !== 'all')
      requireChosen({ some: treatments.value, blocks: blocks.value, marked: marked.value }[whatFor.value])
    return keepOperation(
      props.trial,
      props.id,
      {
        kind: kind.value,
        name: name.value.trim() || t(`season.kind.${kind.value}`),
        due: (opens.value.kind === 'date' && due.value) || null,
        after: opens.value.kind === 'after' ? after.value : countsFrom(opens.value),
        after_days: opens.value.kind === 'after' ? days.value || '0' : 0,
        trigger: triggerBody(opens.value),
        closes: closingBody(closes.value),
        treatments: whatFor.value === 'some' ? treatments.value : [],
        plots:
          whatFor.value === 'marked'
            ? marked.value
            : whatFor.value === 'blocks'
              ? plotsIn(props.trial, blocks.value)
              : [],
        ...detailsBody(details.value, kind.value),
        done: done.value || null,
        note: note.value,
      },
      etag,
    )
  }),
)
const faults = computed(() => faultsIn(problem.value))
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t(was ? 'season.change' : 'season.add')"
    :act="t('season.keep')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    @act="keep"
  >
    <v-select v-model="kind" :items="kinds" :label="t('season.what')" />
    <v-text-field
      v-model="name"
      :label="t('season.name')"
      :placeholder="t(`season.kind.${kind}`)"
      maxlength="120"
    />
    <v-select v-model="opens.kind" :label="t('season.when')" :items="whens" />
    <div class="row">
      <v-text-field v-if="opens.kind === 'date'" v-model="due" type="date" :label="t('season.due')" />
      <TriggerFields
        v-else-if="opens.kind !== 'after'"
        v-model="opens"
        where="trigger"
        :trial="trial"
        :season="season"
        :faults="faults"
        :temperature-unit="season.units.temperature"
        :units="season.units"
        :others="others"
      />
      <template v-else>
        <v-select
          v-model="after"
          :label="t('season.follows')"
          :items="others"
          :error-messages="faults.after ?? ''"
        />
        <v-text-field
          v-model="days"
          :label="t('season.days')"
          :hint="t('season.daysHint')"
          persistent-hint
          inputmode="numeric"
          :error-messages="faults.after_days ?? ''"
        />
      </template>
      <v-text-field
        v-model="done"
        type="date"
        :label="t('season.done')"
        :max="season.today"
        :error-messages="faults.done ?? ''"
      />
    </div>
    <v-select
      v-model="whatFor"
      :label="t('season.whatFor')"
      :error-messages="faults.what_for ?? ''"
      :items="[
        { value: 'all', title: t('season.wholeTrial') },
        { value: 'some', title: t('season.some') },
        ...(blocksOf(trial).length ? [{ value: 'blocks', title: t('season.someBlocks') }] : []),
        {
          value: 'marked',
          title: t('season.marked', { n: marked.length }),
          props: { disabled: !marked.length },
        },
      ]"
    />
    <v-select
      v-if="whatFor === 'blocks'"
      v-model="blocks"
      multiple
      :label="t('season.forBlocks')"
      :items="blocksOf(trial)"
    />
    <v-select
      v-if="whatFor === 'some'"
      v-model="treatments"
      multiple
      :label="t('season.forTreatments')"
      :items="trial.treatments.map((one) => ({ value: one.id, title: one.name }))"
    />
    <v-select
      v-if="season.zones.length"
      v-model="details.zones"
      multiple
      :label="t('season.inZones')"
      :items="season.zones"
      :hint="t('season.inZonesHint')"
      persistent-hint
      :error-messages="faults.zones ?? ''"
    />
    <FoldedPart :title="t('season.closing')" :open="closes.kind !== 'none'">
      <div class="row more">
        <v-select v-model="closes.kind" :label="t('season.closing')" :items="closings" />
        <v-text-field
          v-if="closes.kind === 'day'"
          v-model="closes.day"
          type="date"
          :label="t('season.lastDay')"
          :error-messages="faults['closes.day'] ?? ''"
        />
        <template v-else-if="closes.kind === 'after'">
          <v-select
            v-model="closes.operation"
            :label="t('season.follows')"
            :items="others"
            :error-messages="faults['closes.operation'] ?? ''"
          />
          <v-text-field v-model="closes.daysAfter" :label="t('season.days')" inputmode="numeric" />
        </template>
        <TriggerFields
          v-else-if="closes.kind !== 'none'"
          v-model="closes"
          where="closes"
          :trial="trial"
          :season="season"
          :faults="faults"
          :temperature-unit="season.units.temperature"
          :units="season.units"
          :others="others"
        />
      </div>
    </FoldedPart>
    <OperationDetails v-model="details" :season="season" :kind="kind" :faults="faults" />
    <v-text-field v-model="note" :label="t('season.note')" maxlength="500" />
    <p v-if="theirs" role="status">
      {{
        t('season.theirs', {
          kind: t(`season.kind.${theirs.kind}`),
          name: theirs.name,
          due: theirs.due ? day(theirs.due) : '–',
          done: theirs.done ? day(theirs.done) : '–',
          note: theirs.note || '–',
        })
      }}
    </p>
  </SheetDialog>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
