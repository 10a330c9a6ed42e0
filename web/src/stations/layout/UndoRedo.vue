<script setup lang="ts">
import { useI18n } from 'vue-i18n'

defineProps<{ canUndo: boolean; canRedo: boolean }>()
defineEmits<{ undo: []; redo: [] }>()
const { t } = useI18n()
</script>

<template>
  <button type="button" class="pill" :disabled="!canUndo" @click="$emit('undo')">
    {{ t('layout.undo') }}
  </button>
  <button type="button" class="pill" :disabled="!canRedo" @click="$emit('redo')">
    {{ t('layout.redo') }}
  </button>
</template>
