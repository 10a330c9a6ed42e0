<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Assembled } from '@/api/queries'

/** Each column of values as written beside as read, so that a wrong reading is seen before anything is kept. */
const props = defineProps<{ columns: Assembled['read']; questions: Assembled['questions'] }>()
const { t } = useI18n()
const FIRST = 6
const whole = ref<Record<string, boolean>>({})
const open = computed(() => props.questions.filter((q) => !q.answer || q.answer === 'stop'))
function shown(column: string, cell: { line: number; value: number | null }) {
  if (cell.value !== null) return String(cell.value).replace('-', '−')
  const asked = open.value.some((q) => q.column === column && q.lines.includes(cell.line))
  return t(asked ? 'bring.notSettled' : 'bring.nothing')
}
</script>

<template>
  <div class="read">
    <table v-for="c in columns" :key="c.name" class="plain">
      <caption>
        {{
          c.name
        }}
      </caption>
      <thead>
        <tr>
          <th scope="col" class="right">{{ t('bring.line') }}</th>
          <th scope="col" class="right">{{ t('bring.written') }}</th>
          <th scope="col" class="right">{{ t('bring.readAs') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="cell in whole[c.name] ? c.cells : c.cells.slice(0, FIRST)" :key="cell.line">
          <td class="right quiet">{{ cell.line }}</td>
          <td class="right">{{ cell.text || '–' }}</td>
          <td class="right" :class="{ none: cell.value === null }">{{ shown(c.name, cell) }}</td>
        </tr>
      </tbody>
      <tfoot v-if="c.cells.length > FIRST">
        <tr>
          <td colspan="3">
            <button type="button" class="link-button" @click="whole[c.name] = !whole[c.name]">
              {{ whole[c.name] ? t('bring.showFewer') : t('bring.showAll', { n: c.cells.length }) }}
            </button>
            <span v-if="whole[c.name] && c.more" class="quiet small">{{
              t('bring.notShown', { n: c.more })
            }}</span>
          </td>
        </tr>
      </tfoot>
    </table>
  </div>
</template>

<style scoped>
.read {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 14px 28px;
  align-items: start;
}
.none {
  color: var(--unsettled);
  font-weight: 600;
}
</style>
