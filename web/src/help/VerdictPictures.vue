<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import DifferenceGlyph from '@/figures/DifferenceGlyph.vue'

/** The five verdicts as the board draws them: one invented interval each, against zero and a margin of 2. */
const { t } = useI18n()
const BAND = { low: -2, high: 2 }
const VERDICTS = [
  { key: 'clear', verdict: 'clear-gain', lower: 2.6, estimate: 4, upper: 5.4 },
  { key: 'unsettled', verdict: 'real-size-unsettled', lower: 0.8, estimate: 2.4, upper: 4 },
  { key: 'small', verdict: 'real-but-small', lower: 0.4, estimate: 1, upper: 1.6 },
  { key: 'none', verdict: 'no-difference-worth-having', lower: -1.1, estimate: 0.2, upper: 1.5 },
  { key: 'open', verdict: 'not-settled', lower: -1.4, estimate: 1.4, upper: 4.2 },
] as const
</script>

<template>
  <p class="small">{{ t('help.verdictsLead') }}</p>
  <dl class="verdicts">
    <div v-for="one in VERDICTS" :key="one.key">
      <dt>
        <DifferenceGlyph
          :cell="one"
          :cells="[...VERDICTS]"
          :band="BAND"
          direction="higher"
          :label="t(`help.verdict.${one.key}`)"
        />
      </dt>
      <dd>
        <strong>{{ t(`help.verdict.${one.key}`) }}</strong> {{ t(`help.verdict.${one.key}Says`) }}
      </dd>
    </div>
  </dl>
  <p class="quiet small">{{ t('help.picture') }}</p>
</template>

<style scoped>
.verdicts {
  margin: 6px 0;
}
.verdicts > div {
  display: grid;
  grid-template-columns: 124px minmax(0, 1fr);
  gap: 12px;
  align-items: center;
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}
dd {
  margin: 0;
}
dd strong {
  display: block;
}
p {
  margin: 0;
}
</style>
