<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, shallowRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, sessionQuery, type SheetPage, type Trial, type Visit } from '@/api/queries'
import { chooseSite } from '@/api/site'
import { outboxFor } from '@/offline/useOutbox'
import ProblemNote from '@/parts/ProblemNote.vue'

import VisitSheet from './VisitSheet.vue'

const props = defineProps<{ trial: Trial; visit: string }>()
const { t } = useI18n()
const { data: session } = useQuery(sessionQuery)
const opened = shallowRef<Visit | null>(null)
const problem = shallowRef<Error | null>(null)
const me = computed(() => session.value)

/** `page`: of a large sheet; the one that shows stays until the other is there. */
async function open(page: SheetPage = {}) {
  problem.value = null
  const wanted = props.visit
  try {
    const visit = await api.visit(wanted, page)
    if (wanted !== props.visit) return
    if (visit.site === props.trial.site.id) opened.value = visit
    else chooseSite(props.trial.id, visit.site)
  } catch (error) {
    if (wanted === props.visit) problem.value = error as Error
  }
}
watch(
  () => props.visit,
  () => {
    opened.value = null
    void open()
  },
  { immediate: true },
)
async function turn(page: SheetPage) {
  await open(page)
  await nextTick()
  if (page.page) document.querySelector('h1')?.scrollIntoView({ block: 'nearest' })
}
</script>

<template>
  <ProblemNote v-if="problem" :problem="problem" :again="() => open()" />
  <p v-else-if="!opened || !me" role="status">{{ t('app.loading') }}</p>
  <VisitSheet
    v-else
    :key="`${opened.id}.${opened.page}`"
    :trial="trial"
    :opened="opened"
    :me="me.name"
    :person="me.email"
    :outbox="outboxFor(me)"
    @turn="turn"
  />
</template>
