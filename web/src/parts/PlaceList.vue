<script setup lang="ts">
import { ref, watch } from 'vue'

import { goTo, labelOf, type PlaceOnPage } from './places'

/** Each place with what is wrong there; one that is a field of the page takes one there. */
const props = defineProps<{ places: PlaceOnPage[] }>()
const labels = ref<string[]>([])
watch(
  () => props.places,
  (places) => (labels.value = places.map(({ where }) => labelOf(where))),
  { immediate: true, flush: 'post' },
)
</script>

<template>
  <ul class="places">
    <li v-for="(one, i) in places" :key="one.where + one.what">
      <button v-if="labels[i]" type="button" class="link-button" @click="goTo(one.where)">
        {{ labels[i] }}
      </button>
      <template v-else-if="one.where">{{ one.where }}</template><template v-if="one.where">: </template
      >{{ one.what }}
    </li>
  </ul>
</template>

<style scoped>
.places {
  margin: 6px 0 0;
  padding-left: 18px;
}
</style>
