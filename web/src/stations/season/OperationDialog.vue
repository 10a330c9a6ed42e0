<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { OperationIn, Season, Trial } from '@/api/queries'
import { keepOperation } from '@/offline/keepOperation'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'
import { useMeanwhile } from '@/parts/useMeanwhile'
import { day } from '@/texts/format'

const props = defineProps<{
  trial: Trial
  id: string
  was: (OperationIn & { etag?: string }) | null
  today: string
}>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const KINDS = [
  'sow',
  'kill',
  'plant',
  'till',
  'fertilise',
  'spray',
  'mow',
  'graze',
  'irrigate',
  'harvest',
  'other',
] as const
const kinds = computed(() => KINDS.map((value) => ({ value, title: t(`season.kind.${value}`) })))
const kind = ref<OperationIn['kind']>('sow')
const name = ref('')
const due = ref('')
const done = ref('')
const note = ref('')

const { theirs, opened, save } = useMeanwhile((current) =>
  (current as Season).operations.find((one) => one.id === props.id),
)
watch(
  open,
  (now) => {
    if (!now) return
    opened(props.was)
    kind.value = props.was?.kind ?? 'sow'
    name.value = props.was?.name ?? ''
    due.value = props.was?.due ?? ''
    done.value = props.was?.done ?? ''
    note.value = props.was?.note ?? ''
  },
  { immediate: true },
)

const { problem, keep } = useKeep(open, () =>
  save((etag) =>
    keepOperation(
      props.trial,
      props.id,
      {
        kind: kind.value,
        name: name.value.trim() || t(`season.kind.${kind.value}`),
        due: due.value || null,
        done: done.value || null,
        note: note.value,
      },
      etag,
    ),
  ),
)
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
    <p v-if="theirs" role="status">
      {{
        t('season.theirs', {
          kind: t(`season.kind.${theirs.kind}`),
          name: theirs.name,
          due: theirs.due ? day(theirs.due) : '–',
          done: theirs.done ? day(theirs.done) : '–',
          note: theirs.note || '–',
        })
      }}
    </p>
  </SheetDialog>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
