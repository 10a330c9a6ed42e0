<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, type Season, type Trial } from '@/api/queries'
import { stagesQuery } from '@/api/stages'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'
import { dayNumber } from '@/strip/scale'
import { day } from '@/texts/format'

/** The same measures on several days, planned in one act: at equal intervals, after an operation, or at stages. */
const props = defineProps<{ id: string; trial: Trial; season: Season }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const WAYS = ['weekly', 'after', 'stages'] as const
const COUNTS = ['last', 'mean', 'sum'] as const
const name = ref('')
const measures = ref<string[]>([])
const way = ref<(typeof WAYS)[number]>('weekly')
const first = ref('')
const every = ref('7')
const times = ref('4')
const after = ref<string | null>(null)
const days = ref('7 14 28')
const plant = ref('')
const stages = ref<number[]>([])
const counts = ref<(typeof COUNTS)[number] | null>(null)

const { data: known } = useQuery(computed(() => ({ ...stagesQuery(props.trial.id), enabled: open.value })))
const plants = computed(() => (known.value?.plants ?? []).map((one) => ({ value: one.key, title: one.name })))
const stagesOf = computed(() =>
  (known.value?.plants.find((one) => one.key === plant.value)?.stages ?? [])
    .filter((one) => one.code > 0)
    .map((one) => ({ value: one.code, title: `${one.code} · ${one.seen}` })),
)
const operations = computed(() => props.season.operations.map((one) => ({ value: one.id, title: one.name })))
const whole = (text: string) => text.split(/[\s,;]+/).filter(Boolean)
const dates = computed(() => {
  const [step, n] = [Number(every.value), Number(times.value)]
  if (!first.value || !(step >= 1) || !(n >= 1)) return []
  const start = dayNumber(first.value)
  return Array.from({ length: Math.min(Math.floor(n), 60) }, (_, i) =>
    new Date((start + i * Math.round(step)) * 86_400_000).toISOString().slice(0, 10),
  )
})
watch(
  open,
  (now) => {
    if (!now) return
    name.value = ''
    measures.value = []
    counts.value = null
  },
  { immediate: true },
)
const chosen = computed(() => props.trial.measures.filter((m) => measures.value.includes(m.id)))

const { problem, keep } = useKeep(open, () =>
  api.planSeries(props.trial.id, props.id, {
    name: name.value.trim() || chosen.value[0]?.name || t('walk.visit'),
    measures: measures.value,
    dates: way.value === 'weekly' ? dates.value : [],
    after: way.value === 'after' ? after.value : null,
    days: way.value === 'after' ? whole(days.value) : [],
    plant: way.value === 'stages' ? plant.value : '',
    stages: way.value === 'stages' ? stages.value.map(String) : [],
    over_visits: counts.value,
  }),
)
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t('walk.series.title')"
    :act="t('walk.series.act')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    @act="keep"
  >
    <v-text-field v-model="name" :label="t('walk.visitName')" :placeholder="chosen[0]?.name" maxlength="90" />
    <fieldset>
      <legend>{{ t('walk.series.measures') }}</legend>
      <v-checkbox
        v-for="m in trial.measures"
        :key="m.id"
        v-model="measures"
        :value="m.id"
        :label="[m.name, m.unit].filter(Boolean).join(', ')"
      />
    </fieldset>
    <v-select
      v-model="way"
      :label="t('season.when')"
      :items="WAYS.map((value) => ({ value, title: t(`walk.series.ways.${value}`) }))"
    />
    <template v-if="way === 'weekly'">
      <div class="row">
        <v-text-field v-model="first" type="date" :label="t('walk.series.first')" data-where="dates" />
        <v-text-field
          v-model="every"
          inputmode="numeric"
          :label="t('walk.series.every')"
          :suffix="t('walk.series.days')"
        />
        <v-text-field v-model="times" inputmode="numeric" :label="t('walk.series.times')" />
      </div>
      <p v-if="dates.length" class="quiet small">{{ dates.map((one) => day(one)).join(' · ') }}</p>
    </template>
    <div v-else-if="way === 'after'" class="row">
      <v-select v-model="after" :label="t('season.orDays')" :items="operations" data-where="after" />
      <v-text-field
        v-model="days"
        :label="t('walk.series.daysAfter')"
        :hint="t('walk.series.daysHint')"
        data-where="days"
      />
    </div>
    <div v-else class="row">
      <v-select v-model="plant" :label="t('stages.plant')" :items="plants" data-where="plant" />
      <v-select
        v-model="stages"
        class="stages"
        multiple
        chips
        :label="t('walk.series.stages')"
        :items="stagesOf"
      />
    </div>
    <v-select
      v-model="counts"
      clearable
      :label="t('walk.series.counts')"
      :placeholder="t('walk.series.usual')"
      :items="COUNTS.map((value) => ({ value, title: t(`walk.series.count.${value}`) }))"
    />
    <p class="quiet small">{{ t('walk.series.lead') }}</p>
  </SheetDialog>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
legend {
  font-weight: 650;
}
.row {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(130px, 1fr));
  gap: 10px;
}
.stages {
  grid-column: span 2;
}
</style>
