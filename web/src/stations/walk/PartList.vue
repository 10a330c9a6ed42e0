<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SheetMeasure } from '@/api/queries'
import SheetDialog from '@/parts/SheetDialog.vue'

/** Adds a species or grade to the list of a measure: a common one, or by its name. */
const props = defineProps<{ measure: SheetMeasure; mayRecord: boolean }>()
const emit = defineEmits<{ add: [name: string, group: string] }>()
const { t } = useI18n()
const open = ref(false)
const typed = ref<string | null>(null)
const KINDS = ['species', 'grade', 'layer', 'depth', 'cut'] as const
const kind = computed(() => KINDS.find((one) => one === props.measure.part_kind) ?? 'species')
const common = computed(() => {
  const listed = new Set(props.measure.parts.map((part) => part.name))
  return props.measure.common_parts
    .filter((part) => !listed.has(part.name))
    .map((part) => ({ value: part.name, title: part.name, props: { subtitle: part.group } }))
})
function ask() {
  typed.value = null
  open.value = true
}
function add() {
  const name = (typed.value ?? '').trim().replace(/\s+/g, ' ')
  if (!name) return
  const known = props.measure.common_parts.find((part) => part.name.toLowerCase() === name.toLowerCase())
  emit('add', known?.name ?? name, known?.group ?? '')
  open.value = false
}
</script>

<template>
  <div v-if="mayRecord" class="list">
    <span v-if="!measure.parts.length">{{ t(`walk.tally.empty.${kind}`, { m: measure.name }) }}</span>
    <button type="button" class="pill" @click="ask">{{ t(`walk.tally.add.${kind}`) }}</button>
    <SheetDialog
      v-model="open"
      :title="`${measure.name}: ${t(`walk.tally.add.${kind}`)}`"
      :act="t(`walk.tally.add.${kind}`)"
      :cancel="t('margin.cancel')"
      :problem="null"
      @act="add"
    >
      <v-combobox
        v-model="typed"
        :items="common"
        :return-object="false"
        :label="t(`walk.tally.name.${kind}`)"
        maxlength="80"
        autofocus
      />
      <p class="quiet small">{{ t(`walk.tally.lead.${kind}`) }}</p>
    </SheetDialog>
  </div>
</template>

<style scoped>
.list {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
</style>
