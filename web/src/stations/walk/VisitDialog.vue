<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, type Season, type Trial, type Visit } from '@/api/queries'
import SheetDialog from '@/parts/SheetDialog.vue'
import { useKeep } from '@/parts/useKeep'
import { useMeanwhile } from '@/parts/useMeanwhile'
import { day } from '@/texts/format'

const props = defineProps<{
  id: string
  trial: Trial
  was: Season['visits'][number] | null
  free: Trial['measures']
}>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const name = ref('')
const due = ref('')
const measures = ref<string[]>([])
const { theirs, opened, save } = useMeanwhile((current) => current as Visit)

const offered = computed(() => {
  const own = props.trial.measures.filter((m) => props.was?.measures.includes(m.id))
  return [...own, ...props.free]
})
watch(
  open,
  (now) => {
    if (!now) return
    opened(props.was)
    name.value = props.was?.name ?? ''
    due.value = props.was?.due ?? ''
    measures.value = props.was ? [...props.was.measures] : props.free.slice(0, 1).map((m) => m.id)
  },
  { immediate: true },
)

const { problem, keep } = useKeep(open, () => {
  const taken = offered.value.filter((m) => measures.value.includes(m.id))
  return save((etag) =>
    api.planVisit(
      props.trial.id,
      props.id,
      {
        name: name.value.trim() || taken[0]?.name || t('walk.visit'),
        due: due.value || null,
        measures: taken.map((m) => m.id),
      },
      etag,
    ),
  )
})
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t(was ? 'walk.changeVisit' : 'walk.planVisit')"
    :act="t('walk.keepVisit')"
    :cancel="t('margin.cancel')"
    :problem="problem"
    @act="keep"
  >
    <v-text-field
      v-model="name"
      :label="t('walk.visitName')"
      :placeholder="offered[0]?.name"
      maxlength="120"
    />
    <v-text-field v-model="due" type="date" :label="t('season.due')" />
    <fieldset>
      <legend>{{ t('walk.whatIsTaken') }}</legend>
      <p v-if="!offered.length" class="quiet">{{ t('walk.noneFree') }}</p>
      <v-checkbox
        v-for="m in offered"
        :key="m.id"
        v-model="measures"
        :value="m.id"
        :label="`${m.name}, ${m.unit}`"
      />
    </fieldset>
    <p v-if="theirs" role="status">
      {{
        t('walk.theirs', {
          name: theirs.name,
          due: theirs.due ? day(theirs.due) : '–',
          measures: theirs.measures.map((m) => m.name).join(', ') || '–',
        })
      }}
    </p>
  </SheetDialog>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
legend {
  font-weight: 650;
}
</style>
