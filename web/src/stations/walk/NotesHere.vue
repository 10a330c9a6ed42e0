<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial, Visit } from '@/api/queries'

/** Notes of the visit and of the plot where one is; asked here, so that the sheet isn’t drawn anew with each plot. */
const props = defineProps<{ trial: Trial; visit: Visit; unit: () => string }>()
const { t } = useI18n()
const notes = computed(() =>
  props.visit.notes.filter((note) => note.unit === props.unit() || note.unit === null),
)
const labelOf = (unit: string) => props.trial.plots.find((plot) => plot.id === unit)?.label
</script>

<template>
  <ul v-if="notes.length">
    <li v-for="note in notes" :key="note.id">
      <strong>{{ note.unit ? t('walk.noteOf', { p: labelOf(note.unit) }) : t('walk.noteOfVisit') }}</strong>
      {{ note.text }} <span class="quiet">{{ note.by }}</span>
    </li>
  </ul>
</template>

<style scoped>
ul {
  padding-left: 18px;
}
</style>
