<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Photograph } from '@/api/fieldLog'
import { moment } from '@/texts/format'

/** Small pictures in a row; one that is tapped fills the screen, with when it was taken and by whom. */
const props = defineProps<{ photographs: Photograph[]; mayRemove: boolean; about: string }>()
const emit = defineEmits<{ remove: [id: string] }>()
const { t } = useI18n()
const seen = ref<string | null>(null)
const at = computed(() => props.photographs.findIndex((one) => one.id === seen.value))
const open = computed({ get: () => at.value >= 0, set: () => (seen.value = null) })
const one = computed(() => props.photographs[at.value])

function said(photograph: Photograph): string {
  return photograph.taken
    ? t('photographs.taken', { when: moment(photograph.taken), by: photograph.by })
    : t('photographs.by', { by: photograph.by })
}
function step(by: number) {
  const next = props.photographs[at.value + by]
  if (next) seen.value = next.id
}
function remove(id: string) {
  seen.value = null
  emit('remove', id)
}
</script>

<template>
  <ul v-if="photographs.length" class="row">
    <li v-for="(photograph, i) in photographs" :key="photograph.id">
      <button
        type="button"
        :aria-label="t('photographs.open', { i: i + 1, about })"
        @click="seen = photograph.id"
      >
        <img :src="`/api/v1/photographs/${photograph.id}/preview`" alt="" loading="lazy" />
      </button>
    </li>
  </ul>
  <v-dialog v-model="open" max-width="1100" :aria-label="about">
    <div
      v-if="one"
      class="view"
      tabindex="-1"
      @keydown.left.prevent="step(-1)"
      @keydown.right.prevent="step(1)"
    >
      <img :src="`/api/v1/photographs/${one.id}`" :alt="about" :width="one.width" :height="one.height" />
      <p>
        {{ about }} <span class="quiet">{{ said(one) }}</span>
      </p>
      <div class="acts">
        <button v-if="at > 0" type="button" class="pill" @click="step(-1)">
          {{ t('photographs.previous') }}
        </button>
        <button v-if="at < photographs.length - 1" type="button" class="pill" @click="step(1)">
          {{ t('photographs.next') }}
        </button>
        <button type="button" class="pill" @click="open = false">{{ t('photographs.close') }}</button>
        <button v-if="mayRemove" type="button" class="link-button" @click="remove(one.id)">
          {{ t('photographs.remove') }}
        </button>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.row {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 8px 0 2px;
  padding: 0;
}
.row button {
  display: block;
  padding: 0;
  border: 0;
  cursor: pointer;
  border-radius: 8px;
  overflow: hidden;
}
.row img {
  display: block;
  width: 120px;
  height: 90px;
  object-fit: cover;
  background: var(--rule);
}
.view {
  background: var(--paper);
  color: var(--ink);
  border-radius: 12px;
  padding: 14px;
}
.view img {
  display: block;
  max-width: 100%;
  max-height: 70vh;
  width: auto;
  height: auto;
  margin: 0 auto;
  border-radius: 8px;
  background: var(--rule);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
}
</style>
