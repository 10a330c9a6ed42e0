<script setup lang="ts">
import { useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'

import { fileName, rowsOf, saveCsv } from './downloads'

/** A table with a way to save it as CSV, as it is shown. `of`: what it belongs to, for the file’s name. */
const props = defineProps<{ name: string; of?: string }>()
const { t } = useI18n()
const around = useTemplateRef('around')
function save() {
  const table = around.value?.querySelector('table')
  if (table) saveCsv(fileName([props.of, props.name], 'csv'), rowsOf(table))
}
</script>

<template>
  <div ref="around" class="with-download">
    <slot />
    <button
      type="button"
      class="link-button small unprinted"
      :aria-label="`${t('download.csv')}: ${name}`"
      @click="save"
    >
      {{ t('download.csv') }}
    </button>
  </div>
</template>
