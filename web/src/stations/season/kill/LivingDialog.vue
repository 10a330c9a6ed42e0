<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { fieldLogApi, type Kill } from '@/api/fieldLog'
import type { Trial } from '@/api/queries'
import { faultsIn } from '@/parts/faults'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'
import { useRequired } from '@/parts/useRequired'

/** How much of the cover lives in each plot, and how high it has grown again. */
const props = defineProps<{ trial: Trial; kill: Kill; today: string; unit: string }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const when = ref('')
const rows = reactive<Record<string, { percent: string; regrowth: string }>>({})
const codes = computed(() => new Map(props.trial.treatments.map((one) => [one.id, one.code])))
const plots = computed(() => props.trial.plots.filter((one) => props.kill.treatments.includes(one.treatment)))
watch(
  [open, when],
  ([now]) => {
    if (!now) return
    const there = props.kill.checks.find((one) => one.day === when.value)?.shares ?? []
    for (const plot of plots.value) {
      const own = there.find((one) => one.plot === plot.label)
      rows[plot.label] = {
        percent: own ? String(own.percent) : '',
        regrowth: own?.regrowth == null ? '' : String(own.regrowth),
      }
    }
  },
  { immediate: true },
)
watch(open, (now) => now && (when.value = props.today), { immediate: true })
const filled = computed(() => plots.value.filter((one) => rows[one.label]?.percent.trim()))
const { missing, complete } = useRequired(
  () => (filled.value.length ? [] : [{ where: 'living', what: t('kill.needsLiving') }]),
  open,
)
const { problem, keep } = useKeep(open, async () => {
  if (!complete()) return false
  const shares = filled.value.map((one) => ({ plot: one.label, ...rows[one.label]! }))
  return fieldLogApi.keepLiving(props.trial.id, props.kill.operation, when.value, { shares })
})
const faults = computed(() => faultsIn(problem.value))
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t('kill.enterLiving')"
    :act="t('kill.keepLiving')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    :missing="missing"
    @act="keep"
  >
    <p class="quiet small">{{ t('kill.livingLead') }}</p>
    <v-text-field
      v-model="when"
      type="date"
      :min="kill.done"
      :max="today"
      :label="t('kill.seenOn')"
      :error-messages="faults.day ?? ''"
    />
    <div
      v-for="(plot, i) in plots"
      :key="plot.label"
      class="row"
      role="group"
      :aria-label="plot.label"
      :data-where="i ? undefined : 'living'"
    >
      <strong>{{ plot.label }} {{ codes.get(plot.treatment) }}</strong>
      <template v-if="rows[plot.label]">
        <v-text-field
          v-model="rows[plot.label]!.percent"
          inputmode="decimal"
          :label="t('kill.living')"
          suffix="%"
          hide-details
        />
        <v-text-field
          v-model="rows[plot.label]!.regrowth"
          inputmode="decimal"
          :label="t('kill.regrowth')"
          :suffix="unit"
          hide-details
        />
      </template>
    </div>
  </SheetDialog>
</template>

<style scoped>
p {
  margin: 0;
}
.row {
  display: grid;
  grid-template-columns: 86px 1fr 1fr;
  gap: 8px;
  align-items: center;
}
</style>
