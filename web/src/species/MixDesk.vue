<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import { sessionQuery, speciesQueries, type Guide } from '@/api/queries'
import { faultsIn } from '@/parts/faults'
import ProblemNote from '@/parts/ProblemNote.vue'
import { figure, plain } from '@/texts/format'

import { mixOf, type MixDraft, type SownCover } from './wish'

/** The mix that is being made: what each part has of it, what they do to each other, and ladders of treatments. */
const props = defineProps<{ guide: Guide; workspace: string; weights: Record<string, number> }>()
const emit = defineEmits<{ use: [covers: SownCover[]] }>()
const draft = defineModel<MixDraft>({ required: true })
const { t } = useI18n()
const { data: session } = useQuery(sessionQuery)
const WAYS = ['of_full', 'mass', 'seeds'] as const
const STAGES = ['cn_young', 'cn_flower', 'cn_mature'] as const
const LADDERS = ['replacement', 'additive'] as const

const asked = computed(() => mixOf(draft.value, props.weights))
const { data: mix, error } = useQuery(
  computed(() => ({
    ...speciesQueries.mix(props.workspace, asked.value),
    enabled: draft.value.parts.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  })),
)
const faults = computed(() => faultsIn(error.value))
const names = computed(() => new Map(props.guide.species.map((one) => [one.key, one.name])))
const nameOf = (key: string) => names.value.get(key) ?? key
const worked = (key: string) =>
  error.value ? undefined : mix.value?.components.find((component) => component.key === key)
function remove(index: number) {
  draft.value.parts.splice(index, 1)
}
type Rates = { key: string; rate: number }[]
const words = (rates: Rates) =>
  rates
    .filter((one) => one.rate > 0)
    .map((one) =>
      t('mix.rates', {
        rate: figure(one.rate, one.rate < 10 ? 1 : 0),
        unit: mix.value!.rate_unit,
        name: nameOf(one.key),
      }),
    )
    .join(' + ')
const parts = computed(() => mix.value?.components.filter((one) => one.rate > 0) ?? [])
const coverOf = (rates: Rates): SownCover => ({
  name: words(rates),
  parts: rates
    .filter((one) => one.rate > 0)
    .map((one) => ({
      species: one.key,
      name: nameOf(one.key),
      rate: `${plain(Number(one.rate.toPrecision(3)))} ${mix.value!.rate_unit}`,
    })),
})
/** The mix, and each of its parts alone at its full rate: what a mix has to be compared with. */
const asTreatments = computed(() => [
  coverOf(parts.value),
  ...parts.value.filter((one) => one.full).map((one) => coverOf([{ key: one.key, rate: one.full! }])),
])
const percent = (value: number | null) => (value === null ? '–' : `${figure(value, 0)} %`)
</script>

<template>
  <section aria-labelledby="mix">
    <h2 id="mix">{{ t('mix.title') }}</h2>
    <p v-if="!draft.parts.length" class="quiet">{{ t('mix.none') }}</p>
    <template v-else>
      <div class="how">
        <v-select
          v-model="draft.way"
          :items="WAYS.map((value) => ({ value, title: t(`mix.ways.${value}`) }))"
          :label="t('mix.way')"
        />
        <v-text-field
          v-if="draft.way !== 'of_full'"
          v-model="draft.total"
          inputmode="decimal"
          :label="t('mix.total', { unit: session?.rate_unit })"
          :error-messages="faults.total ?? []"
        />
        <v-select
          v-model="draft.stage"
          :items="STAGES.map((value) => ({ value, title: t(`mix.stages.${value}`) }))"
          :label="t('mix.stage')"
        />
        <label class="check"
          ><input v-model="draft.broadcast" type="checkbox" />{{ t('mix.broadcast') }}</label
        >
      </div>
      <ul class="parts">
        <li v-for="(part, i) in draft.parts" :key="part.key" :aria-label="nameOf(part.key)">
          <div class="typed">
            <strong>{{ nameOf(part.key) }}</strong>
            <v-text-field
              v-model="part.share"
              inputmode="decimal"
              :label="t('mix.column.share')"
              :error-messages="faults[`parts.${i}.share`] ?? []"
              :aria-label="t('mix.share', { name: nameOf(part.key) })"
            />
            <v-text-field
              v-model="part.full"
              inputmode="decimal"
              :placeholder="worked(part.key)?.full ? figure(worked(part.key)!.full, 1) : ''"
              persistent-placeholder
              :label="t('mix.column.full', { unit: session?.rate_unit })"
              :error-messages="faults[`parts.${i}.full`] ?? []"
              :aria-label="t('mix.full', { name: nameOf(part.key), unit: session?.rate_unit })"
            />
            <v-text-field
              v-model="part.tkw"
              inputmode="decimal"
              :placeholder="worked(part.key)?.tkw ? figure(worked(part.key)!.tkw, 1) : ''"
              persistent-placeholder
              :label="t('mix.column.tkw')"
              :error-messages="faults[`parts.${i}.tkw`] ?? []"
              :aria-label="t('mix.tkw', { name: nameOf(part.key) })"
            />
            <button
              type="button"
              class="link-button"
              :aria-label="t('mix.remove', { name: nameOf(part.key) })"
              @click="remove(i)"
            >
              ×
            </button>
          </div>
          <p v-if="worked(part.key)" class="small">
            <b>{{ figure(worked(part.key)!.rate, 1) }} {{ mix!.rate_unit }}</b> ·
            {{ percent(worked(part.key)!.of_full) }} {{ t('mix.column.of_full').toLowerCase() }} ·
            {{ percent(worked(part.key)!.of_mass) }} {{ t('mix.column.of_mass').toLowerCase() }} ·
            {{ percent(worked(part.key)!.of_seeds) }} {{ t('mix.column.of_seeds').toLowerCase() }} ·
            {{ figure(worked(part.key)!.seeds, 0) }}
            {{ mix!.seeds_unit }}
            <template v-if="draft.parts.length > 1 && worked(part.key)!.brings.length">
              · {{ t('mix.column.brings').toLowerCase() }}
              {{ worked(part.key)!.brings.join(', ').toLowerCase() }}</template
            >
          </p>
        </li>
      </ul>
      <ProblemNote v-if="error" :problem="error" />
      <div v-else-if="mix" class="words">
        <p>
          <b>{{ t('mix.sum', { total: figure(mix.total, 1), unit: mix.rate_unit }) }}</b><template
            v-if="mix.sum_of_full !== null"
            >; {{ t('mix.sumFull', { n: figure(mix.sum_of_full, 0) }) }}</template
          >.
        </p>
        <p v-if="mix.separation" class="warned">{{ mix.separation }}</p>
        <p v-for="note in mix.notes" :key="note">{{ note }}</p>
        <p>
          {{
            mix.carbon_nitrogen === null
              ? t('mix.cnUnknown')
              : t('mix.cn', { n: figure(mix.carbon_nitrogen, 0) })
          }}
          <span class="quiet small">{{ mix.carbon_nitrogen_note }}</span>
        </p>
        <p v-if="mix.enough.length && mix.enough.length < draft.parts.length">
          {{ t('mix.enough', { names: mix.enough.map(nameOf).join(', ') }, mix.enough.length === 1 ? 2 : 1) }}
        </p>
        <button v-if="parts.length > 1" type="button" class="pill" @click="emit('use', asTreatments)">
          {{ t('mix.useMix') }}
        </button>
        <details v-if="mix.replacement.length">
          <summary>{{ t('mix.ladders') }}</summary>
          <p class="quiet small">{{ t('mix.ladderLead') }}</p>
          <div v-for="kind in LADDERS" :key="kind" class="ladder">
            <h3>{{ t(`mix.${kind}`) }}</h3>
            <ol>
              <li v-for="step in mix[kind]" :key="step.name">{{ words(step.rates) }}</li>
            </ol>
            <button
              type="button"
              class="pill"
              @click="
                emit(
                  'use',
                  mix[kind].map((step) => coverOf(step.rates)),
                )
              "
            >
              {{ t('mix.use') }}
            </button>
          </div>
        </details>
      </div>
      <p class="quiet small">{{ t('species.seedNote') }}</p>
    </template>
  </section>
</template>

<style scoped>
section {
  border: 1px solid var(--rule);
  border-top: 5px solid var(--band);
  border-radius: 0 0 8px 8px;
  background: var(--ground);
  padding: 12px 14px;
}
.how {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(130px, 1fr));
  gap: 10px;
  align-items: center;
}
.check {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 40px;
}
.check input {
  width: 18px;
  height: 18px;
  accent-color: var(--accent);
}
.parts {
  list-style: none;
  padding: 0;
  margin: 10px 0;
}
.parts li {
  border-top: 1px solid var(--rule);
  padding: 8px 0;
}
.typed {
  display: grid;
  grid-template-columns: 84px minmax(0, 1.4fr) minmax(0, 1fr) 34px;
  gap: 8px;
  align-items: center;
}
.typed strong {
  grid-column: 1 / -1;
}
.warned {
  border-left: 4px solid var(--margin);
  padding-left: 10px;
}
.ladder ol {
  padding-left: 20px;
  margin: 4px 0 8px;
}
@media (max-width: 720px) {
  .check {
    min-height: 48px;
  }
  .typed {
    grid-template-columns: 84px minmax(0, 1.4fr) minmax(0, 1fr) 48px;
  }
}
</style>
