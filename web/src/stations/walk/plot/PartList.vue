<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SheetMeasure, Trial } from '@/api/queries'
import { keepUnknown } from '@/offline/keepUnknown'
import PhotographChoice from '@/parts/PhotographChoice.vue'
import SheetDialog from '@/parts/SheetDialog.vue'

/** Adds a species or grade to the list of a measure: a common one, or by its name. */
const props = defineProps<{ measure: SheetMeasure; trial: Trial; unit: string; mayRecord: boolean }>()
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
const files = ref<File[]>([])
const problem = ref<Error | null>(null)
const UNKNOWN = /^unknown (\d+)$/i
/** The next name for what one can’t name yet. */
function unknown() {
  const used = props.measure.parts.map((part) => Number(UNKNOWN.exec(part.name)?.[1] ?? 0))
  typed.value = t('walk.tally.unknown', { n: Math.max(0, ...used) + 1 })
}
function ask() {
  typed.value = null
  files.value = []
  problem.value = null
  open.value = true
}
async function add() {
  const name = (typed.value ?? '').trim().replace(/\s+/g, ' ')
  if (!name) return
  if (files.value.length) {
    const said = t('walk.tally.seenHere', { name, m: props.measure.name })
    try {
      await keepUnknown(props.trial, props.unit, name, said, files.value)
    } catch (thrown) {
      problem.value = thrown as Error
      return
    }
  }
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
      :problem="problem"
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
      <template v-if="kind === 'species'">
        <p>
          <button type="button" class="pill" @click="unknown">{{ t('walk.tally.addUnknown') }}</button>
        </p>
        <PhotographChoice v-model="files" />
      </template>
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
