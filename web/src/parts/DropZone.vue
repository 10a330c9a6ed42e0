<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'

/** `lead`, `limits`, `accept`: of other files than tables of a trial. */
defineProps<{ lead?: string; limits?: string; accept?: string }>()
const emit = defineEmits<{ file: [file: File] }>()
const { t } = useI18n()
const over = ref(false)
const input = ref<HTMLInputElement>()

function dropped(event: DragEvent) {
  over.value = false
  const file = event.dataTransfer?.files[0]
  if (file) emit('file', file)
}
function picked() {
  const file = input.value?.files?.[0]
  if (file) emit('file', file)
  if (input.value) input.value.value = ''
}
</script>

<template>
  <label
    class="zone"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="dropped"
  >
    <strong>{{ lead ?? t('bring.drop') }}</strong>
    <span>{{ t('bring.choose') }}</span>
    <span class="quiet small">{{ limits ?? t('bring.limits') }}</span>
    <input
      ref="input"
      class="seen-by-readers-only"
      type="file"
      :accept="accept ?? '.csv,.txt,.tsv,.zip,text/csv,application/zip'"
      @change="picked"
    />
  </label>
</template>

<style scoped>
.zone {
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 4px;
  padding: 34px 20px;
  border: 2px dashed var(--field);
  border-radius: 12px;
  background: var(--ground);
  cursor: pointer;
  position: relative;
}
.zone strong {
  font-size: 17px;
}
.over {
  border-color: var(--accent);
}
.zone:focus-within {
  outline: 3px solid var(--link);
  outline-offset: 2px;
}
</style>
