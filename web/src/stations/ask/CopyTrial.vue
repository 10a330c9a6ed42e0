<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'

import { api, trialQueries, type Trial } from '@/api/queries'
import MissingEntries from '@/parts/MissingEntries.vue'
import { newId } from '@/parts/newId'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useRequired } from '@/parts/useRequired'

import { emptyFactor, listed } from './draft'

/** The trial again for the year after: its question alone, with its layout, or on the same plots. */
const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const router = useRouter()
const queries = useQueryClient()
const LAYOUTS = ['none', 'copied', 'same-plots', 'crossed'] as const
const name = ref(t('ask.copy.again', { name: props.trial.name }).slice(0, 160))
const layout = ref<(typeof LAYOUTS)[number]>('none')
const factor = ref(emptyFactor())
const stays = computed(() => layout.value === 'same-plots' || layout.value === 'crossed')
const { data: left } = useQuery(
  computed(() => ({ ...trialQueries.left(props.trial.id), enabled: stays.value })),
)
const id = newId()

const {
  mutate: copy,
  isPending: busy,
  error: problem,
} = useMutation({
  mutationFn: async () => {
    const crossed = layout.value === 'crossed' ? (listed([factor.value])[0] ?? null) : null
    await api.copy(props.trial.id, { id, name: name.value, layout: layout.value, factor: crossed })
    await queries.invalidateQueries({ queryKey: ['trials'] })
    await router.push({ name: 'ask', params: { trial: id } })
  },
})
/** A crossing factor without a name or levels would be a plain copy on the same plots. */
const { missing, missingAt, complete } = useRequired(() =>
  [
    { where: 'copy.name', what: t('missing.name'), there: name.value.trim() },
    ...(layout.value === 'crossed'
      ? [
          { where: 'copy.factor', what: t('missing.name'), there: factor.value.name.trim() },
          { where: 'copy.levels', what: t('missing.levels'), there: factor.value.levels.trim() },
        ]
      : []),
  ].filter((one) => !one.there),
)
</script>

<template>
  <details class="copy">
    <summary>{{ t('ask.copy.title') }}</summary>
    <form :aria-label="t('ask.copy.title')" @submit.prevent="complete() && copy()">
      <v-text-field
        v-model="name"
        data-where="copy.name"
        :label="t('missing.required', { label: t('ask.copy.name') })"
        :error-messages="missingAt('copy.name')"
        aria-required="true"
        maxlength="160"
      />
      <v-select
        v-model="layout"
        :items="
          LAYOUTS.map((value) => ({
            value,
            title: t(`ask.copy.layouts.${value}`),
            props: { disabled: value !== 'none' && !trial.plots.length },
          }))
        "
        :label="t('ask.copy.layout')"
      />
      <template v-if="layout === 'crossed'">
        <v-text-field
          v-model="factor.name"
          data-where="copy.factor"
          :label="t('missing.required', { label: t('ask.copy.factor') })"
          :error-messages="missingAt('copy.factor')"
          aria-required="true"
          maxlength="60"
        />
        <v-text-field
          v-model="factor.levels"
          data-where="copy.levels"
          :label="t('missing.required', { label: t('ask.levels') })"
          :error-messages="missingAt('copy.levels')"
          aria-required="true"
          persistent-placeholder
          :placeholder="t('ask.copy.levelsExample')"
        />
      </template>
      <button type="submit" class="pill" :disabled="busy">{{ t('ask.copy.act') }}</button>
    </form>
    <MissingEntries :places="missing" />
    <p class="quiet small">{{ t(`ask.copy.lead.${layout}`) }}</p>
    <section v-if="stays && left" class="left" :aria-label="t('ask.copy.left.title')">
      <h3>{{ t('ask.copy.left.title') }}</h3>
      <p v-if="!left.read">{{ t('ask.copy.left.unread') }}</p>
      <template v-else>
        <ul v-if="left.differ.length">
          <li v-for="one in left.differ" :key="one">{{ one }}</li>
        </ul>
        <p v-if="left.open.length">{{ t('ask.copy.left.open', { names: left.open.join(', ') }) }}</p>
        <p v-if="left.even.length">{{ t('ask.copy.left.even', { names: left.even.join(', ') }) }}</p>
      </template>
      <p class="quiet small">{{ t('ask.copy.left.lead') }}</p>
    </section>
    <ProblemNote v-if="problem" :problem="problem" />
  </details>
</template>

<style scoped>
.copy {
  margin-top: 26px;
}
form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 12px;
  align-items: center;
}
.pill {
  justify-self: start;
}
</style>
