<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { acts, type OperationIn } from '@/api/queries'
import SheetDialog from '@/parts/SheetDialog.vue'

const props = defineProps<{ trial: string; id: string; was: OperationIn | null; today: string }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const queries = useQueryClient()
const KINDS = ['sow', 'kill', 'plant', 'till', 'fertilise', 'spray', 'mow', 'harvest', 'other'] as const
const kinds = computed(() => KINDS.map((value) => ({ value, title: t(`season.kind.${value}`) })))
const kind = ref<OperationIn['kind']>('sow')
const name = ref('')
const due = ref('')
const done = ref('')
const note = ref('')
const problem = ref<Error | null>(null)

watch(
  open,
  (now) => {
    if (!now) return
    kind.value = props.was?.kind ?? 'sow'
    name.value = props.was?.name ?? ''
    due.value = props.was?.due ?? ''
    done.value = props.was?.done ?? ''
    note.value = props.was?.note ?? ''
    problem.value = null
  },
  { immediate: true },
)

async function keep() {
  try {
    await acts.keepOperation(props.trial, props.id, {
      kind: kind.value,
      name: name.value.trim() || t(`season.kind.${kind.value}`),
      due: due.value || null,
      done: done.value || null,
      note: note.value,
    })
    await queries.invalidateQueries({ queryKey: ['trials'] })
    open.value = false
  } catch (thrown) {
    problem.value = thrown as Error
  }
}
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t(was ? 'season.change' : 'season.add')"
    :act="t('season.keep')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    @act="keep"
  >
    <v-select v-model="kind" :items="kinds" :label="t('season.what')" />
    <v-text-field
      v-model="name"
      :label="t('season.name')"
      :placeholder="t(`season.kind.${kind}`)"
      maxlength="120"
    />
    <div class="row">
      <v-text-field v-model="due" type="date" :label="t('season.due')" />
      <v-text-field v-model="done" type="date" :label="t('season.done')" :max="today" />
    </div>
    <v-text-field v-model="note" :label="t('season.note')" maxlength="500" />
  </SheetDialog>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
