<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'

import GlossaryList from './GlossaryList.vue'
import { keysOfThisScreen, type Keys } from './useKeys'
import VerdictPictures from './VerdictPictures.vue'

/**
 * The help of the page one is on, at `?`: what it is for, what one does there, the verdicts, its keys and a glossary. In
 * a value's field a question mark can't be meant, so it works there too.
 */
const { t, te } = useI18n()
const route = useRoute()
const open = ref(false)
const keys = computed<Keys>(() => [...keysOfThisScreen(), ['?', t('keys.list')], ['Esc', t('keys.close')]])
const page = computed(() => {
  const name = String(route.name ?? '')
  return te(`help.page.${name}.name`) ? name : 'nowhere'
})
const said = (what: 'name' | 'for' | 'first' | 'second' | 'third') => t(`help.page.${page.value}.${what}`)

function pressed(event: KeyboardEvent) {
  // Also while the dialog is still opening, when it doesn't listen yet.
  if (event.key === 'Escape') open.value = false
  if (event.key !== '?' || event.ctrlKey || event.metaKey) return
  const target = event.target as HTMLElement
  const writes = target.matches('input:not([data-step]):not([type=radio]):not([type=checkbox]), textarea')
  if (writes) return
  event.preventDefault()
  open.value = !open.value
}
onMounted(() => addEventListener('keydown', pressed))
onBeforeUnmount(() => removeEventListener('keydown', pressed))
</script>

<template>
  <button type="button" class="opener" :aria-label="t('help.open')" @click="open = true">
    <span aria-hidden="true">?</span><span class="word">{{ t('help.open') }}</span>
  </button>
  <v-dialog v-model="open" max-width="720" scrollable :aria-label="t('help.title', { page: said('name') })">
    <div class="sheet" tabindex="0">
      <div class="head">
        <h2>{{ t('help.title', { page: said('name') }) }}</h2>
        <button type="button" class="pill" @click="open = false">{{ t('help.close') }}</button>
      </div>
      <p>{{ said('for') }}</p>
      <h3>{{ t('help.three') }}</h3>
      <ol>
        <li>{{ said('first') }}</li>
        <li>{{ said('second') }}</li>
        <li>{{ said('third') }}</li>
      </ol>
      <h3>{{ t('help.verdicts') }}</h3>
      <VerdictPictures />
      <h3>{{ t('help.keys') }}</h3>
      <dl class="keys">
        <template v-for="[key, does] in keys" :key="key + does">
          <dt>
            <kbd>{{ key }}</kbd>
          </dt>
          <dd>{{ does }}</dd>
        </template>
      </dl>
      <GlossaryList v-if="open" />
    </div>
  </v-dialog>
</template>

<style scoped>
.opener {
  width: 32px;
  height: 32px;
  border: 1px solid var(--band-quiet);
  border-radius: 999px;
  background: transparent;
  color: var(--on-band);
  font: inherit;
  font-weight: 700;
}
.word {
  display: none;
}
.sheet {
  background: var(--paper);
  color: var(--ink);
  border-radius: 12px;
  padding: 20px 24px;
  overflow-y: auto;
}
h3 {
  margin: 18px 0 6px;
}
ol {
  margin: 0;
  padding-left: 22px;
}
li {
  margin: 0 0 4px;
}
.keys {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: 8px 14px;
  margin: 6px 0 0;
}
dd {
  margin: 0;
}
kbd {
  padding: 2px 8px;
  border: 1px solid var(--field);
  border-radius: 6px;
  font: inherit;
  font-weight: 650;
}
.head {
  position: sticky;
  top: -20px;
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 16px;
  padding: 6px 0;
  background: var(--paper);
}
@media (max-width: 720px) {
  .opener {
    width: auto;
    height: 48px;
    padding: 0 16px;
  }
  .opener > :first-child {
    display: none;
  }
  .word {
    display: inline;
  }
}
</style>
