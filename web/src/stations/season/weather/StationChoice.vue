<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { weatherApi, type StationIn, type Weather } from '@/api/weather'
import { faultsIn } from '@/parts/faults'
import JobProgress from '@/parts/JobProgress.vue'
import { newId } from '@/parts/newId'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useJob } from '@/parts/useJob'
import { moment } from '@/texts/format'

/** Where the site's weather comes from: a service's station, or one that people fill. */
const props = defineProps<{ trial: Trial; weather: Weather; mayRecord: boolean }>()
const { t } = useI18n()
const queries = useQueryClient()
const { job, lost, follow, stop } = useJob()
const problem = shallowRef<Error | null>(null)
const faults = computed(() => faultsIn(problem.value))
const changing = ref(false)
const name = ref('')
const service = ref({ name: '', url: '' })
const station = computed(() => props.weather.station)

const refresh = () => queries.invalidateQueries({ queryKey: ['trials'] })
async function act(what: () => Promise<unknown>) {
  problem.value = null
  try {
    await what()
  } catch (thrown) {
    problem.value = thrown as Error
  }
  await refresh()
}
const choose = (chosen: Partial<StationIn>) =>
  act(async () => {
    const body = { service: null, key: '', id: null, name: '', ...chosen }
    await weatherApi.chooseStation(props.trial.id, body)
    changing.value = false
    await refresh()
    if (body.service) await follow((await weatherApi.fetch(props.trial.id)).id)
  })
const fetchNow = () => act(async () => follow((await weatherApi.fetch(props.trial.id)).id))
const ask = (id: string) => act(async () => follow((await weatherApi.askStations(props.trial.id, id)).id))
const register = () =>
  act(async () => {
    const id = newId()
    await weatherApi.register(props.trial.id, id, service.value)
    service.value = { name: '', url: '' }
    await follow((await weatherApi.askStations(props.trial.id, id)).id)
  })
</script>

<template>
  <section class="from">
    <template v-if="station">
      <p>
        <strong>{{ station.name }}</strong><template v-if="station.distance"
          >, {{ t('weather.away', { km: station.distance }) }}</template
        >.
        {{
          station.service
            ? t('weather.ofService', {
                service: station.service,
                when: station.answered_at ? moment(station.answered_at) : t('weather.never'),
              })
            : t('weather.byPeople')
        }}
      </p>
      <p v-if="station.trouble" class="trouble" role="status">
        {{ station.trouble }}
        {{ t('weather.keeps', { when: station.tried_at ? moment(station.tried_at) : '–' }) }}
      </p>
      <div v-if="mayRecord" class="acts">
        <button v-if="station.service" type="button" class="pill" :disabled="!!job" @click="fetchNow">
          {{ t('weather.fetch') }}
        </button>
        <button type="button" class="link-button" :aria-expanded="changing" @click="changing = !changing">
          {{ t('weather.changeStation') }}
        </button>
      </div>
    </template>
    <p v-else>{{ t('weather.none') }}</p>
    <JobProgress v-if="job" :job="job" :lost="lost" @stop="stop" />
    <ProblemNote v-if="problem" :problem="problem" />
    <div v-if="mayRecord && (changing || !station)" class="choices">
      <template v-for="one in weather.services" :key="one.id">
        <h2>{{ t('weather.stationsOf', { name: one.name }) }}</h2>
        <p v-if="one.trouble" class="trouble">{{ one.trouble }}</p>
        <ul>
          <li v-for="found in one.stations" :key="found.key">
            {{ found.name
            }}<template v-if="found.distance">, {{ t('weather.away', { km: found.distance }) }}</template>
            <button
              type="button"
              class="pill"
              :aria-label="`${t('weather.use')}: ${found.name}`"
              @click="choose({ service: one.id, key: found.key })"
            >
              {{ t('weather.use') }}
            </button>
          </li>
        </ul>
        <div class="acts">
          <button type="button" class="link-button" :disabled="!!job" @click="ask(one.id)">
            {{ t('weather.askStations') }}
          </button>
          <button
            v-if="weather.may_register"
            type="button"
            class="link-button"
            @click="act(() => weatherApi.forget(trial.id, one.id))"
          >
            {{ t('weather.forget', { name: one.name }) }}
          </button>
        </div>
      </template>
      <template v-if="weather.stations.length">
        <h2>{{ t('weather.others') }}</h2>
        <ul>
          <li v-for="one in weather.stations" :key="one.id">
            {{ one.name }}
            <button
              type="button"
              class="pill"
              :aria-label="`${t('weather.use')}: ${one.name}`"
              @click="choose({ id: one.id })"
            >
              {{ t('weather.use') }}
            </button>
          </li>
        </ul>
      </template>
      <h2>{{ t('weather.own') }}</h2>
      <form class="row" @submit.prevent="choose({ id: newId(), name })">
        <v-text-field
          v-model="name"
          :label="t('weather.ownName')"
          :error-messages="faults.name && !service.url ? faults.name : ''"
          maxlength="120"
        />
        <button type="submit" class="pill">{{ t('weather.addOwn') }}</button>
      </form>
      <template v-if="weather.may_register">
        <h2>{{ t('weather.register') }}</h2>
        <p class="quiet small">{{ t('weather.registerLead') }}</p>
        <form class="row two" @submit.prevent="register">
          <v-text-field v-model="service.name" :label="t('weather.serviceName')" maxlength="120" />
          <v-text-field
            v-model="service.url"
            :label="t('weather.serviceUrl')"
            maxlength="300"
            :error-messages="faults.url ?? ''"
          />
          <button type="submit" class="pill">{{ t('weather.addService') }}</button>
        </form>
      </template>
    </div>
  </section>
</template>

<style scoped>
.from {
  margin: 0 0 22px;
}
p {
  margin: 0 0 8px;
}
h2 {
  font-size: 16px;
  margin: 16px 0 4px;
}
.trouble {
  color: var(--unsettled);
  font-weight: 650;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  align-items: center;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 14px;
  align-items: center;
  padding: 4px 0;
}
.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 12px;
  align-items: center;
  max-width: 720px;
}
.two {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.4fr) auto;
}
@media (max-width: 720px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
