<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'

import { api, queryClient, sessionQuery } from '@/api/queries'
import { closeOutbox, outboxFor, useOutbox } from '@/offline/useOutbox'
import SheetDialog from '@/parts/SheetDialog.vue'
import { forgetDrafts } from '@/parts/useKeptDraft'

import KeyList from './KeyList.vue'
import ModeChoice from './ModeChoice.vue'
import UnitsChoice from './UnitsChoice.vue'

defineProps<{ name?: string; question?: string }>()
const { t } = useI18n()
const router = useRouter()
const { data: session } = useQuery(sessionQuery)

const outbox = useOutbox()
watch(session, (now) => now && outboxFor(now), { immediate: true })
const asking = ref(false)
const waiting = computed(() => outbox.value?.items.length ?? 0)
/** What waits goes first; what can’t go is said before it is left behind. */
async function leave() {
  await outbox.value?.send()
  if (waiting.value) asking.value = true
  else await out()
}
async function out() {
  await api.signOut()
  closeOutbox()
  queryClient.clear()
  forgetDrafts()
  await router.push({ name: 'sign-in' })
}
</script>

<template>
  <header class="band" :class="{ trial: name }">
    <router-link class="mark" :to="{ name: 'today' }" :aria-label="t('app.toToday')">{{
      t('app.name')
    }}</router-link>
    <template v-if="name">
      <span class="slash" aria-hidden="true">/</span>
      <span class="title">{{ name }}</span>
      <span class="question">{{ question }}</span>
    </template>
    <span class="gap" />
    <ModeChoice />
    <UnitsChoice v-if="session" :session="session" />
    <KeyList />
    <span v-if="session" class="person">{{ session.name }}</span>
    <button v-if="session" type="button" class="out" @click="leave">{{ t('signIn.out') }}</button>
    <SheetDialog
      v-model="asking"
      :title="t('outbox.leaving', waiting)"
      :act="t('signIn.out')"
      :cancel="t('outbox.stay')"
      :problem="null"
      @act="out"
    >
      <p>{{ t('outbox.leavingLead') }}</p>
    </SheetDialog>
  </header>
</template>

<style scoped>
.band {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
  padding: 4px 16px;
  background: var(--band);
  color: var(--on-band);
}
.mark {
  color: var(--on-band);
  font-weight: 800;
  font-size: 17px;
  text-decoration: none;
  padding: 6px 0;
}
.slash,
.question {
  color: var(--band-quiet);
}
.title {
  font-weight: 700;
  white-space: nowrap;
}
.question {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  min-width: 0;
}
.gap {
  flex: 1;
}
.band > :deep(.modes),
.band > :deep(.units),
.band > :deep(.opener) {
  flex: none;
}
.person {
  white-space: nowrap;
}
.out {
  border: 0;
  background: none;
  color: var(--band-quiet);
  font: inherit;
  text-decoration: underline;
  min-height: 28px;
  white-space: nowrap;
}
@media (max-width: 720px) {
  .band {
    flex-wrap: wrap;
    gap: 2px 10px;
  }
  .question,
  .slash,
  .person {
    display: none;
  }
  .title {
    order: 5;
    width: 100%;
    padding-bottom: 4px;
  }
  /* In a trial the screen belongs to the work; units and signing out are a step away, on Today. */
  .band.trial > .out,
  .band.trial > :deep(.units) {
    display: none;
  }
  .mark,
  .out {
    min-height: 48px;
    display: flex;
    align-items: center;
  }
}
</style>
