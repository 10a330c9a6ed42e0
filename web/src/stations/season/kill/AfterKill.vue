<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { fieldLogApi, killsQuery, type Kill } from '@/api/fieldLog'
import type { Season, Trial } from '@/api/queries'
import ProblemNote from '@/parts/ProblemNote.vue'
import { day, figure } from '@/texts/format'

import LivingDialog from './LivingDialog.vue'

/** Kills that were done: what lived at each check, which checks are still to come, and where it needs a second pass. */
const props = defineProps<{ trial: Trial; season: Season }>()
const emit = defineEmits<{ second: [kill: Kill] }>()
const { t } = useI18n()
const queries = useQueryClient()
const { data: kills } = useQuery(computed(() => killsQuery(props.trial.id)))
const mayRecord = computed(() => props.trial.may.includes('record'))
const codeOf = (id: string) => props.trial.treatments.find((one) => one.id === id)?.code ?? ''
const open = ref(false)
const of = shallowRef<Kill | null>(null)
function look(kill: Kill) {
  of.value = kill
  open.value = true
}
const mayPlan = computed(() => props.trial.may.includes('plan'))
const limit = ref('')
watch(kills, (now) => (limit.value = now ? String(now.limit_percent) : ''), { immediate: true })
async function keepLimit() {
  problem.value = null
  try {
    await fieldLogApi.keepLimit(props.trial.id, limit.value)
  } catch (thrown) {
    problem.value = thrown as Error
  }
  await queries.invalidateQueries({ queryKey: ['trials'] })
}
const problem = shallowRef<Error | null>(null)
async function planChecks(kill: Kill) {
  problem.value = null
  try {
    await fieldLogApi.planChecks(props.trial.id, kill.operation)
  } catch (thrown) {
    problem.value = thrown as Error
  }
  await queries.invalidateQueries({ queryKey: ['trials'] })
}
</script>

<template>
  <section v-if="kills?.kills.length">
    <h2>{{ t('kill.after') }}</h2>
    <div v-for="kill in kills.kills" :key="kill.operation" class="kill">
      <strong>{{ kill.name }}, {{ day(kill.done) }}</strong>
      <table v-if="kill.checks.length" class="plain">
        <thead>
          <tr>
            <th scope="col">{{ t('kill.seenOn') }}</th>
            <th scope="col">{{ t('stages.treatment') }}</th>
            <th scope="col" class="right">{{ t('kill.living') }}</th>
            <th scope="col" class="right">{{ t('kill.tallest', { unit: kills.height_unit }) }}</th>
            <th scope="col" class="right">{{ t('kill.plotsSeen') }}</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="check in kill.checks" :key="check.day">
            <tr v-for="mean in check.means" :key="mean.treatment">
              <td>{{ day(check.day) }}</td>
              <td>{{ codeOf(mean.treatment) }}</td>
              <td class="right">{{ figure(mean.percent, 0) }} %</td>
              <td class="right">{{ figure(mean.tallest, 0) }}</td>
              <td class="right">{{ mean.plots }}</td>
            </tr>
          </template>
        </tbody>
      </table>
      <p v-if="kill.alive.length" class="alive">
        {{
          t('kill.alive', {
            list: kill.alive.map((one) => codeOf(one.treatment)).join(', '),
            limit: kills.limit_percent,
          })
        }}
      </p>
      <p v-if="kill.proposed.length" class="quiet">
        {{ t('kill.proposed', { list: kill.proposed.map((one) => day(one)).join(', ') }) }}
      </p>
      <div v-if="mayRecord" class="acts">
        <button type="button" class="pill" @click="look(kill)">{{ t('kill.enterLiving') }}</button>
        <button v-if="mayPlan && kill.proposed.length" type="button" class="pill" @click="planChecks(kill)">
          {{ t('kill.planChecks') }}
        </button>
        <button v-if="kill.alive.length" type="button" class="pill" @click="emit('second', kill)">
          {{ t('kill.second') }}
        </button>
      </div>
    </div>
    <form v-if="mayPlan" class="limit" @submit.prevent="keepLimit">
      <v-text-field v-model="limit" inputmode="decimal" :label="t('kill.limit')" hide-details />
      <button type="submit" class="pill" :disabled="limit === String(kills.limit_percent)">
        {{ t('kill.keepLimit') }}
      </button>
    </form>
    <ProblemNote v-if="problem" :problem="problem" />
    <LivingDialog
      v-if="of"
      v-model="open"
      :trial="trial"
      :kill="of"
      :today="kills.today"
      :unit="kills.height_unit"
    />
  </section>
</template>

<style scoped>
h2 {
  font-size: 17px;
  margin: 18px 0 4px;
}
.kill {
  border-top: 1px solid var(--rule);
  padding: 8px 0;
}
.kill table {
  width: auto;
}
.kill th,
.kill td {
  padding-right: 20px;
}
.kill td:first-child {
  white-space: nowrap;
}
p {
  margin: 4px 0;
}
.alive {
  color: var(--unsettled);
  font-weight: 650;
}
.limit {
  display: grid;
  grid-template-columns: minmax(200px, 300px) auto;
  gap: 12px;
  align-items: center;
  justify-content: start;
  margin: 10px 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  margin-top: 6px;
}
</style>
