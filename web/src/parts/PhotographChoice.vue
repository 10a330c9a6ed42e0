<script setup lang="ts">
import { onBeforeUnmount, ref } from 'vue'
import { useI18n } from 'vue-i18n'

/** Photographs that are taken now or chosen from the device, with a look at each before they are saved. */
const files = defineModel<File[]>({ required: true })
const { t } = useI18n()
const input = ref<HTMLInputElement>()
const unread = ref('')
const shown = new Map<File, string>()

function address(file: File): string {
  if (!shown.has(file)) shown.set(file, URL.createObjectURL(file))
  return shown.get(file)!
}
onBeforeUnmount(() => shown.forEach((url) => URL.revokeObjectURL(url)))

function picked() {
  unread.value = ''
  files.value = [...files.value, ...(input.value?.files ?? [])]
  if (input.value) input.value.value = ''
}
/** What the browser can’t show isn’t sent: it would be refused later, maybe far from the plot. */
function failed(file: File) {
  unread.value = t('photographs.unread', { name: file.name })
  remove(file)
}
function remove(file: File) {
  files.value = files.value.filter((one) => one !== file)
}
</script>

<template>
  <div class="photographs">
    <label class="pill">
      {{ t('photographs.add') }}
      <input
        ref="input"
        class="seen-by-readers-only"
        type="file"
        accept="image/jpeg,image/png,image/webp"
        multiple
        @change="picked"
      />
    </label>
    <ul v-if="files.length">
      <li v-for="file in files" :key="address(file)">
        <img :src="address(file)" :alt="file.name" @error="failed(file)" />
        <button type="button" class="link-button" @click="remove(file)">
          {{ t('photographs.leaveOut') }}
        </button>
      </li>
    </ul>
    <p v-if="unread" class="wrong" role="alert">{{ unread }}</p>
    <p class="quiet small">{{ t('photographs.said') }}</p>
  </div>
</template>

<style scoped>
.pill {
  position: relative;
  display: inline-flex;
  align-items: center;
  cursor: pointer;
}
.pill:focus-within {
  outline: 3px solid var(--link);
  outline-offset: 2px;
}
ul {
  list-style: none;
  margin: 10px 0 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
li {
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 4px;
}
img {
  width: 96px;
  height: 72px;
  object-fit: cover;
  border-radius: 8px;
}
p {
  margin: 8px 0 0;
}
.wrong {
  color: var(--loss);
}
</style>
