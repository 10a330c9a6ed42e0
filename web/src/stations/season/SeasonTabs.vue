<script setup lang="ts">
import { onMounted, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'

/** The pages of the season; the first is what is due and done. */
const { t } = useI18n()
const PAGES = ['season', 'kill', 'stages', 'weather', 'log'] as const
const tabs = useTemplateRef<HTMLElement>('tabs')

/** On a phone the row is wider than the screen: the page that is open is brought into view. */
onMounted(() => {
  const open = tabs.value?.querySelector<HTMLElement>('.router-link-exact-active')
  if (tabs.value && open)
    tabs.value.scrollLeft = open.offsetLeft - (tabs.value.clientWidth - open.offsetWidth) / 2
})
</script>

<template>
  <nav ref="tabs" class="tabs" :aria-label="t('season.pages.label')">
    <router-link v-for="name in PAGES" :key="name" :to="{ name }" class="pill">{{
      t(`season.pages.${name}`)
    }}</router-link>
  </nav>
</template>

<style scoped>
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 0 0 12px;
}
.pill {
  display: inline-flex;
  align-items: center;
  min-height: 34px;
  text-decoration: none;
}
.router-link-exact-active {
  background: var(--ink);
  color: var(--paper);
}
@media (max-width: 720px) {
  .tabs {
    flex-wrap: nowrap;
    overflow-x: auto;
    margin: 0 -14px 10px;
    padding: 0 14px 4px;
  }
  .pill {
    flex: none;
    min-height: 48px;
  }
}
</style>
