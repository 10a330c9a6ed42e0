<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, type Trial } from '@/api/queries'
import ProblemNote from '@/parts/ProblemNote.vue'

/** The first look at results is an act of somebody, so that what is changed later can be told from what was planned. */
const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const queries = useQueryClient()
const may = computed(() => props.trial.may.includes('answer'))

const {
  mutate: open,
  isPending: busy,
  error: problem,
} = useMutation({
  mutationFn: async () => {
    await api.openResults(props.trial.id)
    await queries.invalidateQueries({ queryKey: ['trials'] })
  },
})
</script>

<template>
  <section class="open">
    <h2>{{ t('read.notOpened') }}</h2>
    <p>{{ t('read.notOpenedLead') }}</p>
    <ul>
      <li>{{ t('read.notOpenedMargins') }}</li>
      <li>{{ t('read.notOpenedLater') }}</li>
    </ul>
    <ProblemNote v-if="problem" :problem="problem" />
    <v-btn v-if="may" color="accent" :loading="busy" @click="open()">{{ t('read.open') }}</v-btn>
    <p v-else class="quiet">{{ t('read.notYours') }}</p>
  </section>
</template>

<style scoped>
.open {
  max-width: 640px;
  padding: 18px 0;
}
ul {
  margin: 8px 0 16px;
  padding-left: 20px;
}
</style>
