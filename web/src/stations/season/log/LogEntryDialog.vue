<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { FieldLog, LogEntry, LogEntryIn } from '@/api/fieldLog'
import type { Trial } from '@/api/queries'
import { blocksOf, plotsIn, requireChosen } from '@/ground/blocks'
import { keepLogEntry } from '@/offline/keepLogEntry'
import { faultsIn } from '@/parts/faults'
import PhotographChoice from '@/parts/PhotographChoice.vue'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'
import { useMeanwhile } from '@/parts/useMeanwhile'
import { useGround } from '@/shell/useGround'

/** A note, a trouble or a decision. Troubles say what they mean for values, decisions what was known. */
const props = defineProps<{
  trial: Trial
  log: FieldLog
  id: string
  was: LogEntry | null
  kind: LogEntry['kind']
}>()
const emit = defineEmits<{ photographs: [entry: string, files: File[]] }>()
const open = defineModel<boolean>({ required: true })
const files = ref<File[]>([])
const { t } = useI18n()
const TROUBLES = [
  'water', 'hail', 'drought', 'frost', 'rodents', 'browsing', 'slugs', 'volunteers', 'wheel_track', 'drift',
  'missed_strip', 'other',
] as const // prettier-ignore
const DECISIONS = ['kill', 'repeat', 'abandon', 'change', 'other'] as const
const EFFECTS = ['none', 'doubtful', 'lost'] as const
const said = reactive({
  day: '', text: '', trouble: '' as LogEntryIn['trouble'], decision: '' as LogEntryIn['decision'],
  effect: 'none' as LogEntryIn['effect'], rule: '', known: '', treatments: [] as string[], plots: [] as string[],
}) // prettier-ignore
const { chosen } = useGround()
const where = ref<'all' | 'some' | 'blocks' | 'plots'>('all')
const blocks = ref<string[]>([])
const { theirs, opened, save } = useMeanwhile((current) =>
  (current as FieldLog).entries.find((one) => one.id === props.id),
)
/** Plots that are marked on the map stand there already; on a phone their numbers are typed. */
watch(
  open,
  (now) => {
    if (!now) return
    opened(props.was)
    files.value = []
    blocks.value = []
    const was = props.was
    const plots = chosen.value.length ? chosen.value : (was?.plots ?? [])
    Object.assign(said, {
      day: was?.day ?? props.log.today, text: was?.text ?? '', trouble: was?.trouble ?? '',
      decision: was?.decision ?? '', effect: was?.effect ?? 'none', rule: was?.rule ?? '', known: was?.known ?? '',
      treatments: [...(was?.treatments ?? [])], plots: [...plots],
    }) // prettier-ignore
    where.value = plots.length ? 'plots' : said.treatments.length ? 'some' : 'all'
  },
  { immediate: true },
)
const { problem, keep } = useKeep(open, () =>
  save(async (etag) => {
    if (where.value !== 'all')
      requireChosen({ some: said.treatments, blocks: blocks.value, plots: said.plots }[where.value])
    const body: LogEntryIn = {
      ...said,
      kind: props.kind,
      treatments: where.value === 'some' ? said.treatments : [],
      plots:
        where.value === 'plots'
          ? said.plots
          : where.value === 'blocks'
            ? plotsIn(props.trial, blocks.value)
            : [],
    }
    await keepLogEntry(props.trial, props.id, body, t(`log.kind.${props.kind}`), etag)
    if (files.value.length) emit('photographs', props.id, files.value)
  }),
)
const faults = computed(() => faultsIn(problem.value))
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t(was ? 'log.changeEntry' : `log.add.${kind}`)"
    :act="t('log.keep')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    @act="keep"
  >
    <v-select
      v-if="kind === 'trouble'"
      v-model="said.trouble"
      data-where="trouble"
      :items="TROUBLES.map((value) => ({ value, title: t(`log.trouble.${value}`) }))"
      :label="t('log.what')"
      :error-messages="faults.trouble ?? ''"
    />
    <v-select
      v-if="kind === 'decision'"
      v-model="said.decision"
      data-where="decision"
      :items="DECISIONS.map((value) => ({ value, title: t(`log.decision.${value}`) }))"
      :label="t('log.whatDecided')"
      :error-messages="faults.decision ?? ''"
    />
    <v-select
      v-model="where"
      :label="t('log.where')"
      :items="[
        { value: 'all', title: t('season.wholeTrial') },
        { value: 'some', title: t('season.some') },
        ...(blocksOf(trial).length ? [{ value: 'blocks', title: t('season.someBlocks') }] : []),
        { value: 'plots', title: t('log.somePlots') },
      ]"
      :error-messages="faults.plots ?? faults.what_for ?? ''"
    />
    <v-select
      v-if="where === 'some'"
      v-model="said.treatments"
      multiple
      :label="t('season.forTreatments')"
      :items="trial.treatments.map((one) => ({ value: one.id, title: one.name }))"
    />
    <v-select
      v-if="where === 'blocks'"
      v-model="blocks"
      multiple
      :label="t('season.forBlocks')"
      :items="blocksOf(trial)"
    />
    <v-autocomplete
      v-if="where === 'plots'"
      v-model="said.plots"
      data-where="plots"
      multiple
      chips
      closable-chips
      :label="t('log.plots')"
      :items="trial.plots.map((one) => one.label)"
      :error-messages="faults.plots ?? ''"
    />
    <v-select
      v-if="kind === 'trouble'"
      v-model="said.effect"
      :label="t('log.effectLabel')"
      :items="EFFECTS.map((value) => ({ value, title: t(`log.effect.${value}`) }))"
      :hint="t('log.effectHint')"
      persistent-hint
      :error-messages="faults.effect ?? ''"
    />
    <v-text-field
      v-model="said.day"
      data-where="day"
      type="date"
      :max="log.today"
      :label="t('log.day')"
      :error-messages="faults.day ?? ''"
    />
    <v-textarea
      v-model="said.text"
      data-where="text"
      rows="2"
      auto-grow
      :label="t('log.text')"
      maxlength="1000"
      :error-messages="faults.text ?? ''"
    />
    <template v-if="kind === 'decision'">
      <v-textarea v-model="said.known" rows="2" auto-grow :label="t('log.known')" maxlength="1000" />
      <v-text-field v-model="said.rule" :label="t('log.rule')" maxlength="500" />
    </template>
    <PhotographChoice v-model="files" />
    <p v-if="theirs" role="status">{{ t('log.theirs', { text: theirs.text || '–', by: theirs.by }) }}</p>
  </SheetDialog>
</template>
