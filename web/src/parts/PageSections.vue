<script setup lang="ts">
import { useI18n } from 'vue-i18n'

/** What a section of a long page needs: nothing more, something still to be entered, or somebody's attention. */
export type SectionState = 'done' | 'todo' | 'check'
export interface SectionLink {
  id: string
  title: string
  state?: SectionState
}

/** The sections of a long page, in view wherever one is on it. */
defineProps<{ sections: SectionLink[] }>()
const { t } = useI18n()
const SIGN: Record<SectionState, string> = { done: '✓', todo: '○', check: '!' }

function go(id: string) {
  const section = document.getElementById(id)
  section?.scrollIntoView({ block: 'start' })
  section?.focus({ preventScroll: true })
}
</script>

<template>
  <nav class="sections" :aria-label="t('sections.label')">
    <a
      v-for="one in sections"
      :key="one.id"
      :href="`#${one.id}`"
      :class="one.state"
      @click.prevent="go(one.id)"
    >
      <span v-if="one.state" class="sign" aria-hidden="true">{{ SIGN[one.state] }}</span>
      {{ one.title }}
      <small v-if="one.state" :class="{ 'seen-by-readers-only': sections.length > 5 }">{{
        t(`sections.${one.state}`)
      }}</small>
    </a>
  </nav>
</template>

<style scoped>
.sections {
  position: sticky;
  z-index: 4;
  top: var(--above, 78px);
  display: flex;
  gap: 6px;
  margin: 0 0 14px;
  padding: 8px 0;
  background: var(--paper);
  border-bottom: 1px solid var(--rule);
  overflow-x: auto;
}
a {
  display: flex;
  flex: none;
  gap: 7px;
  align-items: baseline;
  padding: 6px 12px 6px 10px;
  border-radius: 6px;
  background: var(--ground);
  color: var(--ink);
  font-weight: 600;
  text-decoration: none;
}
a:hover {
  text-decoration: underline;
}
small {
  font-size: 12px;
  font-weight: 400;
  color: var(--quiet);
}
.sign {
  font-weight: 700;
  color: var(--quiet);
}
.done .sign {
  color: var(--gain);
}
.check {
  box-shadow: inset 0 -3px 0 var(--unsettled);
}
.check .sign,
.check small {
  color: var(--unsettled);
}
@media (max-width: 720px) {
  .sections {
    position: static; /* the shell leaves room for no more */
    margin-inline: -14px;
    padding-inline: 14px;
  }
  a {
    min-height: 48px;
    align-items: center;
  }
}
</style>
