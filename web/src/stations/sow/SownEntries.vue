<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { sowApi, sowQuery, type Sow, type SowingKept } from '@/api/sow'
import { newId } from '@/parts/newId'
import ProblemNote from '@/parts/ProblemNote.vue'
import { day, signed, threeDigits } from '@/texts/format'

import SownDialog from './SownDialog.vue'

/** What was really sown, beside what was intended. */
const props = defineProps<{ trial: Trial; sow: Sow; mayRecord: boolean }>()
const { t } = useI18n()
const queries = useQueryClient()
const open = ref(false)
const editing = ref<{ id: string; was: SowingKept | null }>({ id: '', was: null })
const codes = computed(() => new Map(props.sow.treatments.map((one) => [one.id, one.code])))
const sown = computed(() => new Set(props.sow.sowings.flatMap((one) => one.plots)))
const left = computed(() => props.sow.stops.map((stop) => stop.plot).filter((plot) => !sown.value.has(plot)))
function enter(was: SowingKept | null) {
  editing.value = { id: was?.id ?? newId(), was }
  open.value = true
}
const { mutate: remove, error: problem } = useMutation({
  mutationFn: async (id: string) => {
    queries.setQueryData(sowQuery(props.trial.id).queryKey, await sowApi.forgetSowing(props.trial.id, id))
    await queries.invalidateQueries({ queryKey: ['trials'] })
  },
})
</script>

<template>
  <p class="quiet small">{{ t('sow.sownLead') }}</p>
  <p v-if="!sow.sowings.length">{{ t('sow.nothingSown') }}</p>
  <ul v-else class="sowings">
    <li v-for="one in sow.sowings" :key="one.id">
      <p>
        <strong>{{ day(one.day) }}</strong>, {{ one.plots.join(', ') }}
      </p>
      <table v-if="one.delivered.length" class="plain">
        <thead>
          <tr>
            <th>{{ t('sow.treatment') }}</th>
            <th class="right">{{ t('sow.intended') }} ({{ sow.units.rate }})</th>
            <th class="right">{{ t('sow.delivered') }} ({{ sow.units.rate }})</th>
            <th class="right">{{ t('sow.off') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in one.delivered" :key="line.treatment">
            <td>{{ codes.get(line.treatment) }}</td>
            <td class="right">{{ line.intended === null ? '–' : threeDigits(line.intended) }}</td>
            <td class="right">{{ line.delivered === null ? '–' : threeDigits(line.delivered) }}</td>
            <td class="right" :class="{ far: line.far }">
              {{ line.off_percent === null ? '–' : `${signed(line.off_percent, 0)} %` }}
              <small v-if="line.far">{{ t('sow.far') }}</small>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-else class="quiet small">{{ t(`sow.known.${one.known_by}`) }}</p>
      <p class="quiet small">
        {{
          [
            one.depth === null ? '' : `${t('sow.depth')} ${threeDigits(one.depth)} ${sow.units.spacing}`,
            one.moisture,
            one.machine,
            one.operator,
            one.note,
            one.by,
          ]
            .filter(Boolean)
            .join(' · ')
        }}
      </p>
      <p v-if="mayRecord">
        <button type="button" class="link-button" @click="enter(one)">{{ t('sow.changeSown') }}</button>
        {{ ' ' }}
        <button type="button" class="link-button" @click="remove(one.id)">{{ t('sow.remove') }}</button>
      </p>
    </li>
  </ul>
  <ProblemNote v-if="problem" :problem="problem" />
  <v-btn v-if="mayRecord && left.length" color="accent" @click="enter(null)">{{ t('sow.addSown') }}</v-btn>
  <SownDialog
    v-model="open"
    :trial="trial"
    :sow="sow"
    :id="editing.id"
    :was="editing.was"
    :left="editing.was ? editing.was.plots : left"
  />
</template>

<style scoped>
.sowings {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--rule);
  padding: 8px 0;
}
p {
  margin: 4px 0;
}
.far {
  color: var(--loss);
  font-weight: 700;
}
.far small {
  display: block;
}
</style>
