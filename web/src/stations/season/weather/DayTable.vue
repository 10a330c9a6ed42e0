<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { Weather } from '@/api/weather'
import { day, figure } from '@/texts/format'

/** The last days and those ahead, each with its source; a day can be entered by hand. */
defineProps<{ weather: Weather; mayRecord: boolean }>()
defineEmits<{ enter: [day: string] }>()
const { t } = useI18n()
</script>

<template>
  <div class="scroll" tabindex="0" role="region" :aria-label="t('weather.days')">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">{{ t('weather.day') }}</th>
          <th scope="col" class="right">{{ t('weather.min') }}, {{ weather.temperature_unit }}</th>
          <th scope="col" class="right">{{ t('weather.max') }}, {{ weather.temperature_unit }}</th>
          <th scope="col" class="right">{{ t('weather.rain') }}, {{ weather.rain_unit }}</th>
          <th scope="col" class="right">{{ t('weather.soil') }}, {{ weather.temperature_unit }}</th>
          <th scope="col">{{ t('weather.source') }}</th>
          <th v-if="mayRecord" scope="col">
            <span class="seen-by-readers-only">{{ t('weather.correct') }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in weather.days" :key="one.day" :class="[one.source ?? 'none']">
          <td class="when">{{ day(one.day) }}</td>
          <td class="right">{{ figure(one.tmin, 1) }}</td>
          <td class="right">{{ figure(one.tmax, 1) }}</td>
          <td class="right">{{ figure(one.rain, weather.rain_unit === 'in' ? 2 : 1) }}</td>
          <td class="right">{{ figure(one.soil, 1) }}</td>
          <td>{{ t(`weather.sources.${one.source ?? 'none'}`) }}</td>
          <td v-if="mayRecord">
            <button
              v-if="one.source !== 'forecast'"
              type="button"
              class="link-button"
              :aria-label="`${t('weather.correct')}: ${day(one.day)}`"
              @click="$emit('enter', one.day)"
            >
              {{ t('weather.correct') }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="weather.more" class="quiet small">{{ t('weather.more') }}</p>
</template>

<style scoped>
.scroll {
  max-height: 460px;
  overflow: auto;
}
.when {
  white-space: nowrap;
}
.forecast td {
  font-style: italic;
}
.none td {
  color: var(--unsettled);
}
</style>
