<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { sowApi, sowQuery, type Sow, type SowingIn, type SowingKept } from '@/api/sow'
import { faultsIn } from '@/parts/faults'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'
import { useMeanwhile } from '@/parts/useMeanwhile'
import { useRequired } from '@/parts/useRequired'
import { useGround } from '@/shell/useGround'
import { plain } from '@/texts/format'

/** What was sown on a day: which plots, how the rate is known, depth and the rest. `left`: plots that may be entered. */
const props = defineProps<{ trial: Trial; sow: Sow; id: string; was: SowingKept | null; left: string[] }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const queries = useQueryClient()
const { chosen } = useGround()
const KNOWN = ['remains', 'counter', 'nothing'] as const
const text = reactive({ day: '', depth_cm: '', moisture: '', machine: '', operator: '', note: '' })
const knownBy = ref<SowingIn['known_by']>('remains')
const only = ref(false)
const amounts = reactive<Record<string, { filled: string; left: string; rate: string }>>({})
const marked = computed(() => props.left.filter((plot) => chosen.value.includes(plot)))
const plots = computed(() => (only.value ? marked.value : props.left))
const sown = computed(() =>
  props.sow.treatments.filter((one) => one.parts.length && one.plots.some((plot) => plots.value.includes(plot.plot))),
) // prettier-ignore
const said = (value: unknown) => (typeof value === 'number' ? plain(value) : '')
const { theirs, opened, save } = useMeanwhile((current) =>
  (current as Sow).sowings.find((one) => one.id === props.id),
)
watch(
  open,
  (now) => {
    if (!now) return
    opened(props.was)
    Object.assign(text, {
      day: props.was?.day ?? props.sow.today,
      depth_cm: said(props.was?.depth),
      moisture: props.was?.moisture ?? '',
      machine: props.was?.machine ?? '',
      operator: props.was?.operator ?? '',
      note: props.was?.note ?? '',
    })
    knownBy.value = props.was?.known_by ?? 'remains'
    only.value = false
    for (const one of props.sow.treatments) {
      const kept = props.was?.amounts.find((amount) => amount.treatment === one.id)
      amounts[one.id] = { filled: said(kept?.filled), left: said(kept?.left), rate: said(kept?.rate) }
    }
  },
  { immediate: true },
)
const { missing, missingAt, complete } = useRequired(
  () => (text.day ? [] : [{ where: 'sown.day', what: t('missing.day') }]),
  open,
)
const { problem, keep } = useKeep(open, () =>
  save(async (etag) => {
    const body: SowingIn = {
      ...text,
      plots: plots.value,
      known_by: knownBy.value,
      amounts: sown.value.map((one) => ({
        treatment: one.id,
        filled_g: knownBy.value === 'remains' ? amounts[one.id]!.filled : '',
        left_g: knownBy.value === 'remains' ? amounts[one.id]!.left : '',
        rate_kg_ha: knownBy.value === 'counter' ? amounts[one.id]!.rate : '',
      })),
    }
    const now = await sowApi.keepSowing(props.trial.id, props.id, body, props.was ? etag : undefined)
    queries.setQueryData(sowQuery(props.trial.id).queryKey, now)
  }),
)
const faults = computed(() => faultsIn(problem.value))
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t(was ? 'sow.changeSown' : 'sow.addSown')"
    :act="t('sow.saveSown')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    :missing="missing"
    @act="complete() && keep()"
  >
    <v-text-field
      v-model="text.day"
      type="date"
      data-where="sown.day"
      :max="sow.today"
      :label="t('missing.required', { label: t('sow.day') })"
      :error-messages="faults.day ?? missingAt('sown.day')"
    />
    <fieldset>
      <legend>{{ t('sow.plots') }}</legend>
      <label
        ><input v-model="only" type="radio" :value="false" />
        {{ was ? left.join(', ') : t('sow.allPlots') }}</label
      >
      <label
        ><input v-model="only" type="radio" :value="true" :disabled="!marked.length" />
        {{ t('sow.chosenPlots', { n: marked.length }) }}</label
      >
    </fieldset>
    <v-select
      v-model="knownBy"
      :label="t('sow.knownBy')"
      :items="KNOWN.map((value) => ({ value, title: t(`sow.known.${value}`) }))"
    />
    <template v-for="one in sown" :key="one.id">
      <div v-if="knownBy === 'remains'" class="row">
        <v-text-field
          v-model="amounts[one.id]!.filled"
          :label="t('sow.filled', { code: one.code })"
          :suffix="sow.units.seed"
          inputmode="decimal"
          :error-messages="faults[`amounts.${one.id}`] ?? []"
        />
        <v-text-field
          v-model="amounts[one.id]!.left"
          :label="t('sow.left', { code: one.code })"
          :suffix="sow.units.seed"
          inputmode="decimal"
        />
      </div>
      <v-text-field
        v-else-if="knownBy === 'counter'"
        v-model="amounts[one.id]!.rate"
        :label="t('sow.counter', { code: one.code })"
        :suffix="sow.units.rate"
        inputmode="decimal"
      />
    </template>
    <div class="row">
      <v-text-field
        v-model="text.depth_cm"
        :label="t('sow.depth')"
        :suffix="sow.units.spacing"
        inputmode="decimal"
        :error-messages="faults.depth_cm ?? []"
      />
      <v-text-field v-model="text.moisture" :label="t('sow.moisture')" maxlength="60" />
    </div>
    <div class="row">
      <v-text-field v-model="text.machine" :label="t('sow.machine')" maxlength="120" />
      <v-text-field v-model="text.operator" :label="t('sow.operator')" maxlength="120" />
    </div>
    <v-text-field v-model="text.note" :label="t('sow.note')" maxlength="500" />
    <p v-if="theirs" role="status">{{ t('sow.theirs') }}</p>
  </SheetDialog>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
legend {
  font-weight: 650;
  padding: 0;
}
label {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 44px;
}
input[type='radio'] {
  flex: none;
  width: 20px;
  height: 20px;
  accent-color: var(--accent);
}
</style>
