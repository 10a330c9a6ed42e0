<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { onBeforeUnmount, onMounted, ref, watch, watchEffect } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'

import { api, queryClient, sessionQuery } from '@/api/queries'
import { closeOutbox, outboxFor, useOutbox } from '@/offline/useOutbox'
import SheetDialog from '@/parts/SheetDialog.vue'
import { forgetDrafts } from '@/parts/useKeptDraft'

import HelpDialog from '@/help/HelpDialog.vue'
import ModeChoice from './ModeChoice.vue'
import UnitsChoice from './UnitsChoice.vue'

/** On a phone everything but the way home and the trial's name is in one menu. */
defineProps<{ name?: string; question?: string }>()
const { t } = useI18n()
const router = useRouter()
const { data: session } = useQuery(sessionQuery)

const open = ref(false)
function closeOutside(event: Event) {
  if (!(event.target as Element).closest('.tools')) open.value = false
}
function closeByKey(event: KeyboardEvent) {
  if (event.key === 'Escape') open.value = false
}
onMounted(() => {
  document.addEventListener('click', closeOutside)
  document.addEventListener('keydown', closeByKey)
})
onBeforeUnmount(() => {
  document.removeEventListener('click', closeOutside)
  document.removeEventListener('keydown', closeByKey)
})

const outbox = useOutbox()
watch(session, (now) => now && outboxFor(now), { immediate: true })
const asking = ref(false)
const waiting = () => outbox.value?.items.length ?? 0
/** Said while it is asked only, so that the band isn’t drawn anew at each entry. */
const leaving = ref('')
watchEffect(() => {
  if (asking.value) leaving.value = t('outbox.leaving', waiting())
})
/** What waits goes first; what can’t go is said before it is left behind. */
async function leave() {
  await outbox.value?.send()
  if (waiting()) asking.value = true
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
    <button type="button" class="menu" :aria-expanded="open" aria-controls="tools" @click.stop="open = !open">
      {{ t('frame.menu') }}
    </button>
    <div id="tools" class="tools" :class="{ open }">
      <ModeChoice />
      <UnitsChoice v-if="session" :session="session" />
      <HelpDialog />
      <span v-if="session" class="person">{{ session.name }}</span>
      <button v-if="session" type="button" class="out" @click="leave">{{ t('signIn.out') }}</button>
    </div>
    <SheetDialog
      v-model="asking"
      :title="leaving"
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
  position: sticky;
  z-index: 6;
  top: 0;
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
  padding: 4px 16px;
  background: var(--band);
  color: var(--on-band);
}
.tools {
  display: flex;
  align-items: center;
  gap: 10px;
  flex: none;
}
.menu {
  display: none;
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
    height: 48px;
    padding: 0 6px 0 14px;
    gap: 8px;
  }
  .question {
    display: none;
  }
  .title {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .mark {
    display: flex;
    align-items: center;
    min-height: 48px;
  }
  .menu {
    display: block;
    flex: none;
    min-width: 56px;
    min-height: 48px;
    border: 0;
    background: none;
    color: var(--on-band);
    font: inherit;
    font-weight: 700;
  }
  .tools {
    display: none;
    position: absolute;
    top: 48px;
    right: 0;
    left: 0;
    flex-wrap: wrap;
    gap: 8px 14px;
    padding: 10px 14px;
    background: var(--band);
    border-top: 1px solid var(--band-quiet);
  }
  .tools.open {
    display: flex;
  }
  .out {
    min-height: 48px;
  }
}
</style>
