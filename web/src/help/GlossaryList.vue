<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { glossaryQuery } from '@/api/queries'

/** Statistical and agronomic terms in plain words, found by any word of theirs. */
const { t } = useI18n()
const { data: terms, error } = useQuery(glossaryQuery)
const wanted = ref('')
const found = computed(() => {
  const words = wanted.value.toLowerCase().trim()
  return (terms.value ?? []).filter((one) => `${one.name} ${one.meaning}`.toLowerCase().includes(words))
})
</script>

<template>
  <details>
    <summary>{{ t('help.glossary') }}</summary>
    <p v-if="error" class="quiet">{{ t('help.noGlossary') }}</p>
    <template v-else>
      <v-text-field v-model="wanted" :label="t('help.find')" clearable />
      <p v-if="terms && !found.length" class="quiet">{{ t('help.noTerm') }}</p>
      <dl>
        <template v-for="one in found" :key="one.name">
          <dt>{{ one.name }}</dt>
          <dd>{{ one.meaning }}</dd>
        </template>
      </dl>
    </template>
  </details>
</template>

<style scoped>
details {
  margin-top: 14px;
}
summary {
  font-weight: 700;
}
.v-text-field {
  max-width: 320px;
  margin: 6px 0;
}
dl {
  display: grid;
  grid-template-columns: minmax(120px, 190px) minmax(0, 1fr);
  gap: 6px 16px;
  margin: 8px 0;
}
dt {
  font-weight: 650;
}
dd {
  margin: 0;
}
</style>
