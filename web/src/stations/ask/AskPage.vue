<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'

import type { Trial } from '@/api/queries'
import { useStationGround } from '@/shell/useGround'

import AskForm from './AskForm.vue'
import { draftOf } from './draft'

const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const router = useRouter()
const queries = useQueryClient()
const draft = ref(draftOf(props.trial))
useStationGround(() => ({ title: t('ground.by.treatment'), unit: '', faces: {} }))
// Another trial in the same frame starts from its own page; a refetch of this one leaves what is being typed alone.
watch(
  () => props.trial.id,
  () => (draft.value = draftOf(props.trial)),
)

async function kept() {
  await queries.invalidateQueries({ queryKey: ['trials'] })
  await queries.invalidateQueries({ queryKey: ['sites'] })
  await router.push({ name: 'plan', params: { trial: props.trial.id } })
}
</script>

<template>
  <h1>{{ t('ask.title') }}</h1>
  <AskForm
    v-model="draft"
    :trial="trial.id"
    :workspace="trial.workspace"
    :may-plan="trial.may.includes('plan')"
    :act="t('ask.keep')"
    @kept="kept"
  />
</template>
