<script setup lang="ts">
import { useI18n } from 'vue-i18n'

/** The three buttons of every map: nearer, further, all of it. */
defineEmits<{ zoom: [factor: number]; fit: [] }>()
const { t } = useI18n()
</script>

<template>
  <div class="tools">
    <button type="button" :aria-label="t('ground.zoomIn')" @click="$emit('zoom', 1.25)">+</button>
    <button type="button" :aria-label="t('ground.zoomOut')" @click="$emit('zoom', 0.8)">−</button>
    <button type="button" :aria-label="t('ground.fit')" @click="$emit('fit')">⤢</button>
  </div>
</template>

<style scoped>
.tools {
  position: absolute;
  bottom: 12px;
  display: flex;
  gap: 4px;
}
button {
  width: 32px;
  height: 32px;
  border-radius: 8px;
  border: 1px solid var(--field);
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  font-size: 16px;
}
@media (max-width: 720px) {
  .tools {
    top: 8px;
    bottom: auto;
    flex-direction: column;
  }
  button {
    width: 48px;
    height: 48px;
  }
}
</style>
