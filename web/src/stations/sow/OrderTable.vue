<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import type { Sow } from '@/api/sow'
import DownloadTable from '@/parts/DownloadTable.vue'
import { figure, threeDigits } from '@/texts/format'

/** What to order of each lot, and what one bag too few would mean; how much of the ground is sown at all. */
const props = defineProps<{ sow: Sow; trial: Trial }>()
const { t } = useI18n()
const names = computed(() => new Map(props.sow.lots.map((lot) => [lot.key, [lot.name, lot.cultivar, lot.lot].filter(Boolean).join(' · ')]))) // prettier-ignore
const area = computed(() => {
  const { gross, sown, fraction, unplaced } = props.sow.area
  const said = { p: figure(100 * (fraction ?? 1), 0), a: threeDigits(gross), s: threeDigits(sown), unit: props.sow.units.area } // prettier-ignore
  if (fraction === null || fraction > 0.9995) return t('sow.areaAll', said)
  return t(unplaced ? 'sow.areaShare' : 'sow.areaPart', said)
})
</script>

<template>
  <p>{{ area }}</p>
  <h3>{{ t('sow.order') }}</h3>
  <p class="quiet small">{{ t('sow.orderLead') }}</p>
  <DownloadTable :name="t('sow.order')" :of="trial.name">
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th>{{ t('sow.lot') }}</th>
            <th class="right">{{ t('sow.needed') }} ({{ sow.units.order }})</th>
            <th class="right">{{ t('sow.toOrder') }} ({{ sow.units.order }})</th>
            <th class="right">{{ t('sow.bags') }}</th>
            <th class="right">{{ t('sow.price') }}{{ sow.currency ? ` (${sow.currency})` : '' }}</th>
            <th>{{ t('sow.oneLess') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in sow.order" :key="line.lot">
            <td>
              {{ names.get(line.lot) }}
              <span v-if="!line.complete" class="needs">{{ t('sow.incomplete') }}</span>
            </td>
            <td class="right">{{ threeDigits(line.needed) }}</td>
            <td class="right">
              <strong>{{ threeDigits(line.order) }}</strong>
            </td>
            <td class="right">{{ line.bags ?? '–' }}</td>
            <td class="right">{{ line.price === null ? '–' : line.price.toFixed(2) }}</td>
            <td>{{ line.one_less || '–' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </DownloadTable>
</template>

<style scoped>
h3 {
  margin: 14px 0 2px;
  font-size: 15px;
}
p {
  margin: 0 0 6px;
}
.scroll {
  overflow-x: auto;
}
.needs {
  display: block;
  color: var(--unsettled);
  font-weight: 650;
}
</style>
