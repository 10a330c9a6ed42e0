<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { changedMeanwhile, isTakenOut } from '@/api/client'
import { api, trialQueries, type Trial } from '@/api/queries'
import { faultsIn } from '@/parts/faults'
import { newId } from '@/parts/newId'
import PageSections, { type SectionLink } from '@/parts/PageSections.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useLast } from '@/parts/useLast'
import { useStationGround } from '@/shell/useGround'
import { figure, saidIn } from '@/texts/format'

import ImportLayout from './ImportLayout.vue'
import DesignChoice from './DesignChoice.vue'
import FieldFiles from './FieldFiles.vue'
import GrownHere from './GrownHere.vue'
import MovedByHand from './MovedByHand.vue'
import MachineWidths from './MachineWidths.vue'
import OutlookTable from './OutlookTable.vue'
import PlanAnswer from './PlanAnswer.vue'
import RehearsalDesk from './RehearsalDesk.vue'
import { textOf } from './designs'
import { usePlanSketch } from './usePlanSketch'

const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const queries = useQueryClient()
useStationGround(() => ({ title: t('ground.by.treatment'), unit: '', faces: {} }))

const mayDraw = computed(() => props.trial.may.includes('plan') && !props.trial.recorded)
const plan = computed(() => props.trial.plan)
const unit = computed(() => props.trial.length_unit)
const said = (metres: number) => saidIn(props.trial.length_factor, metres)
const {
  plotMinutes, frameMinutes, hours, frameCv, design, wholeFactor, columnFactor, blockSize, blocks, width, length, gap, alley, serpentine, sideBySide, seed, wholeShare, kept, notGrown, systematic, demonstration,
  factors, needsWhole, replicates, sketch, asked, control, more, takeProposal, typed,
} = usePlanSketch(() => props.trial) // prettier-ignore
const constraints = computed(() => [
  { kind: 'not-behind-itself' as const, title: t('plan.constraint.not-behind-itself') },
  ...(control.value
    ? [
        {
          kind: 'not-at-the-edge' as const,
          title: t('plan.constraint.not-at-the-edge', { control: control.value }),
        },
      ]
    : []),
  { kind: 'spread' as const, title: t('plan.constraint.spread') },
])

const inBlocks = computed(() =>
  ['rcbd', 'split_plot', 'strip_plot', 'incomplete_block'].includes(design.value),
)
const arrangements = computed(() => [
  { value: null, title: t('plan.arrangement.proposed') },
  { value: false, title: t('plan.arrangement.behind') },
  { value: true, title: t('plan.arrangement.beside') },
])

/** By field: what the outlook or the last drawing couldn't read. */
const faults = computed(() => ({ ...faultsIn(error.value), ...faultsIn(problem.value) }))
const faultOf = (key: string) => faults.value[key] ?? []
const hints = computed(() => {
  const fit = outlook.value?.machines
  return fit ? [fit.too_narrow, ...fit.hints].filter(Boolean) : []
})

const rehearsable = computed(() => props.trial.allocation !== 'systematic' && plan.value?.blocks !== 1)
/** Whether the plan detects the margins; unknown where one has none. */
const detects = computed(() => {
  const told = (outlook.value?.measures ?? []).filter((m) => m.outlook)
  if (told.some((m) => m.margin !== null && m.outlook!.detectable > m.margin)) return 'check' as const
  return told.length && told.every((m) => m.margin !== null) ? ('done' as const) : ('todo' as const)
})
const sections = computed<SectionLink[]>(() => {
  const drawn = props.trial.plots.length > 0
  const design = outlook.value?.machines.too_narrow || problem.value ? 'check' : drawn ? 'done' : 'todo'
  const title = (id: string) => t(`plan.section.${id}`)
  return [
    { id: 'design', title: title('design'), state: design },
    { id: 'detectable', title: title('detectable'), state: detects.value },
    ...(drawn && !props.trial.schematic
      ? [
          ...(mayDraw.value || props.trial.moved.length ? [{ id: 'swap', title: title('swap') }] : []),
          ...(rehearsable.value ? [{ id: 'rehearsal', title: title('rehearsal') }] : []),
          { id: 'files', title: title('files') },
        ]
      : []),
  ]
})

/** How a replicate is parted: sizes differ by one at most. */
function arranged(sizes: number[]) {
  const [most, least] = [Math.max(...sizes), Math.min(...sizes)]
  const many = { n: sizes.length, k: most, least }
  return t(most === least ? 'plan.replicates.parted' : 'plan.replicates.partedUnevenly', many)
}
const grown = computed(() => props.trial.treatments.length - notGrown.value.length)
const enough = computed(() => props.trial.treatments.length > 1)
const {
  data: answer,
  error,
  isPlaceholderData,
} = useQuery(
  computed(() => ({
    ...trialQueries.outlook(props.trial.id, sketch.value),
    enabled: enough.value,
    placeholderData: keepPreviousData,
    retry: false,
  })),
)

const outlook = useLast(answer)

/** Asked again after a lost answer, the same plan is the same draw. */
let drawing = newId()
watch(asked, () => (drawing = newId()))
const {
  mutate: draw,
  isPending: busy,
  error: problem,
} = useMutation({
  mutationFn: async (although: boolean) => {
    const { queryKey } = trialQueries.one(props.trial.id)
    try {
      queries.setQueryData(
        queryKey,
        await api.plan(props.trial.id, { ...asked.value, id: drawing }, props.trial.etags.plan, although),
      )
    } catch (thrown) {
      const now = changedMeanwhile<Trial>(thrown)
      if (now) queries.setQueryData(queryKey, now) // the other's map is seen now, beside one's own plan
      throw thrown
    }
    drawing = newId()
    await queries.invalidateQueries({ queryKey: ['trials'] })
  },
})
</script>

<template>
  <h1>{{ t('plan.title') }}</h1>
  <p v-if="!enough">
    {{ t('plan.noTreatments') }} <router-link :to="{ name: 'ask' }">{{ t('plan.toAsk') }}</router-link>
  </p>
  <template v-else>
    <PageSections :sections="sections" />
    <div id="design" tabindex="-1" class="choices">
      <form class="plan" :aria-label="t('plan.title')" @submit.prevent="draw(false)">
        <DesignChoice
          v-model:design="design"
          v-model:whole="wholeFactor"
          v-model:column="columnFactor"
          :trial="trial"
          :may-draw="mayDraw"
          :factors="factors"
          @take="takeProposal"
        />
        <GrownHere
          v-if="mayDraw && (trial.sites.length > 1 || notGrown.length)"
          v-model="notGrown"
          :trial="trial"
        />
        <p v-if="demonstration" class="count">
          {{ t('plan.shown', { n: grown }) }}
        </p>
        <p v-else-if="design === 'latin_square'" class="count">
          {{ t('plan.latin', { t: grown }) }}
          <span class="quiet">{{ t('plan.plots', { n: grown ** 2 }) }}</span>
        </p>
        <div v-else class="blocks" role="group" :aria-label="t(textOf('blocks', replicates))">
          <button type="button" class="pill" :aria-label="t(textOf('fewer', replicates))" @click="more(-1)">
            −
          </button>
          <output class="count" aria-live="polite"
            ><strong>{{ blocks }}</strong>
            {{ t(textOf('blocksOf', replicates), { t: outlook?.per_block ?? grown }) }}</output
          >
          <button type="button" class="pill" :aria-label="t(textOf('more', replicates))" @click="more(1)">
            +
          </button>
          <span class="quiet">{{ t('plan.plots', { n: outlook?.plots ?? blocks * grown }) }}</span>
        </div>
        <p v-if="replicates && outlook?.incomplete" class="quiet">
          {{ arranged(outlook.incomplete.sizes) }}
          {{ t('plan.replicates.efficiency', { e: figure(100 * outlook.incomplete.efficiency, 0) }) }}
        </p>
        <fieldset v-if="mayDraw">
          <legend class="seen-by-readers-only">{{ t('plan.size') }}</legend>
          <v-text-field
            v-model="width"
            :label="t('plan.width', { unit })"
            inputmode="decimal"
            :error-messages="faultOf('width')"
          />
          <v-text-field
            v-model="length"
            :label="t('plan.length', { unit })"
            inputmode="decimal"
            :error-messages="faultOf('length')"
          />
          <v-text-field
            v-model="gap"
            :label="t('plan.gap', { unit })"
            inputmode="decimal"
            :error-messages="faultOf('gap')"
          />
          <v-text-field
            v-model="alley"
            :label="t(textOf('alley', replicates), { unit })"
            inputmode="decimal"
            :error-messages="faultOf('alley')"
          />
          <v-text-field
            v-if="replicates"
            v-model="blockSize"
            :label="t('plan.replicates.size')"
            :suffix="t('plan.replicates.sizeUnit')"
            inputmode="numeric"
            :error-messages="faultOf('block_size')"
          />
          <v-text-field
            v-if="needsWhole || replicates"
            v-model="wholeShare"
            :label="t(textOf('wholeShare', replicates))"
            :title="t(textOf('wholeShareHint', replicates))"
            :suffix="t('plan.wholeShareUnit')"
            inputmode="decimal"
            :error-messages="faultOf('whole_share')"
          />
          <v-text-field
            v-model="seed"
            :label="t('plan.seed')"
            :placeholder="t('plan.chance')"
            persistent-placeholder
            inputmode="numeric"
            :error-messages="faultOf('seed')"
          />
        </fieldset>
        <div v-if="mayDraw && inBlocks" class="arrangement">
          <v-select v-model="sideBySide" :items="arrangements" :label="t('plan.arrangement.label')" />
          <p v-if="outlook?.arrangement" class="quiet small">
            {{
              t('plan.arrangement.takes', {
                w: said(outlook.arrangement.width),
                l: said(outlook.arrangement.length),
                unit,
              })
            }}
            {{ outlook.arrangement.why }}
          </p>
        </div>
        <ul v-if="mayDraw && outlook && hints.length" class="hints">
          <li v-for="hint in hints" :key="hint">{{ hint }}</li>
          <li v-if="outlook.machines.width !== null && typed(outlook.machines.width) !== width">
            {{ t('plan.narrowest', { w: said(outlook.machines.width), unit }) }}
            <button type="button" class="link-button" @click="width = typed(outlook.machines.width)">
              {{ t('plan.takeWidth') }}
            </button>
          </li>
        </ul>
        <details v-if="mayDraw" class="keep-to">
          <summary>{{ t('plan.effort') }}</summary>
          <div class="effort">
            <v-text-field
              v-model="plotMinutes"
              :label="t('plan.plotMinutes')"
              persistent-placeholder
              :placeholder="t('plan.asMeasure')"
              suffix="min"
              inputmode="decimal"
              :error-messages="faultOf('plot_minutes')"
            />
            <v-text-field
              v-model="frameMinutes"
              :label="t('plan.frameMinutes')"
              persistent-placeholder
              :placeholder="t('plan.asMeasure')"
              suffix="min"
              inputmode="decimal"
              :error-messages="faultOf('frame_minutes')"
            />
            <v-text-field
              v-model="hours"
              :label="t('plan.hours')"
              suffix="h"
              inputmode="decimal"
              :error-messages="faultOf('hours')"
            />
          </div>
        </details>
        <details v-if="mayDraw" class="keep-to">
          <summary>{{ t('plan.keepTo') }}</summary>
          <v-checkbox
            v-for="one in constraints"
            :key="one.kind"
            v-model="kept"
            :value="one.kind"
            :label="one.title"
            density="compact"
          />
          <v-checkbox v-model="serpentine" :label="t('plan.serpentine')" density="compact" />
        </details>
        <details v-if="mayDraw" class="keep-to" :open="systematic || demonstration">
          <summary>{{ t('plan.untested') }}</summary>
          <p class="quiet small">{{ t('plan.untestedLead') }}</p>
          <v-checkbox v-model="demonstration" :label="t('plan.demonstration')" density="compact" />
          <v-checkbox v-model="systematic" :label="t('plan.systematic')" density="compact" />
        </details>
        <p v-if="trial.recorded" class="stays">{{ t('plan.stays') }}</p>
        <ProblemNote
          v-if="problem"
          :problem="problem"
          :again="isTakenOut(problem) ? () => draw(true) : undefined"
          :act="t('app.changeMapAnyway')"
        />
        <v-btn v-if="mayDraw" type="submit" color="accent" :loading="busy">{{
          t(trial.plots.length ? 'plan.again' : 'plan.draw')
        }}</v-btn>
        <p v-if="plan" class="quiet small">
          {{
            t(plan.algorithm.startsWith('as-listed') ? 'plan.listed' : 'plan.drawn', {
              pw: said(plan.width),
              pl: said(plan.length),
              w: said(plan.ground_width),
              l: said(plan.ground_length),
              unit,
              seed: plan.seed,
              algorithm: plan.algorithm,
            })
          }}
          <template v-if="trial.allocation === 'drawn'">{{ t('plan.drawnTimes', plan.draws) }}</template>
        </p>
        <p v-else-if="trial.plots.length && !trial.schematic" class="quiet small">
          {{ t('plan.file.imported', { how: t(`plan.file.placed.${trial.allocation}`) }) }}
        </p>
        <p v-if="trial.plots.length" class="next">
          <router-link :to="{ name: 'walk' }">{{ t('plan.toWalk') }}</router-link>
          <router-link v-if="!trial.schematic" :to="{ name: 'layout' }" :title="t('plan.layOutLead')">{{
            t('plan.layOut')
          }}</router-link>
        </p>
      </form>
      <PlanAnswer v-if="outlook && !error" :measures="outlook.measures" :busy="isPlaceholderData" />
    </div>
    <MachineWidths v-if="mayDraw" :key="trial.length_unit" :trial="trial" />
    <ImportLayout v-if="mayDraw" :trial="trial" :size="{ width, length, gap, alley }" />
    <ProblemNote v-if="error" :problem="error" />
    <OutlookTable
      v-else-if="outlook"
      tabindex="-1"
      v-model:frame-cv="frameCv"
      :measures="outlook.measures"
      :replicates="replicates"
      :may-draw="mayDraw"
      :busy="isPlaceholderData"
      :control="trial.treatments.some((one) => one.is_control)"
    />
    <template v-if="trial.plots.length && !trial.schematic">
      <MovedByHand id="swap" tabindex="-1" :trial="trial" :may-draw="mayDraw" />
      <RehearsalDesk
        v-if="rehearsable"
        id="rehearsal"
        tabindex="-1"
        :trial="trial"
        :whole-share="wholeShare"
      />
      <FieldFiles id="files" tabindex="-1" :trial="trial" />
    </template>
  </template>
</template>

<style scoped>
.choices {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 236px;
  gap: 20px;
}
.choices > .answer {
  position: sticky;
  top: 142px;
}
@media (max-width: 1080px) {
  .choices {
    grid-template-columns: minmax(0, 1fr);
  }
  .choices > .answer {
    position: static;
    grid-row: 1;
  }
}
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
.arrangement {
  display: grid;
  grid-template-columns: minmax(200px, 260px) minmax(0, 1fr);
  gap: 14px;
  align-items: center;
  width: 100%;
}
.arrangement p {
  margin: 0;
}
@media (max-width: 720px) {
  .arrangement {
    grid-template-columns: 1fr;
  }
}
.hints {
  list-style: none;
  margin: 0;
  padding: 0 0 0 10px;
  border-left: 5px solid var(--unsettled);
}
.keep-to {
  width: 100%;
  margin-top: -10px; /* folded matters stand close together */
}
.effort {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 220px));
  gap: 12px;
}
.next {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
}
.choices:focus {
  outline: none;
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
  align-items: start;
}
</style>
