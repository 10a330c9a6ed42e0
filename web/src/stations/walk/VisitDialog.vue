<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, type Season, type Trial, type Visit } from '@/api/queries'
import { Problem } from '@/api/client'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'
import { useMeanwhile } from '@/parts/useMeanwhile'
import { day, plain } from '@/texts/format'

const props = defineProps<{
  id: string
  trial: Trial
  was: Season['visits'][number] | null
  free: Trial['measures']
  crew: Season['crew']
  placements: Season['placements']
}>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const name = ref('')
const due = ref('')
const measures = ref<string[]>([])
const how = ref({
  placement: 'stratified' as Season['placements'][number]['key'],
  samples: {} as Record<string, string>,
  plots: '',
  observers: [] as string[],
  blind: null as boolean | null,
  guessFirst: false,
  bearing: '',
  spacing: '',
  walked: '',
})
const { theirs, opened, save } = useMeanwhile((current) => current as Visit)

const offered = computed(() => {
  const own = props.trial.measures.filter((m) => props.was?.measures.includes(m.id))
  return [...own, ...props.free]
})
watch(
  open,
  (now) => {
    if (!now) return
    opened(props.was)
    name.value = props.was?.name ?? ''
    due.value = props.was?.due ?? ''
    const walked = props.was?.how
    how.value = {
      placement: walked?.placement ?? 'stratified',
      samples: Object.fromEntries(Object.entries(walked?.samples ?? {}).map(([id, n]) => [id, String(n)])),
      plots: walked?.plots.join(', ') ?? '',
      observers: [...(walked?.observers ?? [])],
      blind: walked?.blind ?? null,
      guessFirst: walked?.guess_first ?? false,
      bearing: shown(walked?.bearing),
      spacing: shown(walked?.spacing),
      walked: walked?.walked ?? '',
    }
    measures.value = props.was ? [...props.was.measures] : props.free.slice(0, 1).map((m) => m.id)
  },
  { immediate: true },
)

/** Measures of several samples, with how many of each plot this time. */
const sampled = computed(() =>
  offered.value.filter((m) => measures.value.includes(m.id) && props.was?.how.samples[m.id] !== undefined),
)
const choices = computed(() =>
  props.placements.map(({ key }) => ({ title: t(`walk.plan.placements.${key}`), value: key })),
)
const shown = (value?: number | null) => (value === null || value === undefined ? '' : plain(value))
const faultAt = (where: string) =>
  (problem.value instanceof Problem && problem.value.places.find((one) => one.where === where)?.what) || ''
const { problem, keep } = useKeep(open, () => {
  const taken = offered.value.filter((m) => measures.value.includes(m.id))
  return save((etag) =>
    api.planVisit(
      props.trial.id,
      props.id,
      {
        name: name.value.trim() || taken[0]?.name || t('walk.visit'),
        due: due.value || null,
        measures: taken.map((m) => m.id),
        how: {
          placement: how.value.placement,
          samples: Object.fromEntries(
            sampled.value.flatMap((m) => {
              const n = Number(how.value.samples[m.id])
              return Number.isInteger(n) && n > 0 ? [[m.id, n]] : []
            }),
          ),
          plots: how.value.plots
            .split(/[,;]/)
            .map((one) => one.trim())
            .filter(Boolean),
          observers: how.value.observers,
          blind: how.value.blind,
          guess_first: how.value.guessFirst,
          walked: how.value.walked || null,
          ...(how.value.placement === 'transect' && {
            bearing: how.value.bearing,
            spacing: how.value.spacing,
          }),
        },
      },
      etag,
    ),
  )
})
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t(was ? 'walk.changeVisit' : 'walk.planVisit')"
    :act="t('walk.keepVisit')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    @act="keep"
  >
    <v-text-field
      v-model="name"
      :label="t('walk.visitName')"
      :placeholder="offered[0]?.name"
      maxlength="120"
    />
    <v-text-field v-model="due" type="date" :label="t('season.due')" />
    <v-text-field
      v-if="was"
      v-model="how.walked"
      type="date"
      :max="trial.today"
      :label="t('walk.plan.walked')"
      :hint="t('walk.plan.walkedLead')"
      persistent-hint
      :error-messages="faultAt('how.walked')"
    />
    <fieldset>
      <legend>{{ t('walk.whatIsTaken') }}</legend>
      <p v-if="!offered.length" class="quiet">{{ t('walk.noneFree') }}</p>
      <v-checkbox
        v-for="m in offered"
        :key="m.id"
        v-model="measures"
        :value="m.id"
        :label="`${m.name}, ${m.unit}`"
      />
    </fieldset>
    <details class="how" :open="Boolean(was)">
      <summary>{{ t('walk.plan.title') }}</summary>
      <v-select v-model="how.placement" :items="choices" :label="t('walk.plan.placement')" />
      <p class="quiet small">{{ placements.find((one) => one.key === how.placement)?.said }}</p>
      <template v-if="how.placement === 'transect'">
        <v-text-field
          v-model="how.bearing"
          inputmode="decimal"
          maxlength="40"
          :label="t('walk.plan.bearing')"
          :error-messages="faultAt('how.bearing')"
        />
        <v-text-field
          v-model="how.spacing"
          inputmode="decimal"
          maxlength="40"
          :label="t('walk.plan.spacing', { unit: trial.length_unit })"
          :error-messages="faultAt('how.spacing')"
        />
      </template>
      <v-text-field
        v-for="m in sampled"
        :key="m.id"
        v-model="how.samples[m.id]"
        inputmode="numeric"
        :label="t('walk.plan.samples', { m: m.name })"
      />
      <v-text-field
        v-model="how.plots"
        :label="t('walk.plan.plots')"
        :hint="t('walk.plan.plotsHint')"
        persistent-hint
      />
      <fieldset v-if="crew.length">
        <legend>{{ t('walk.plan.who') }}</legend>
        <v-checkbox
          v-for="one in crew"
          :key="one.id"
          v-model="how.observers"
          :value="one.id"
          :label="one.name"
        />
      </fieldset>
      <v-checkbox v-model="how.blind" :label="t('walk.plan.blind')" />
      <v-checkbox v-model="how.guessFirst" :label="t('walk.plan.guess')" />
    </details>
    <p v-if="theirs" role="status">
      {{
        t('walk.theirs', {
          name: theirs.name,
          due: theirs.due ? day(theirs.due) : '–',
          measures: theirs.measures.map((m) => m.name).join(', ') || '–',
        })
      }}
    </p>
  </SheetDialog>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
.how {
  display: grid;
  gap: 10px;
}
.how summary {
  min-height: 44px;
  padding: 10px 0;
  font-weight: 650;
  cursor: pointer;
}
legend {
  font-weight: 650;
}
</style>
