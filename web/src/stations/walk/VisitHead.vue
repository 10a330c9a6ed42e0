<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Visit } from '@/api/queries'
import type { Outbox } from '@/offline/sending'
import { useSmallScreen } from '@/parts/useSmallScreen'

import type { Sheet } from './useSheet'

/** What visit this is, how far it is, and whether everything that was entered is safe. */
const props = defineProps<{
  visit: Visit
  sheet: Sheet
  outbox: Outbox
  me: string
  /** Changes of this visit that the server didn’t take, or that couldn’t be sent. */
  refused: number
}>()
const emit = defineEmits<{ jump: []; conflict: [] }>()
/** Whether somebody has asked for the treatments at a blind visit. */
const revealed = defineModel<boolean>('revealed', { required: true })
const { t } = useI18n()
const small = useSmallScreen()
const blind = computed(() => props.visit.blind && !revealed.value)
const asked = computed(
  () => props.sheet.byStatus.value.question.length + props.sheet.byStatus.value.refused.length,
)
/** What is typed or tallied and not gone on from is on this device alone. */
const typing = computed(() => props.sheet.byStatus.value.draft.length > 0)
const saved = computed(() => {
  if (props.sheet.offline.value) return t('walk.offline', props.sheet.waiting.value)
  if (props.sheet.waiting.value) return t('walk.waiting', props.sheet.waiting.value)
  if (asked.value) return t('walk.notSaved', asked.value)
  if (props.refused) return t('walk.refused', props.refused)
  return typing.value ? t('walk.typing') : t('frame.saved')
})
const mine = computed(() => props.visit.observers.find((one) => one.name === props.me))
const allotted = computed(() =>
  props.visit.observers.map((one) => t('walk.plan.has', { name: one.name, blocks: blocksSaid(one.blocks) })),
)
const blocksSaid = (blocks: string[]) => blocks.join(', ') || '–'
</script>

<template>
  <header>
    <p class="back">
      <router-link :to="{ name: 'walk' }">← {{ t('walk.all') }}</router-link>
    </p>
    <h1>{{ visit.name }}</h1>
    <p class="sum">
      <span>{{ t('walk.progress', { d: visit.progress.done, n: visit.progress.of }) }}</span>
      <span
        class="saved"
        :class="{ waiting: sheet.waiting.value || asked || refused || typing }"
        role="status"
        >{{ saved }}</span
      >
      <button v-if="visit.order.length" type="button" class="pill" @click="emit('jump')">
        {{ t('walk.jump') }} <kbd v-if="!small">g</kbd>
      </button>
      <slot />
      <button v-if="visit.conflicts.length" type="button" class="pill alarm" @click="emit('conflict')">
        {{ t('walk.conflicts', visit.conflicts.length) }}
      </button>
    </p>
  </header>
  <p v-if="visit.observers.length" class="small">
    <strong v-if="mine">{{ t('walk.plan.yours', { blocks: blocksSaid(mine.blocks) }) }}</strong>
    {{ allotted.join('; ') }}. <span class="quiet">{{ visit.why_so }}</span>
  </p>
  <p v-if="outbox.full.value" role="alert">{{ t('walk.full') }}</p>
  <p v-if="outbox.clockOff.value" role="alert">{{ outbox.clockOff.value }}</p>
  <p v-if="visit.blind" class="small">
    {{ t(blind ? 'walk.blind.lead' : 'walk.blind.shown') }}
    <button type="button" class="link-button" @click="revealed = !revealed">
      {{ t(blind ? 'walk.blind.show' : 'walk.blind.hide') }}
    </button>
  </p>
</template>

<style scoped>
.back {
  margin: 0;
}
.sum {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: center;
}
.saved {
  color: var(--gain);
  font-weight: 650;
}
.saved.waiting {
  color: var(--unsettled);
}
.alarm {
  border-color: var(--accent);
  color: var(--accent);
}
kbd {
  margin-left: 6px;
  padding: 0 6px;
  border: 1px solid var(--rule);
  border-radius: 4px;
  font: inherit;
  font-size: 12px;
  color: var(--quiet);
}
@media (max-width: 720px) {
  .back,
  h1 {
    display: inline-block;
    margin-right: 12px;
  }
  .back a {
    display: inline-block;
    padding: 15px 0;
  }
}
</style>
