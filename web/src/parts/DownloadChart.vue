<script setup lang="ts">
import { useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'

import { fileName, savePng, saveSvg } from './downloads'

/** A chart with ways to save it. `of`: what it is a chart of, for title and file name. */
const props = defineProps<{ name: string; of?: string }>()
const { t } = useI18n()
const around = useTemplateRef('around')
function save(as: 'svg' | 'png') {
  const chart = around.value?.querySelector('svg')
  const title = [props.of, props.name].filter(Boolean).join(': ')
  if (chart) void (as === 'svg' ? saveSvg : savePng)(chart, title, fileName([props.of, props.name], as))
}
</script>

<template>
  <div ref="around">
    <slot />
    <p class="save unprinted">
      <button
        v-for="as in ['svg', 'png'] as const"
        :key="as"
        type="button"
        class="link-button small"
        :aria-label="`${t(`download.${as}`)}: ${name}`"
        @click="save(as)"
      >
        {{ t(`download.${as}`) }}
      </button>
    </p>
  </div>
</template>

<style scoped>
.save {
  display: flex;
  gap: 14px;
  margin: 2px 0 0;
}
</style>
