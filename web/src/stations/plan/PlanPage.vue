<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { acts, trialQueries, type Trial } from '@/api/queries'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useStationGround } from '@/shell/useGround'
import { plain } from '@/texts/format'

import OutlookTable from './OutlookTable.vue'

const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const queries = useQueryClient()
useStationGround(() => ({ title: t('ground.by.treatment'), unit: '', faces: {} }))

const mayDraw = computed(() => props.trial.may.includes('plan') && !props.trial.recorded)
const plan = computed(() => props.trial.plan)
const unit = computed(() => props.trial.length_unit)
const typed = (metres: number) => plain(metres * props.trial.length_factor)
/** For reading rather than changing: four digits are enough. */
const said = (metres: number) => plain(Number((metres * props.trial.length_factor).toPrecision(4)))
const blocks = ref(plan.value?.blocks ?? 4)
const width = ref(typed(plan.value?.width ?? 6))
const length = ref(typed(plan.value?.length ?? 12))
const gap = ref(typed(plan.value?.gap ?? 0.5))
const alley = ref(typed(plan.value?.alley ?? 3))
const serpentine = ref(plan.value?.serpentine ?? false)
const seed = ref('')
const busy = ref(false)
const problem = ref<Error | null>(null)

const enough = computed(() => props.trial.treatments.length > 1)
const {
  data: outlook,
  error,
  isPlaceholderData,
} = useQuery(
  computed(() => ({
    ...trialQueries.outlook(props.trial.id, blocks.value),
    enabled: enough.value,
    placeholderData: keepPreviousData,
  })),
)
function more(step: number) {
  blocks.value = Math.min(40, Math.max(2, blocks.value + step))
}

async function draw() {
  busy.value = true
  problem.value = null
  try {
    const drawn = await acts.plan(props.trial.id, {
      blocks: blocks.value,
      width: width.value,
      length: length.value,
      gap: gap.value || '0',
      alley: alley.value || '0',
      serpentine: serpentine.value,
      seed: seed.value.trim() === '' ? null : Number(seed.value),
    })
    queries.setQueryData(trialQueries.one(props.trial.id).queryKey, drawn)
    await queries.invalidateQueries({ queryKey: ['trials'] })
  } catch (thrown) {
    problem.value = thrown as Error
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <h1>{{ t('plan.title') }}</h1>
  <p v-if="!enough">
    {{ t('plan.noTreatments') }} <router-link :to="{ name: 'ask' }">{{ t('plan.toAsk') }}</router-link>
  </p>
  <template v-else>
    <form class="plan" :aria-label="t('plan.title')" @submit.prevent="draw">
      <div class="blocks" role="group" :aria-label="t('plan.blocks')">
        <button type="button" class="pill" :aria-label="t('plan.fewer')" @click="more(-1)">−</button>
        <output class="count" aria-live="polite"
          ><strong>{{ blocks }}</strong> {{ t('plan.blocksOf', { t: trial.treatments.length }) }}</output
        >
        <button type="button" class="pill" :aria-label="t('plan.more')" @click="more(1)">+</button>
        <span class="quiet">{{ t('plan.plots', { n: blocks * trial.treatments.length }) }}</span>
      </div>
      <fieldset v-if="mayDraw">
        <legend class="seen-by-readers-only">{{ t('plan.size') }}</legend>
        <v-text-field v-model="width" :label="t('plan.width', { unit })" inputmode="decimal" />
        <v-text-field v-model="length" :label="t('plan.length', { unit })" inputmode="decimal" />
        <v-text-field v-model="gap" :label="t('plan.gap', { unit })" inputmode="decimal" />
        <v-text-field v-model="alley" :label="t('plan.alley', { unit })" inputmode="decimal" />
        <v-text-field
          v-model="seed"
          :label="t('plan.seed')"
          :placeholder="t('plan.chance')"
          persistent-placeholder
          inputmode="numeric"
        />
      </fieldset>
      <v-checkbox v-if="mayDraw" v-model="serpentine" :label="t('plan.serpentine')" />
      <p v-if="trial.recorded" class="stays">{{ t('plan.stays') }}</p>
      <ProblemNote v-if="problem" :problem="problem" />
      <v-btn v-if="mayDraw" type="submit" color="accent" :loading="busy">{{
        t(trial.plots.length ? 'plan.again' : 'plan.draw')
      }}</v-btn>
      <p v-if="plan" class="quiet small">
        {{
          t('plan.drawn', {
            pw: said(plan.width),
            pl: said(plan.length),
            w: said(plan.ground_width),
            l: said(plan.ground_length),
            unit,
            seed: plan.seed,
            algorithm: plan.algorithm,
          })
        }}
      </p>
      <p v-if="trial.plots.length">
        <router-link :to="{ name: 'walk' }">{{ t('plan.toWalk') }}</router-link>
      </p>
    </form>
    <ProblemNote v-if="error" :problem="error" />
    <OutlookTable
      v-else-if="outlook"
      :measures="outlook.measures"
      :busy="isPlaceholderData"
      :control="trial.treatments.some((one) => one.is_control)"
    />
  </template>
</template>

<style scoped>
.plan {
  display: flex;
  flex-direction: column;
  gap: 12px;
  align-items: flex-start;
}
.blocks {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
.count {
  font-size: 16px;
}
.count strong {
  font-size: 24px;
}
.blocks .pill {
  width: 48px;
  min-height: 48px;
  font-size: 20px;
}
.stays {
  border-left: 5px solid var(--band);
  background: var(--ground);
  padding: 8px 14px;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  width: 100%;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 12px;
}
</style>
