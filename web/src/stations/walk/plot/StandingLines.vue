<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { computed, ref, toRef } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial, Visit } from '@/api/queries'
import { keepThreshold } from '@/api/sow'
import ProblemNote from '@/parts/ProblemNote.vue'
import { plain } from '@/texts/format'

import type { Sheet } from '@/stations/walk/useSheet'
import { useStanding, type StandingLine } from '@/stations/walk/useStanding'

/** What the counts of the plot come to so far; thresholds for action are set here. */
const props = defineProps<{
  trial: Trial
  visit: Visit
  unit: string
  sheet: Sheet
  blind: boolean
  mayRecord: boolean
}>()
const { t } = useI18n()
const { lines, refetch } = useStanding(
  () => props.trial,
  () => props.visit,
  toRef(props, 'unit'),
  props.sheet,
  () => props.blind,
)
const setting = ref('')
const typed = ref('')
function begin(one: StandingLine) {
  setting.value = one.measure
  typed.value = one.threshold === null ? '' : plain(Number(one.threshold.toPrecision(4)))
}
const { mutate: keep, error } = useMutation({
  mutationFn: () => keepThreshold(setting.value, typed.value),
  onSuccess: () => {
    setting.value = ''
    void refetch()
  },
})
const several = computed(() => lines.value.length > 1)
</script>

<template>
  <ul v-if="lines.length" class="standing">
    <li v-for="one in lines" :key="one.measure">
      <strong v-if="several && one.said.length">{{ one.name }}: </strong>
      <div role="status">
        <p v-for="said in one.said" :key="said">{{ said }}</p>
      </div>
      <span v-if="one.hidden" class="quiet">{{ t('walk.threshold.hidden') }}</span>
      <form v-if="setting === one.measure" @submit.prevent="keep()">
        <label>
          {{ t('walk.threshold.label', { m: one.name, unit: one.unit }) }}
          <input v-model="typed" inputmode="decimal" autocomplete="off" maxlength="40" />
        </label>
        <button type="submit" class="pill">{{ t('walk.threshold.save') }}</button>
        <ProblemNote v-if="error" :problem="error" />
      </form>
      <button v-else-if="mayRecord" type="button" class="link-button small" @click="begin(one)">
        {{
          one.threshold === null
            ? t('walk.threshold.set', { m: one.name })
            : t('walk.threshold.change', { m: one.name })
        }}
      </button>
    </li>
  </ul>
</template>

<style scoped>
.standing {
  list-style: none;
  margin: 10px 0 8px;
  padding: 0;
}
li,
p {
  margin: 0 0 4px;
}
form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
input {
  width: 96px;
  min-height: 44px;
  margin-left: 6px;
  padding: 4px 8px;
  border: 1px solid var(--field);
  border-radius: 6px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
}
</style>
