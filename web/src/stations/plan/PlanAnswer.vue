<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { MeasureOutlook } from '@/api/queries'

import { amount } from './amount'

/** Beside the choices that change it: the smallest difference that the plan detects, and whether that is enough. */
defineProps<{ measures: MeasureOutlook[]; busy: boolean }>()
const { t } = useI18n()
</script>

<template>
  <aside class="answer" :aria-label="t('plan.canSee')" :aria-busy="busy">
    <h2>{{ t('plan.canSee') }}</h2>
    <p v-if="!measures.length" class="quiet small">
      {{ t('plan.noMeasures') }} <router-link :to="{ name: 'ask' }">{{ t('plan.toAsk') }}</router-link>
    </p>
    <dl v-else aria-live="polite">
      <template v-for="m in measures" :key="m.id">
        <dt>{{ m.name }}</dt>
        <dd v-if="!m.outlook" class="quiet small">{{ m.reason }}</dd>
        <dd v-else>
          <strong>{{ amount(m.outlook.detectable, m) }}</strong>
          <span v-if="m.margin === null" class="quiet small">{{ t('plan.answer.noMargin') }}</span>
          <span v-else-if="m.outlook.detectable > m.margin" class="small tone-loss">{{
            t('plan.answer.tooSmall', { d: amount(m.margin, m) })
          }}</span>
          <span v-else class="small tone-gain">{{
            t('plan.answer.enough', { d: amount(m.margin, m) })
          }}</span>
        </dd>
      </template>
    </dl>
    <p v-if="measures.some((m) => m.outlook)" class="small quiet">{{ t('plan.answer.power') }}</p>
    <a v-if="measures.length" class="small" href="#detectable">{{ t('plan.answer.details') }}</a>
  </aside>
</template>

<style scoped>
.answer {
  padding: 12px 14px;
  background: var(--ground);
  border-left: 5px solid var(--band);
  align-self: start;
}
.answer[aria-busy='true'] dl {
  opacity: 0.6;
}
dl {
  margin: 6px 0;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0 0 8px;
}
dd strong {
  display: block;
  font-size: 18px;
  font-weight: 750;
}
</style>
