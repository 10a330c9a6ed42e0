<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { Sheet } from '@/stations/walk/useSheet'

/** What else is done at a plot than to enter and go on. */
defineProps<{ sheet: Sheet; mayGoBack: boolean }>()
const emit = defineEmits<{ back: []; missing: []; note: []; undo: []; redo: [] }>()
const { t } = useI18n()
</script>

<template>
  <div class="acts">
    <button type="button" class="pill" :disabled="!mayGoBack" @click="emit('back')">
      ← {{ t('walk.back') }}
    </button>
    <button type="button" class="pill" @click="emit('missing')">{{ t('walk.missingShort') }}</button>
    <button type="button" class="pill" @click="emit('note')">{{ t('walk.note') }}</button>
    <div class="pair">
      <button type="button" class="pill" :disabled="!sheet.mayUndo.value" @click="emit('undo')">
        {{ t('walk.undo') }}
      </button>
      <button type="button" class="pill" :disabled="!sheet.undone.value.length" @click="emit('redo')">
        {{ t('walk.redo') }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.acts,
.pair {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.pair {
  flex: 1 0 100%;
}
.pill {
  flex: 1 0 auto;
  padding: 4px 10px;
}
</style>
