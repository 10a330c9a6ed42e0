<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { Sow } from '@/api/sow'
import { plain } from '@/texts/format'

import { LABEL, MORE, type LotDraft, type LotField } from './draft'

/** What stands on each lot’s label; what a rate needs and nobody said is asked where it belongs. */
const props = defineProps<{ sow: Sow; faults: Record<string, string> }>()
const lots = defineModel<LotDraft[]>({ required: true })
const { t } = useI18n()

const lotOf = (key: string) => props.sow.lots.find((one) => one.key === key)
const titleOf = (key: string) => {
  const lot = lotOf(key)
  return [lot?.name, lot?.cultivar, lot?.lot].filter(Boolean).join(' · ')
}
function unitOf(field: LotField): string {
  if (field.endsWith('percent')) return '%'
  if (field === 'tkw_g') return 'g'
  if (field === 'bushel_lb') return 'lb'
  return field === 'bag_kg' ? props.sow.units.order : `/${props.sow.units.order}`
}
function faultsOf(at: number, lot: LotDraft, field: LotField): string {
  return (
    props.faults[`lots.${at}.${field}`] ?? props.faults[`${lot.key}.${field.replace('_percent', '')}`] ?? ''
  )
}
function hintOf(lot: LotDraft, field: LotField): string {
  const found = lotOf(lot.key)
  const asks = (found?.asks[field] ?? []).map((value) => `${plain(value)} ${unitOf(field)}`)
  const said = lot[field].trim()
  if (asks.length > 1 && !said) return t('sow.asksTwo', { v: asks.join(', ') })
  if (asks.length) return t('sow.asks', { v: asks.join(', ') })
  if (said || !found) return ''
  const where = found.assumed[field]
  const value = found.used[field]
  if (where && typeof value === 'number')
    return t('sow.assumed', { v: `${plain(value)} ${unitOf(field)}`, where })
  return found.asked.includes(field) ? t('sow.asked') : ''
}
const isAsked = (lot: LotDraft, field: LotField) =>
  !lot[field].trim() && lotOf(lot.key)?.asked.includes(field)
/** What is folded stays in view where something is said or wrong there. */
const hasMore = (at: number, lot: LotDraft) =>
  MORE.some((field) => lot[field].trim() || faultsOf(at, lot, field).length || isAsked(lot, field))
</script>

<template>
  <ul class="lots">
    <li v-for="(lot, at) in lots" :key="lot.key">
      <h3>{{ titleOf(lot.key) }}</h3>
      <div class="fields">
        <v-text-field
          v-for="field in LABEL"
          :key="field"
          v-model="lot[field]"
          :label="t(`sow.field.${field}`)"
          :suffix="unitOf(field)"
          inputmode="decimal"
          :class="{ asked: isAsked(lot, field) }"
          :data-where="`lots.${at}.${field}`"
          :error-messages="faultsOf(at, lot, field)"
          :hint="hintOf(lot, field)"
          persistent-hint
        />
      </div>
      <details :open="hasMore(at, lot)">
        <summary>{{ t('sow.more') }}</summary>
        <div class="fields">
          <v-text-field
            v-for="field in MORE"
            :key="field"
            v-model="lot[field]"
            :label="t(`sow.field.${field}`)"
            :suffix="unitOf(field)"
            inputmode="decimal"
            :class="{ asked: isAsked(lot, field) }"
            :data-where="`lots.${at}.${field}`"
            :error-messages="faultsOf(at, lot, field)"
            :hint="hintOf(lot, field)"
            persistent-hint
          />
        </div>
        <p class="quiet small">{{ t('sow.hint.lots') }}</p>
        <v-checkbox v-model="lot.count_hard_seed" :label="t('sow.countHard')" hide-details />
        <v-checkbox v-model="lot.coat_counted" :label="t('sow.coatCounted')" hide-details />
      </details>
    </li>
  </ul>
</template>

<style scoped>
.lots {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 10px 0 12px;
  border-top: 1px solid var(--rule);
}
h3 {
  margin: 0 0 10px;
  font-size: 15px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 10px 12px;
  align-items: start;
}
.asked :deep(.v-messages) {
  color: var(--unsettled);
  opacity: 1;
  font-weight: 650;
}
details {
  margin-top: 8px;
}
</style>
