<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'

import type { Trial } from '@/api/queries'
import { sowQuery } from '@/api/sow'
import PageSections, { type SectionState } from '@/parts/PageSections.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useStationGround } from '@/shell/useGround'

import CalibrationDesk from './CalibrationDesk.vue'
import GoOrWait from './GoOrWait.vue'
import OrderTable from './OrderTable.vue'
import PackingList from './PackingList.vue'
import SeedForm from './SeedForm.vue'
import SeedTable from './SeedTable.vue'
import SownEntries from './SownEntries.vue'

/** Seed into plots: lots and rates, what each plot gets, calibration, go or wait, packing, and what was sown. */
const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const { data: sow, error, refetch } = useQuery(computed(() => sowQuery(props.trial.id)))
useStationGround(() => ({
  title: t('ground.by.treatment'), unit: '', faces: {},
  way: sow.value?.way ?? [],
  cleaned: (sow.value?.stops ?? []).flatMap((stop, i) => (stop.clean ? [i] : [])), strips: sow.value?.area.strips ?? {},
})) // prettier-ignore
/** A link may lead to a part of the page, which is there once the seed is known. */
const route = useRoute()
watch(
  sow,
  async (now, before) => {
    if (!now || before || !route.hash) return
    await nextTick()
    document.querySelector(route.hash)?.scrollIntoView()
  },
  { immediate: true },
)
const mayRecord = computed(() => props.trial.may.includes('record'))
const covered = computed(() => (sow.value?.lots.length ?? 0) > 0)
const sections = computed(() => {
  const { lots = [], stops = [], tests = [], decisions = [], sowings = [] } = sow.value ?? {}
  const asks = lots.some((lot) => lot.asked.length)
  const unrated = sow.value?.treatments.some((one) => one.parts.some((part) => part.missing.length))
  const sown = new Set(sowings.flatMap((one) => one.plots))
  const done = (whole: boolean): SectionState => (whole ? 'done' : 'todo')
  const states: Record<string, SectionState> = {
    seed: asks || unrated ? 'check' : 'done',
    sheet: unrated || !stops.length ? 'todo' : 'done',
    test: done(tests.some((one) => one.quality === 'good')),
    go: done(decisions[0]?.decision === 'go'),
    pack: done(stops.length > 0 && stops.every((stop) => stop.packed)),
    sown: done(stops.length > 0 && stops.every((stop) => sown.has(stop.plot))),
  }
  return Object.keys(states).map((id) => ({ id, title: t(`sow.section.${id}`), state: states[id]! }))
})
</script>

<template>
  <h1>{{ t('sow.title') }}</h1>
  <ProblemNote v-if="error && !sow" :problem="error" :again="refetch" />
  <p v-else-if="!sow" role="status">{{ t('app.loading') }}</p>
  <p v-else-if="!covered">
    {{ t('sow.noCover') }} <router-link :to="{ name: 'ask' }">{{ t('sow.toAsk') }}</router-link>
  </p>
  <template v-else>
    <p v-if="!sow.scaled">
      {{ t('sow.noMap') }} <router-link :to="{ name: 'plan' }">{{ t('sow.toPlan') }}</router-link>
    </p>
    <PageSections :sections="sections" />
    <section id="seed" tabindex="-1">
      <SeedForm :trial="trial" :sow="sow" :may-record="mayRecord" />
    </section>
    <section v-if="sow.scaled" id="sheet" tabindex="-1">
      <h2>{{ t('sow.section.sheet') }}</h2>
      <OrderTable :sow="sow" :trial="trial" />
      <SeedTable :sow="sow" :trial="trial" />
    </section>
    <section id="test" tabindex="-1">
      <h2>{{ t('sow.section.test') }}</h2>
      <CalibrationDesk :trial="trial" :sow="sow" :may-record="mayRecord" />
    </section>
    <section id="go" tabindex="-1">
      <h2>{{ t('sow.section.go') }}</h2>
      <GoOrWait :trial="trial" :sow="sow" :may-record="mayRecord" />
    </section>
    <section v-if="sow.scaled" id="pack" tabindex="-1">
      <h2>{{ t('sow.section.pack') }}</h2>
      <PackingList :trial="trial" :sow="sow" :may-record="mayRecord" />
    </section>
    <section v-if="sow.scaled" id="sown" tabindex="-1">
      <h2>{{ t('sow.section.sown') }}</h2>
      <SownEntries :trial="trial" :sow="sow" :may-record="mayRecord" />
    </section>
  </template>
</template>

<style scoped>
section {
  margin-bottom: 34px;
}
section:focus {
  outline: none;
}
h2 {
  font-size: 17px;
  margin: 0 0 8px;
}
</style>
