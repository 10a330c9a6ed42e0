<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import type { Sow } from '@/api/sow'
import { day } from '@/texts/format'

import DrillTest from './DrillTest.vue'
import SpreaderTest from './SpreaderTest.vue'
import TankTest from './TankTest.vue'

/** The three ways to calibrate, each folded until it is used, and the tests that were saved. */
defineProps<{ trial: Trial; sow: Sow; mayRecord: boolean }>()
const { t } = useI18n()
</script>

<template>
  <p class="quiet small">{{ t('sow.testLead') }}</p>
  <details>
    <summary>{{ t('sow.tests.drill') }}</summary>
    <DrillTest :trial="trial" :sow="sow" :may-record="mayRecord" />
  </details>
  <details>
    <summary>{{ t('sow.tests.spreader') }}</summary>
    <SpreaderTest :trial="trial" :sow="sow" :may-record="mayRecord" />
  </details>
  <details>
    <summary>{{ t('sow.tests.tank') }}</summary>
    <TankTest :trial="trial" :sow="sow" :may-record="mayRecord" />
  </details>
  <h3>{{ t('sow.kept') }}</h3>
  <p v-if="!sow.tests.length" class="quiet small">{{ t('sow.noTests') }}</p>
  <ul v-else class="kept">
    <li v-for="one in sow.tests" :key="one.id" :class="one.quality">
      <strong>{{ t(`sow.tests.${one.kind}`) }}</strong>{{ one.about ? `, ${one.about}` : '' }}
      <span class="quiet small">{{ day(one.at.slice(0, 10)) }}, {{ one.by }}</span>
      <p>{{ one.said }}</p>
    </li>
  </ul>
</template>

<style scoped>
details {
  border-top: 1px solid var(--rule);
  padding: 4px 0;
}
h3 {
  margin: 16px 0 4px;
  font-size: 15px;
}
.kept {
  list-style: none;
  margin: 0;
  padding: 0;
}
.kept li {
  border-left: 5px solid var(--unsettled);
  padding: 2px 12px;
  margin-bottom: 8px;
}
.kept .good {
  border-color: var(--gain);
}
.kept .poor {
  border-color: var(--loss);
}
p {
  margin: 2px 0 6px;
}
</style>
