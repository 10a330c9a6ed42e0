<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'

import type { Season, Trial } from '@/api/queries'

const props = defineProps<{ trial: Trial; season?: Season; doubts: number | null }>()
const { t } = useI18n()
const route = useRoute()

const blocks = computed(() => new Set(props.trial.plots.map((plot) => plot.block).filter(Boolean)).size)
const visits = computed(() => props.season?.visits ?? [])
const walked = computed(() => visits.value.filter((visit) => visit.state === 'done').length)
const begun = computed(() => visits.value.find((visit) => visit.state === 'begun'))
const conflicts = computed(() => visits.value.reduce((n, visit) => n + visit.progress.conflicts, 0))
const due = computed(() =>
  [...visits.value, ...(props.season?.operations ?? [])].filter((one) =>
    ['overdue', 'due'].includes(one.state),
  ),
)
const planState = computed(() => {
  if (!props.trial.plots.length) return t('frame.noMap')
  const replicates = props.trial.design === 'incomplete_block'
  return t(blocks.value ? (replicates ? 'frame.replicates' : 'frame.blocks') : 'frame.plots', {
    t: props.trial.treatments.length,
    b: blocks.value,
  })
})
const sowState = computed(() => {
  const done = (props.season?.operations ?? []).some((one) => one.kind === 'sow' && one.done)
  return t(done ? 'sow.state.sown' : 'sow.state.sheet')
})
const walkState = computed(() => {
  if (conflicts.value) return t('frame.conflicts', conflicts.value)
  if (begun.value) return t('frame.plotsDone', { d: begun.value.progress.done, n: begun.value.progress.of })
  const visited = { d: walked.value, n: visits.value.length }
  return visited.n ? t('frame.visitsDone', visited) : t('frame.noVisits')
})
const readState = computed(() => {
  if (props.doubts !== null) return t('frame.doubts', props.doubts)
  if (props.trial.results_opened) return t('frame.verdicts')
  return props.trial.recorded ? t('frame.notOpened') : t('frame.noValues')
})
const stations = computed(() => [
  {
    id: 'ask',
    state: props.trial.question ? t('frame.question') : t('frame.noQuestion'),
    to: { name: 'ask' },
  },
  { id: 'plan', state: planState.value, to: { name: 'plan' } },
  { id: 'sow', state: sowState.value, to: { name: 'sow' } },
  { id: 'season', state: t('frame.due', due.value.length), to: { name: 'season' } },
  { id: 'walk', state: walkState.value, to: { name: 'walk' } },
  { id: 'weigh', state: t('frame.later') },
  {
    id: 'read',
    state: readState.value,
    to: { name: 'read' },
  },
  { id: 'tell', state: t('frame.onePage'), to: { name: 'tell' } },
])
const OF: Record<string, string> = {
  visit: 'walk',
  'full-reading': 'read',
  layout: 'plan',
  weather: 'season',
}
const here = computed(() => OF[String(route.name)] ?? String(route.name))
</script>

<template>
  <nav class="index" :aria-label="t('frame.stations')">
    <div class="tabs">
      <component
        :is="s.to ? 'router-link' : 'span'"
        v-for="s in stations"
        :key="s.id"
        class="tab"
        :class="{ here: s.id === here, open: s.to }"
        v-bind="s.to ? { to: s.to, 'aria-current': s.id === here ? 'page' : undefined } : {}"
      >
        <strong>{{ t(`frame.station.${s.id}`) }}</strong>
        <small>{{ s.state }}</small>
      </component>
    </div>
  </nav>
</template>

<style scoped>
.index {
  width: 96px;
  flex: none;
  padding: 12px 8px 12px 0;
  background: var(--edge);
}
.tabs {
  position: sticky;
  top: 90px;
  display: flex;
  flex-direction: column;
  gap: 5px;
}
.tab {
  display: flex;
  flex-direction: column;
  padding: 7px 6px 7px 12px;
  border: 1px solid var(--rule);
  border-left: 0;
  border-radius: 0 10px 10px 0;
  background: var(--ground);
  color: var(--quiet);
  text-decoration: none;
  min-height: 50px;
}
.tab strong {
  font-weight: 500;
}
.tab small {
  font-size: 12px;
}
.open {
  color: var(--ink);
}
.here {
  background: var(--paper);
  border-right: 5px solid var(--accent);
}
.here strong {
  font-weight: 750;
}
@media (max-width: 720px) {
  .index {
    position: fixed;
    z-index: 5;
    left: 0;
    right: 0;
    bottom: 0;
    width: auto;
    padding: 0;
    border-top: 1px solid var(--rule);
  }
  .tabs {
    position: static;
    display: grid;
    grid-template-columns: repeat(4, 1fr);
    gap: 0;
  }
  .tab {
    border: 0;
    border-radius: 0;
    border-top: 3px solid transparent;
    padding: 3px 2px 4px;
    align-items: center;
    justify-content: center;
    min-height: 48px;
    line-height: 1.25;
    text-align: center;
  }
  .here {
    border-right: 0;
    border-top-color: var(--accent);
  }
}
</style>
