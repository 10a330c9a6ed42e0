<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, shallowRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { acts, sessionQuery, type Trial, type Visit } from '@/api/queries'
import { lookAt } from '@/api/site'
import ProblemNote from '@/parts/ProblemNote.vue'

import VisitSheet from './VisitSheet.vue'

const props = defineProps<{ trial: Trial; visit: string }>()
const { t } = useI18n()
const { data: session } = useQuery(sessionQuery)
const opened = shallowRef<Visit | null>(null)
const problem = shallowRef<Error | null>(null)
const me = computed(() => session.value)

async function open() {
  problem.value = null
  opened.value = null
  const wanted = props.visit
  try {
    const visit = await acts.visit(wanted)
    if (wanted !== props.visit) return
    if (visit.site === props.trial.site.id) opened.value = visit
    else lookAt(props.trial.id, visit.site)
  } catch (error) {
    if (wanted === props.visit) problem.value = error as Error
  }
}
watch(() => props.visit, open, { immediate: true })
</script>

<template>
  <ProblemNote v-if="problem" :problem="problem" :again="open" />
  <p v-else-if="!opened || !me" role="status">{{ t('app.loading') }}</p>
  <VisitSheet v-else :key="opened.id" :trial="trial" :opened="opened" :me="me.name" :person="me.email" />
</template>
