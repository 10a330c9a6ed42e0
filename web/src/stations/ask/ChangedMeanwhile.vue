<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { Collision, Merged } from './merging'

/** What another person saved while this page was open: what was taken over, and where both typed something. */
defineProps<{ merged: Merged }>()
const emit = defineEmits<{ taken: [collision: Collision] }>()
const { t, te } = useI18n()

const word = (key: string) => (te(`ask.changed.field.${key}`) ? t(`ask.changed.field.${key}`) : key)
const path = (where: string[]) => where.filter(Boolean).map(word).join(': ')
function said(value: unknown): string {
  if (value === undefined) return t('ask.changed.gone')
  if (value === '' || value === null) return t('ask.changed.empty')
  if (typeof value === 'boolean') return t(value ? 'ask.changed.yes' : 'ask.changed.no')
  if (Array.isArray(value)) return value.map(said).join(', ') || t('ask.changed.empty')
  if (typeof value === 'object') {
    const row = value as Record<string, unknown>
    return String(row.name ?? '') || Object.values(row).map(said).join(', ')
  }
  return String(value)
}
</script>

<template>
  <section class="changed aside" role="alert" :aria-label="t('ask.changed.title')">
    <p>
      <strong>{{ t('ask.changed.title') }}</strong>
    </p>
    <p v-if="merged.taken.length">
      {{ t('ask.changed.taken', { names: merged.taken.map(path).join('; ') }) }}
    </p>
    <template v-if="merged.collisions.length">
      <p>{{ t('ask.changed.both') }}</p>
      <ul>
        <li v-for="one in merged.collisions" :key="one.where.join()">
          <strong>{{ path(one.where) }}</strong>. {{ t('ask.changed.mine', { v: said(one.mine) }) }}
          {{ t('ask.changed.theirs', { v: said(one.theirs) }) }}
          <button type="button" class="link-button" @click="emit('taken', one)">
            {{ t('ask.changed.take') }}
          </button>
        </li>
      </ul>
    </template>
    <p>{{ t('ask.changed.again') }}</p>
  </section>
</template>

<style scoped>
.changed {
  margin: 12px 0;
  max-width: 760px;
}
p,
ul {
  margin: 0 0 8px;
}
li {
  margin: 0 0 6px;
}
</style>
