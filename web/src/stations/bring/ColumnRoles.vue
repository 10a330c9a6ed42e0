<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Accept, Upload } from '@/api/queries'

type Roles = Accept['roles']
const props = defineProps<{ columns: Upload['columns'] }>()
const roles = defineModel<Roles>({ required: true })
const { t } = useI18n()
const ROLES = ['block', 'treatment', 'plot', 'sample', 'value', 'measure', 'unit', 'date', 'ignore'] as const
const items = computed(() => ROLES.map((value) => ({ value, title: t(`bring.roles.${value}`) })))
const ONLY_ONE = new Set<string>(['block', 'plot', 'sample', 'measure', 'unit', 'date'])

/** A role that only one column can have moves to the column that it was given last. */
function give(column: string, role: Roles[string]) {
  const next: Roles = { ...roles.value, [column]: role }
  if (ONLY_ONE.has(role))
    for (const other of props.columns)
      if (other.name !== column && next[other.name] === role) next[other.name] = 'ignore'
  roles.value = next
}
</script>

<template>
  <ul class="columns">
    <li v-for="c in columns" :key="c.name" :class="roles[c.name]">
      <span class="name"
        ><strong>{{ c.name }}</strong>
        <span class="quiet small"
          >{{ c.examples.join(' · ') }} – {{ t('bring.distinct', { n: c.distinct })
          }}<template v-if="c.empty">, {{ t('bring.empty', { n: c.empty }) }}</template></span
        >
      </span>
      <v-select
        :model-value="roles[c.name]"
        :items="items"
        :label="t('bring.role', { c: c.name })"
        @update:model-value="give(c.name, $event)"
      />
    </li>
  </ul>
</template>

<style scoped>
.columns {
  list-style: none;
  padding: 0;
  margin: 10px 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: 12px;
}
li {
  border: 1px solid var(--rule);
  border-top: 5px solid var(--band);
  border-radius: 0 0 10px 10px;
  padding: 8px 12px 12px;
  background: var(--ground);
}
li.ignore {
  border-top-color: var(--rule);
  background: var(--paper);
}
li.value {
  border-top-color: var(--accent);
}
.name {
  display: flex;
  flex-direction: column;
  min-height: 62px;
  overflow-wrap: anywhere;
}
</style>
