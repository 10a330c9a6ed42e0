<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'

import type { Trial } from '@/api/queries'
import { useStationGround } from '@/shell/useGround'

import AskForm from './AskForm.vue'
import CopyTrial from './CopyTrial.vue'
import { draftOf, isWhole, type AskBase } from './draft'
import { isKept, useKeptDraft } from '@/parts/useKeptDraft'

const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const router = useRouter()
const queries = useQueryClient()
/** The trials before and after this one. */
const series = computed(() => [
  ...(props.trial.follows ? [[`ask.series.${props.trial.follows.how}`, props.trial.follows] as const] : []),
  ...props.trial.followed_by.map((one) => [`ask.seriesLater.${one.how}`, one] as const),
])
/** A draft belongs to the units that it was typed in; in the other ones it would mean something else. */
const name = props.trial.length_unit === 'm' ? props.trial.id : `${props.trial.id}.us`
const inOtherUnits = isKept(name === props.trial.id ? `${name}.us` : props.trial.id)
const { draft, restored, sent, startOver } = useKeptDraft(name, () => draftOf(props.trial), isWhole)
/** Kept beside the draft, so that one that is taken up later still knows what it was started from. */
const started = useKeptDraft<AskBase>(
  `${name}.base`,
  () => ({ draft: draftOf(props.trial), etag: props.trial.etags.ask }),
  (kept) => kept.etag && isWhole(kept.draft),
)
if (!restored.value) started.startOver()
watch(draft, started.keep, { deep: true, once: true })
function again() {
  startOver()
  started.startOver()
}
useStationGround(() => ({ title: t('ground.by.treatment'), unit: '', faces: {} }))

async function kept() {
  sent()
  started.sent()
  await queries.invalidateQueries({ queryKey: ['trials'] })
  await queries.invalidateQueries({ queryKey: ['sites'] })
  await router.push({ name: 'plan', params: { trial: props.trial.id } })
}
</script>

<template>
  <h1>{{ t('ask.title') }}</h1>
  <p v-for="[key, one] in series" :key="one.id" class="quiet">
    {{ t(key) }}
    <router-link :to="{ name: 'ask', params: { trial: one.id } }">{{ one.name }}</router-link>
  </p>
  <p v-if="restored" class="quiet" role="status">
    {{ t('ask.restored') }}
    <button type="button" class="link-button" @click="again">{{ t('ask.startOver') }}</button>
  </p>
  <p v-if="inOtherUnits" class="quiet" role="status">{{ t('ask.inOtherUnits') }}</p>
  <AskForm
    v-model="draft"
    v-model:base="started.draft.value"
    :trial="trial.id"
    :workspace="trial.workspace"
    :may-plan="trial.may.includes('plan')"
    :act="t('ask.keep')"
    :earlier="trial.earlier"
    :contradictions="trial.contradictions"
    :rotation-year="trial.rotation_year"
    @kept="kept"
    @discard="again"
  />
  <CopyTrial v-if="trial.may.includes('plan')" :trial="trial" />
</template>
