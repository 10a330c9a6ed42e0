<script setup lang="ts">
import { ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { acts, type Visit } from '@/api/queries'
import { newId } from '@/parts/newId'
import SheetDialog from '@/parts/SheetDialog.vue'

const props = defineProps<{ visit: string; unit: string; plot: string }>()
const emit = defineEmits<{ left: [note: Visit['notes'][number]] }>()
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
async function keep() {
  try {
    emit('left', await acts.leaveNote(props.visit, id, props.unit, text.value))
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
    @act="keep"
  >
    <v-textarea v-model="text" :label="t('walk.noteLabel')" rows="3" maxlength="1000" />
  </SheetDialog>
</template>
