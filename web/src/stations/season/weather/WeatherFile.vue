<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref, shallowRef } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { weatherApi, type WeatherFile } from '@/api/weather'
import DropZone from '@/parts/DropZone.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import OddCells from '@/stations/bring/OddCells.vue'
import TableQuestions from '@/stations/bring/TableQuestions.vue'
import { day } from '@/texts/format'

/** A table of daily weather: what it holds, what has to be settled, and then its days. */
const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const queries = useQueryClient()
const file = shallowRef<File | null>(null)
const answers = ref<Record<string, string>>({})
const found = shallowRef<WeatherFile | null>(null)
const problem = shallowRef<Error | null>(null)
const kept = ref('')

async function look(keep = false) {
  problem.value = null
  try {
    found.value = await weatherApi.sendFile(props.trial.id, file.value!, answers.value, keep)
    if (!found.value.kept) return
    kept.value = t('weather.fileKept', { n: found.value.days, name: file.value!.name }, found.value.days)
    file.value = found.value = null
    await queries.invalidateQueries({ queryKey: ['trials'] })
  } catch (thrown) {
    problem.value = thrown as Error
  }
}
function take(given: File) {
  file.value = given
  answers.value = {}
  found.value = null
  kept.value = ''
  void look()
}
function settle(question: string, choice: string) {
  answers.value = { ...answers.value, [question]: choice }
  void look()
}
</script>

<template>
  <DropZone
    :lead="t('weather.drop')"
    :limits="t('weather.fileLimits')"
    accept=".csv,.txt,.tsv,text/csv"
    @file="take"
  />
  <p v-if="kept" role="status">{{ kept }}</p>
  <ProblemNote v-if="problem" :problem="problem" />
  <template v-if="found">
    <p>
      {{
        t(
          'weather.fileHas',
          {
            n: found.days,
            from: found.first ? day(found.first) : '–',
            to: found.last ? day(found.last) : '–',
          },
          found.days,
        )
      }}
      {{
        found.columns
          .map((one) =>
            t('weather.column', {
              name: one.heading,
              what: t(`weather.quantity.${one.quantity}`),
              unit: one.unit,
            }),
          )
          .join(' ')
      }}
    </p>
    <TableQuestions v-if="found.questions.length" :questions="found.questions" @answer="settle" />
    <OddCells v-if="found.odd.length" :cells="found.odd" />
    <v-btn v-if="found.settled" color="accent" @click="look(true)">{{ t('weather.keepFile') }}</v-btn>
  </template>
</template>
