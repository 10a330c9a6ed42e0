<script setup lang="ts">
import { ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Visit } from '@/api/queries'
import type { Outbox } from '@/offline/sending'
import { newId } from '@/parts/newId'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useRequired } from '@/parts/useRequired'

/** `about`: what the outbox calls the visit, and where it is shown. */
const props = defineProps<{
  visit: string
  unit: string
  plot: string
  me: string
  outbox: Outbox
  about: { said: string; path: string }
}>()
type Note = Visit['notes'][number]
const emit = defineEmits<{ left: [note: Note] }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const text = ref('')
const problem = ref<Error | null>(null)
let id = ''

watch(open, (now) => {
  if (!now) return
  id = newId()
  text.value = ''
  problem.value = null
})
const { missing, missingAt, complete } = useRequired(
  () => (text.value.trim() ? [] : [{ where: 'note', what: t('missing.note') }]),
  open,
)
async function keep() {
  if (!complete()) return
  const { visit, unit, about } = props
  try {
    const change = { kind: 'note' as const, visit, id, unit, text: text.value }
    const kept = (await props.outbox.perform(change, about.said, about.path)) as Note | null
    emit('left', kept ?? { id, unit, text: text.value, by: props.me, at: new Date().toISOString() })
    open.value = false
  } catch (error) {
    problem.value = error as Error
  }
}
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t('walk.noteOf', { p: plot })"
    :act="t('walk.keepNote')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    :missing="missing"
    @act="keep"
  >
    <v-textarea
      v-model="text"
      data-where="note"
      :label="t('missing.required', { label: t('walk.noteLabel') })"
      :error-messages="missingAt('note')"
      aria-required="true"
      rows="3"
      maxlength="1000"
    />
  </SheetDialog>
</template>
