<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Season, Trial } from '@/api/queries'
import { day } from '@/texts/format'

import { eventsOf } from './events'

/** The strip in one line: what is due, else what comes next, else until when the season runs. */
const props = defineProps<{ trial: Trial; season?: Season }>()
const { t } = useI18n()

const events = computed(() => eventsOf(props.trial, props.season))
const undated = computed(() => events.value.filter((e) => !e.date).map((e) => e.name))
const due = computed(() =>
  events.value.filter((e) => ['overdue', 'due', 'begun', 'conflict'].includes(e.state)),
)
const next = computed(
  () =>
    events.value
      .filter((e) => e.date && ['soon', 'later'].includes(e.state))
      .sort((a, b) => a.date!.localeCompare(b.date!))[0],
)
const over = computed(() => {
  const { ends, today } = props.trial
  if (!ends) return ''
  return t(ends < today ? 'strip.past' : 'strip.running', { date: day(ends) })
})
</script>

<template>
  <p class="due">
    <router-link v-if="due[0]" :to="due[0].to" class="now">{{
      t(`strip.now.${due[0].state}`, { name: due[0].name })
    }}</router-link>
    <template v-if="due.length > 1">{{ ' ' }}{{ t('strip.more', due.length - 1) }}</template>
    <router-link v-if="!due.length && next" :to="next.to">{{
      t('strip.next', { name: next.name, date: day(next.date!) })
    }}</router-link>
    <template v-else-if="!due.length">{{ over }}</template>
    {{ ' '
    }}<span v-if="undated.length" class="undated">{{
      t('strip.undated', { names: undated.join(', ') })
    }}</span>
  </p>
</template>

<style scoped>
.due {
  margin: 0;
  font-size: 13px;
}
.now {
  color: var(--accent);
  font-weight: 700;
}
.undated {
  color: var(--unsettled);
}
</style>
