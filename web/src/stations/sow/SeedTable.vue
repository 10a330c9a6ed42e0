<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import type { Sow } from '@/api/sow'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import DownloadTable from '@/parts/DownloadTable.vue'
import { threeDigits } from '@/texts/format'

/** Grams of each component for each plot, a table for each treatment. */
const props = defineProps<{ sow: Sow; trial: Trial }>()
const { t } = useI18n()
const names = computed(() => new Map(props.sow.lots.map((lot) => [lot.key, lot.name])))
const covered = computed(() => props.sow.treatments.filter((one) => one.parts.length))
const index = (id: string) => props.trial.treatments.findIndex((one) => one.id === id)
/** Masses to weigh: whole above 100, else a decimal. */
const mass = (value: number | null) =>
  value === null ? '–' : value >= 100 ? String(Math.round(value)) : threeDigits(value)
/** Plots of one treatment that get the same stand in one line. */
function linesOf(one: Sow['treatments'][number]) {
  const lines = new Map<string, { plots: string[]; amounts: (number | null)[]; total: number | null }>()
  for (const plot of one.plots) {
    const key = JSON.stringify(plot.amounts)
    const line = lines.get(key) ?? { plots: [], amounts: plot.amounts, total: plot.total }
    lines.set(key, { ...line, plots: [...line.plots, plot.plot] })
  }
  return [...lines.values()]
}
</script>

<template>
  <p class="lead">{{ t('sow.sheetLead') }}</p>
  <DownloadTable :name="t('sow.section.sheet')" :of="trial.name">
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th>{{ t('sow.treatment') }}</th>
            <th>{{ t('sow.plot') }}</th>
            <th>{{ t('sow.lot') }}</th>
            <th class="right">{{ sow.units.seed }}</th>
          </tr>
        </thead>
        <tbody v-for="one in covered" :key="one.id">
          <template v-for="line in linesOf(one)" :key="line.plots[0]">
            <tr v-for="(part, i) in one.parts" :key="part.lot">
              <td>
                <template v-if="!i"><TreatmentTag :index="index(one.id)" :code="one.code" /></template>
              </td>
              <td>{{ i ? '' : line.plots.join(', ') }}</td>
              <td>{{ names.get(part.lot) }}</td>
              <td class="right">{{ mass(line.amounts[i] ?? null) }}</td>
            </tr>
            <tr v-if="one.parts.length > 1" class="total">
              <td></td>
              <td></td>
              <td>{{ t('sow.totalOf') }}</td>
              <td class="right">{{ mass(line.total) }}</td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
  </DownloadTable>
</template>

<style scoped>
.lead {
  margin: 18px 0 6px;
}
.scroll {
  overflow-x: auto;
}
.total {
  font-weight: 700;
}
</style>
