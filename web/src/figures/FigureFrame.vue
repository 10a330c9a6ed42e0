<script setup lang="ts">
import { ref, useId } from 'vue'
import { useI18n } from 'vue-i18n'

import DownloadChart from '@/parts/DownloadChart.vue'
import DownloadTable from '@/parts/DownloadTable.vue'

/** A chart with its table beside it: one press shows the numbers that were drawn. `of`: what it is a chart of. */
defineProps<{ title: string; note?: string; of?: string }>()
const { t } = useI18n()
const open = ref(false)
const id = useId()
</script>

<template>
  <section class="figure" :aria-labelledby="id">
    <div class="head">
      <h2 :id="id">{{ title }}</h2>
      <button
        type="button"
        class="pill unprinted"
        :aria-pressed="open"
        :aria-label="`${t('full.table')}: ${title}`"
        @click="open = !open"
      >
        {{ t('full.table') }}
      </button>
    </div>
    <p v-if="note" class="quiet small">{{ note }}</p>
    <DownloadChart :name="title" :of="of"><slot /></DownloadChart>
    <div v-if="open" class="table" tabindex="0" role="region" :aria-label="title">
      <DownloadTable :name="title" :of="of"><slot name="table" /></DownloadTable>
    </div>
  </section>
</template>

<style scoped>
.figure {
  margin: 0 0 26px;
  min-width: 0;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
}
.figure :deep(svg) {
  max-width: 100%;
  height: auto;
  display: block;
}
.table {
  overflow-x: auto;
  max-height: 360px;
  overflow-y: auto;
  margin-top: 6px;
}
p {
  margin: 2px 0 6px;
}
</style>
