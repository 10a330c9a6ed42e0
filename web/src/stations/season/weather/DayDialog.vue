<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { weatherApi, type Weather } from '@/api/weather'
import { faultsIn } from '@/parts/faults'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'

/** A day by hand; it counts before files and services. */
const props = defineProps<{ trial: Trial; weather: Weather; day: string }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const when = ref('')
const FIELDS = ['tmin_c', 'tmax_c', 'rain_mm', 'soil_c'] as const
const NAMES = { tmin_c: 'min', tmax_c: 'max', rain_mm: 'rain', soil_c: 'soil' } as const
const typed = reactive({ tmin_c: '', tmax_c: '', rain_mm: '', soil_c: '' })
const unitOf = (field: (typeof FIELDS)[number]) =>
  field === 'rain_mm' ? props.weather.rain_unit : props.weather.temperature_unit
/** What somebody entered by hand stands in the fields; what a service or file has doesn't become a hand's. */
watch([open, when], ([now]) => {
  if (!now) return
  const there = props.weather.days.find((one) => one.day === when.value)
  const own = there?.source === 'hand' ? there : null
  for (const field of FIELDS) {
    const value = own?.[({ tmin_c: 'tmin', tmax_c: 'tmax', rain_mm: 'rain', soil_c: 'soil' } as const)[field]]
    typed[field] = value == null ? '' : String(value)
  }
})
watch(open, (now) => now && (when.value = props.day))
const { problem, keep } = useKeep(open, () => weatherApi.enterDay(props.trial.id, when.value, { ...typed }))
const faults = computed(() => faultsIn(problem.value))
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t('weather.enterDay')"
    :act="t('weather.keepDay')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    @act="keep"
  >
    <v-text-field v-model="when" type="date" :label="t('weather.day')" :max="weather.today" />
    <div class="row">
      <v-text-field
        v-for="field in FIELDS"
        :key="field"
        v-model="typed[field]"
        :label="`${t(`weather.${NAMES[field]}`)}, ${unitOf(field)}`"
        inputmode="decimal"
        :error-messages="faults[field] ?? ''"
      />
    </div>
    <p class="quiet small">{{ t('weather.handLead') }}</p>
  </SheetDialog>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
