<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { sowApi, sowQuery, type Sow } from '@/api/sow'
import { faultsIn } from '@/parts/faults'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useKeptDraft } from '@/parts/useKeptDraft'
import { useMeanwhile } from '@/parts/useMeanwhile'

import { alike, draftOf, fits, planOf, type SeedDraft } from './draft'
import SeedLots from './SeedLots.vue'
import SeedRates from './SeedRates.vue'

/** The page of seed: typed, kept on the device, saved as a whole. */
const props = defineProps<{ trial: Trial; sow: Sow; mayRecord: boolean }>()
const { t } = useI18n()
const queries = useQueryClient()
const name = `sow.${props.trial.id}.${props.trial.length_unit}`
const { draft, restored, startOver } = useKeptDraft(
  name,
  () => draftOf(props.sow),
  (kept) => fits(kept, props.sow),
)
const { theirs, opened, save } = useMeanwhile((current) => current as Sow)
opened(draft.value)
const touched = computed(() => !alike(draft.value, draftOf(props.sow)))
/** What a colleague saved is shown at once where nobody has typed here. */
let shown: SeedDraft = draftOf(props.sow)
watch(
  () => props.sow,
  (now) => {
    const untouched = alike(draft.value, shown)
    shown = draftOf(now)
    if (untouched) {
      startOver()
      opened(now)
    }
  },
)
const said = ref(false)
watch(draft, () => (said.value = false), { deep: true })
const {
  mutate: keep,
  isPending: busy,
  error: problem,
} = useMutation({
  mutationFn: async () => {
    const now = await save((etag) => sowApi.keep(props.trial.id, planOf(draft.value), etag))
    queries.setQueryData(sowQuery(props.trial.id).queryKey, now)
    opened(now)
    startOver()
    await nextTick() // what was typed has changed once more
    said.value = true
  },
})
const faults = computed(() => faultsIn(problem.value))
</script>

<template>
  <form :aria-label="t('sow.section.seed')" novalidate @submit.prevent="keep()">
    <fieldset :disabled="!mayRecord">
      <legend>{{ t('sow.lots') }}</legend>
      <p class="quiet small">{{ t('sow.seedLead') }}</p>
      <p v-if="restored && touched" class="quiet" role="status">
        {{ t('ask.restored') }}
        <button type="button" class="link-button" @click="startOver">{{ t('ask.startOver') }}</button>
      </p>
      <SeedLots v-model="draft.lots" :sow="sow" :faults="faults" />
    </fieldset>
    <fieldset :disabled="!mayRecord">
      <legend>{{ t('sow.rates') }}</legend>
      <SeedRates v-model="draft.rates" :sow="sow" :trial="trial" :faults="faults" />
    </fieldset>
    <fieldset :disabled="!mayRecord" class="settings">
      <legend>{{ t('sow.settings') }}</legend>
      <v-text-field
        v-model="draft.allowance"
        :label="t('sow.allowance')"
        :hint="t('sow.allowanceHint')"
        persistent-hint
        :suffix="sow.units.seed"
        inputmode="decimal"
        :error-messages="faults.allowance_g ?? []"
      />
      <v-text-field
        v-model="draft.spare"
        :label="t('sow.spare')"
        suffix="%"
        inputmode="decimal"
        :error-messages="faults.spare_percent ?? []"
      />
      <v-select
        v-model="draft.filling"
        :label="t('sow.filling')"
        :items="
          (['by_treatment', 'by_plot'] as const).map((value) => ({
            value,
            title: t(`sow.fillings.${value}`),
          }))
        "
      />
      <v-text-field v-model="draft.currency" :label="t('sow.currency')" maxlength="8" />
    </fieldset>
    <ProblemNote v-if="problem" :problem="problem" />
    <p v-if="theirs" role="status">{{ t('sow.theirs') }}</p>
    <div v-if="mayRecord" class="acts">
      <v-btn type="submit" color="accent" :loading="busy">{{ t('sow.save') }}</v-btn>
      <span v-if="touched" class="quiet small" role="status">{{ t('sow.unsaved') }}</span>
      <span v-else-if="said" class="quiet small" role="status">{{ t('sow.saved') }}</span>
    </div>
  </form>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0 0 20px;
  min-width: 0;
}
legend {
  font-size: 17px;
  font-weight: 700;
  padding: 0 0 6px;
}
p {
  margin: 0 0 10px;
}
.settings {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
  gap: 12px;
  align-items: start;
}
.acts {
  display: flex;
  gap: 14px;
  align-items: center;
}
</style>
