<script setup lang="ts">
import { ref } from 'vue'

import MissingEntries from './MissingEntries.vue'
import type { PlaceOnPage } from './places'
import ProblemNote from './ProblemNote.vue'

/** A small form in front of the page: a title, fields, what is missing or wrong, one act and the way back. */
defineProps<{ title: string; act: string; cancel: string; problem: Error | null; missing?: PlaceOnPage[] }>()
defineEmits<{ act: [] }>()
const open = defineModel<boolean>({ required: true })
const form = ref<HTMLFormElement>()
/** The first thing to type has the caret, so that a key that opens the dialog can be followed by words. */
function start() {
  form.value?.querySelector<HTMLElement>('input[type=text], textarea')?.focus()
}
</script>

<template>
  <v-dialog v-model="open" max-width="520" :aria-label="title" @after-enter="start">
    <form ref="form" class="sheet" @submit.prevent="$emit('act')">
      <h2>{{ title }}</h2>
      <slot />
      <MissingEntries v-if="missing" :places="missing" />
      <ProblemNote v-if="problem" :problem="problem" />
      <div class="acts">
        <v-btn type="submit" color="accent">{{ act }}</v-btn>
        <button type="button" class="link-button" @click="open = false">{{ cancel }}</button>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.sheet {
  background: var(--paper);
  color: var(--ink);
  border-radius: 12px;
  padding: 20px;
  overflow-y: auto; /* a long form scrolls inside the dialog */
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.acts {
  display: flex;
  gap: 16px;
  align-items: center;
  /* What sends a long form stays in view. */
  position: sticky;
  z-index: 1;
  bottom: -20px;
  margin: 0 -20px -20px;
  padding: 10px 20px 20px;
  background: var(--paper);
}
@media (max-width: 720px) {
  .sheet {
    max-height: calc(100dvh - 224px); /* above the index of the stations */
  }
}
</style>
