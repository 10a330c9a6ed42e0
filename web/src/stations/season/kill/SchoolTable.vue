<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { KillWindow, KillWindows } from '@/api/stages'
import { day, plain } from '@/texts/format'

/** The three schools side by side: what the cover is like then, and what it means for the crop. */
defineProps<{ kills: KillWindows; window: KillWindow; mayRecord: boolean }>()
defineEmits<{ use: [key: 'early' | 'at_sowing' | 'after_sowing'] }>()
const { t } = useI18n()
</script>

<template>
  <div class="schools">
    <section v-for="one in window.schools" :key="one.key" :aria-label="t(`kill.school.${one.key}`)">
      <h3>{{ t(`kill.school.${one.key}`) }}</h3>
      <p class="when">
        <strong>{{ day(one.day) }}</strong>
      </p>
      <dl>
        <template v-for="plant in one.plants" :key="plant.name">
          <dt>{{ plant.name }}</dt>
          <dd>
            {{
              plant.code === null
                ? t('kill.noStage')
                : t('kill.stageThen', { code: plant.code, seen: plant.seen })
            }}
            <template v-if="plant.least !== plant.most"
              ><br />{{ t('kill.between', { least: plant.least, most: plant.most }) }}</template
            >
            <template v-if="plant.cn"><br />{{ plant.cn }}</template>
          </dd>
        </template>
        <template v-if="one.biomass">
          <dt>{{ t('kill.biomass') }}</dt>
          <dd>
            {{
              t('kill.fromTo', {
                low: plain(one.biomass[0]!),
                high: plain(one.biomass[1]!),
                unit: kills.biomass_unit,
              })
            }}
            <template v-if="!one.biomass_measured"><br />{{ t('kill.notMeasured') }}</template>
          </dd>
        </template>
      </dl>
      <ul v-if="one.notes.length" class="notes">
        <li v-for="note in one.notes" :key="note">{{ note }}</li>
      </ul>
      <button v-if="mayRecord" type="button" class="pill" @click="$emit('use', one.key)">
        {{ t('kill.use') }}
      </button>
    </section>
  </div>
</template>

<style scoped>
.schools {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(210px, 1fr));
  gap: 20px;
}
section {
  border-top: 3px solid var(--rule);
  padding-top: 8px;
}
h3 {
  margin: 0;
  font-size: 15px;
}
.when {
  margin: 2px 0 6px;
}
dt {
  font-weight: 650;
}
dd {
  margin: 0 0 6px;
}
.notes {
  margin: 0 0 10px;
  padding-left: 18px;
}
</style>
