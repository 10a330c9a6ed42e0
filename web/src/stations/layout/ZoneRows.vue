<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { Problem } from '@/api/client'
import { api, trialQueries, type Trial, type Zones } from '@/api/queries'
import { focusLast } from '@/parts/focusLast'
import ProblemNote from '@/parts/ProblemNote.vue'
import { faultsIn } from '@/parts/faults'
import { useMeanwhile } from '@/parts/useMeanwhile'
import { figure } from '@/texts/format'

import UndoRedo from './UndoRedo.vue'
import { useUndo } from './useUndo'
import { drawnZones, emptyZone, EVERY, zonesDraftOf, zonesOf, type ZonesDraft } from './zones'

/** What each plot is made of, what is sown there, and which measures are taken there instead of in the whole plot. */
const props = defineProps<{ trial: Trial; mayPlan: boolean }>()
const { t } = useI18n()
const queries = useQueryClient()
const { data: kept } = useQuery(computed(() => trialQueries.zones(props.trial.id)))
// Nobody types before what was kept is there: it would take the place of what is typed.
const draft = ref<ZonesDraft>({ zones: [], taken: {} })
const { undo, redo, key, startHere, canUndo, canRedo } = useUndo(draft)
const rows = ref<HTMLElement>()
const said = ref(false)
let begun = false
const { theirs, opened, save } = useMeanwhile((current) => current as Zones)
function take(zones: Zones) {
  opened(zones)
  draft.value = zonesDraftOf(zones, props.trial.measures)
  startHere()
}
watch(
  kept,
  (zones) => {
    if (!zones || begun) return
    begun = true
    take(zones)
  },
  { immediate: true },
)
watch(draft, () => (said.value = false), { deep: true })

const SOWN = ['as-plot', 'other', 'nothing'] as const
const names = computed(() => draft.value.zones.map((one) => one.name.trim()).filter(Boolean))
const places = computed(() => [
  { value: '', title: t('zones.whole') },
  ...(names.value.length > 1 ? [{ value: EVERY, title: t('zones.every') }] : []),
  ...names.value.map((value) => ({ value, title: t('zones.only', { zone: value }) })),
])
const faults = computed(() => faultsIn(problem.value))
const reason = ref('')
const needsReason = computed(
  () => problem.value instanceof Problem && problem.value.code === 'changes-values',
)
const drawn = computed(() => (kept.value?.drawn ?? []).map((one) => `${nameOf(one.name)} ${range(one)}`))
const range = (one: Zones['drawn'][number]) => {
  const [least, most] = [figure(100 * one.least, 0), figure(100 * one.most, 0)]
  return least === most ? `${most} %` : `${least}–${most} %`
}
const rangeOf = (name: string) => kept.value?.drawn.find((one) => one.name === name)
const DRAWN = ['wheel track', 'tree row', 'between'] as const
const nameOf = (name: string) =>
  (DRAWN as readonly string[]).includes(name) ? t(`layout.zones.${name as 'between'}`) : name

function add() {
  draft.value.zones.push(emptyZone())
  void focusLast(() => rows.value)
}
const {
  mutate: keep,
  isPending: busy,
  error: problem,
} = useMutation({
  mutationFn: async () => {
    const body = { ...zonesOf(draft.value), reason: reason.value }
    const now = await save((etag) => api.keepZones(props.trial.id, body, etag))
    queries.setQueryData(trialQueries.zones(props.trial.id).queryKey, now)
    take(now)
    reason.value = ''
    await queries.invalidateQueries({ queryKey: ['trials', props.trial.id] })
    said.value = true
  },
})
</script>

<template>
  <form v-if="kept" class="zones" :aria-label="t('zones.title')" @submit.prevent="keep()" @keydown="key">
    <h2>{{ t('zones.title') }}</h2>
    <p class="quiet">{{ t('zones.lead') }}</p>
    <div ref="rows">
      <div
        v-for="(zone, i) in draft.zones"
        :key="zone.id"
        class="zone"
        role="group"
        :aria-label="t('zones.zoneN', { n: i + 1 })"
      >
        <p v-if="zone.drawn" class="drawn">
          <strong>{{ nameOf(zone.name) }}</strong>
          <span class="quiet">{{
            rangeOf(zone.name) ? range(rangeOf(zone.name)!) : t('zones.notDrawn')
          }}</span>
        </p>
        <template v-else>
          <v-text-field v-model="zone.name" :label="t('zones.name')" maxlength="60" :disabled="!mayPlan" />
          <v-text-field
            v-model="zone.share"
            :label="t('zones.share')"
            suffix="%"
            inputmode="decimal"
            :disabled="!mayPlan"
            :error-messages="faults[`zones.${i}.percent`] ?? []"
          />
        </template>
        <v-select
          v-model="zone.sown"
          :items="SOWN.map((value) => ({ value, title: t(`zones.sown.${value}`) }))"
          :label="t('zones.sownLabel')"
          :disabled="!mayPlan"
        />
        <v-text-field
          v-if="zone.sown === 'other'"
          v-model="zone.sowing"
          :label="t('zones.sowing')"
          maxlength="120"
          :disabled="!mayPlan"
        />
        <button v-if="mayPlan" type="button" class="link-button" @click="draft.zones.splice(i, 1)">
          {{ t('layout.takeAway') }}
        </button>
      </div>
    </div>
    <div v-if="mayPlan" class="acts">
      <button type="button" class="pill" @click="add">{{ t('zones.add') }}</button>
      <UndoRedo v-if="canUndo || canRedo" :can-undo="canUndo" :can-redo="canRedo" @undo="undo" @redo="redo" />
      <button
        v-if="kept.drawn.length && !draft.zones.length"
        type="button"
        class="pill"
        @click="draft.zones = drawnZones(kept)"
      >
        {{ t('zones.takeDrawn', { zones: drawn.join(', ') }) }}
      </button>
    </div>
    <template v-if="names.length > 1 && trial.measures.length">
      <h3>{{ t('zones.measures') }}</h3>
      <div class="measures">
        <v-select
          v-for="m in trial.measures"
          :key="m.id"
          v-model="draft.taken[m.id]"
          :items="places"
          :label="m.name"
          :disabled="!mayPlan"
        />
      </div>
    </template>
    <p v-if="kept.zones.length && kept.sown !== null && kept.sown < 0.9995" class="quiet">
      {{ t('zones.sownShare', { p: figure(100 * kept.sown, 0) }) }}
    </p>
    <ProblemNote
      v-if="problem"
      :problem="problem"
      :again="theirs ? () => take(theirs!) : undefined"
      :act="t('app.takeTheirs')"
    />
    <v-text-field
      v-if="needsReason"
      v-model="reason"
      :label="t('missing.required', { label: t('layout.reason') })"
      maxlength="200"
    />
    <p v-if="mayPlan" class="acts">
      <v-btn
        type="submit"
        color="accent"
        :loading="busy"
        :disabled="!draft.zones.length && !kept.zones.length"
        >{{ t('zones.keep') }}</v-btn
      >
      <span v-if="said" role="status">{{ t('zones.kept') }}</span>
    </p>
  </form>
</template>

<style scoped>
.zones {
  margin-top: 26px;
  border-top: 1px solid var(--rule);
  padding-top: 14px;
  max-width: 900px;
}
.zones > p {
  margin-bottom: 10px;
}
.zone {
  display: grid;
  grid-template-columns: 1.3fr 0.6fr 1.3fr 1.3fr auto;
  gap: 8px;
  align-items: center;
  margin-bottom: 8px;
}
.drawn {
  grid-column: span 2;
  margin: 0;
  display: flex;
  gap: 12px;
}
.link-button {
  grid-column: -2;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin: 8px 0;
}
.measures {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(240px, 1fr));
  gap: 12px;
}
@media (max-width: 720px) {
  .zone {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
