<script setup lang="ts">
import { ref, watch } from 'vue'

/** A part of a form that is folded until it is wanted; what is folded isn’t there, for eyes, keys or readers. */
const props = defineProps<{ title: string; open?: boolean }>()
const shown = ref(props.open ?? false)
watch(
  () => props.open,
  (now) => {
    if (now) shown.value = true
  },
)
function toggled(event: Event) {
  shown.value = (event.target as HTMLDetailsElement).open
}
</script>

<template>
  <details :open="shown" @toggle="toggled">
    <summary>{{ title }}</summary>
    <slot v-if="shown" />
  </details>
</template>
