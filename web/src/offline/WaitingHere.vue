<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { askedBack } from './drafts'
import type { OutboxItem } from './changes'
import type { Outbox } from './sending'

/** What this device has still to send, what the server refused, and that other people’s things wait here too. */
const props = defineProps<{ outbox: Outbox; person: string }>()
const { t } = useI18n()

/** What is about the same is one line. */
const waiting = computed(() => {
  const lines = new Map<string, { about: string; path: string; n: number }>()
  for (const { about = '', path = '', refused } of props.outbox.items) {
    if (refused) continue
    const line = lines.get(path) ?? { about, path, n: 0 }
    line.n += 1
    lines.set(path, line)
  }
  return [...lines.values()]
})
const refused = computed(() => props.outbox.items.filter((one) => one.refused))
const asked = ref(0)
watch(
  () => props.outbox.items.length,
  async () => {
    asked.value = await askedBack(props.person)
  },
  { immediate: true },
)
const drop = (item: OutboxItem) => void props.outbox.drop(item)
</script>

<template>
  <section
    v-if="waiting.length || refused.length || asked || outbox.others.value"
    class="waiting aside"
    :aria-label="t('outbox.title')"
  >
    <h2>{{ t('outbox.title') }}</h2>
    <p v-if="waiting.length" role="status">
      {{ t(outbox.offline.value ? 'outbox.offline' : 'outbox.going') }}
      <button type="button" class="link-button" @click="outbox.send()">{{ t('outbox.now') }}</button>
    </p>
    <ul>
      <li v-for="line in waiting" :key="line.path">
        <router-link :to="line.path || '/'">{{ line.about || t('outbox.earlier') }}</router-link>
        <span class="quiet">{{ t('outbox.changes', line.n) }}</span>
      </li>
      <li v-for="item in refused" :key="item.seq" class="refused">
        <router-link :to="item.path || '/'">{{ item.about || t('outbox.earlier') }}</router-link>
        <span>{{ t('outbox.refused') }} {{ item.refused }}</span>
        <button
          v-if="item.again || item.question"
          type="button"
          class="link-button"
          @click="outbox.sendAgain(item)"
        >
          {{ t(item.question ? 'outbox.confirm' : 'outbox.again') }}
        </button>
        <button type="button" class="link-button" @click="drop(item)">{{ t('outbox.discard') }}</button>
      </li>
    </ul>
    <p v-if="asked">{{ t('outbox.asked', asked) }}</p>
    <p v-if="outbox.others.value" class="quiet">{{ t('outbox.others', outbox.others.value) }}</p>
  </section>
</template>

<style scoped>
.link-button {
  display: block;
}
li .link-button {
  display: inline;
}
.waiting {
  margin-bottom: 18px;
}
h2 {
  margin: 0 0 4px;
}
p {
  margin: 4px 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
  padding: 4px 0;
}
.refused span {
  color: var(--loss);
}
</style>
