<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { keysOfThisScreen, type Keys } from './useKeys'

/** The keys of the screen one is on, at `?`. In a figure's field a question mark can't be meant, so it works there too. */
const { t } = useI18n()
const open = ref(false)
const keys = computed<Keys>(() => [...keysOfThisScreen(), ['?', t('keys.list')], ['Esc', t('keys.close')]])

function pressed(event: KeyboardEvent) {
  // Also while the list is still opening, when the dialog doesn't listen yet.
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
  <button type="button" class="opener" :aria-label="t('keys.title')" @click="open = true">?</button>
  <v-dialog v-model="open" max-width="460" :aria-label="t('keys.title')">
    <div class="sheet">
      <h2>{{ t('keys.title') }}</h2>
      <dl>
        <template v-for="[key, does] in keys" :key="key + does">
          <dt>
            <kbd>{{ key }}</kbd>
          </dt>
          <dd>{{ does }}</dd>
        </template>
      </dl>
      <button type="button" class="pill" @click="open = false">{{ t('keys.done') }}</button>
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
.sheet {
  background: var(--paper);
  color: var(--ink);
  border-radius: 12px;
  padding: 20px;
}
dl {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: 8px 14px;
  margin: 10px 0 16px;
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
@media (max-width: 720px) {
  .opener {
    display: none;
  }
}
</style>
