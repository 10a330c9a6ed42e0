<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, type Guide, type Species } from '@/api/queries'
import MissingEntries from '@/parts/MissingEntries.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useRequired } from '@/parts/useRequired'

/** All that is known of a species, with where it comes from; turned into the workspace's own by changing it. */
const props = defineProps<{ guide: Guide; species: Species | null; workspace: string; mayPlan: boolean }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const queries = useQueryClient()
const typing = ref(false)
const cells = ref<Record<string, string>>({})

const facts = computed(() => new Map((props.species?.facts ?? []).map((fact) => [fact.field, fact])))
const groups = computed(() => {
  const found = new Map<string, Guide['fields']>()
  for (const field of props.guide.fields) found.set(field.group, [...(found.get(field.group) ?? []), field])
  return [...found]
})
const cited = computed(() => [
  ...new Set(
    (props.species?.facts ?? []).filter((fact) => fact.source !== 'experience').map((fact) => fact.cited),
  ),
])
const title = computed(() =>
  props.species ? t('species.recordOf', { name: props.species.name }) : t('species.newName'),
)
watch(open, () => {
  typing.value = !props.species
  reset()
  cells.value = {}
  for (const fact of props.species?.facts ?? []) {
    cells.value[fact.field] = fact.text
    cells.value[`${fact.field}_source`] = fact.source
  }
})

/** The key of a new species, made of its name as the server does for tables. */
const keyOf = (name: string) => name.toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'species' // prettier-ignore

const {
  mutate: act,
  isPending: busy,
  error: problem,
  reset,
} = useMutation({
  mutationFn: async (what: () => Promise<unknown>) => {
    await what()
    await queries.invalidateQueries({ queryKey: ['species'] })
    open.value = false
  },
})
/** The one field that a record can't be without. */
const NAME = 'common'
const { missing, missingAt, complete } = useRequired(
  () => (cells.value[NAME]?.trim() ? [] : [{ where: NAME, what: t('missing.name') }]),
  open,
)
const keep = () =>
  complete() &&
  act(() =>
    api.keepSpecies(props.workspace, props.species?.key ?? keyOf(cells.value.common ?? ''), cells.value),
  )
const forget = () => act(() => api.forgetSpecies(props.workspace, props.species!.key))
</script>

<template>
  <v-dialog v-model="open" max-width="860" :aria-label="title">
    <form class="sheet" @submit.prevent="keep">
      <h2>{{ title }}</h2>
      <p v-if="species?.own" class="quiet small">{{ t('species.own') }}</p>
      <section v-for="[group, fields] in groups" :key="group">
        <h3>{{ group }}</h3>
        <dl v-if="!typing">
          <div v-for="field in fields" :key="field.key">
            <dt>{{ field.label }}</dt>
            <dd v-if="facts.get(field.key)">
              <template v-for="(line, i) in facts.get(field.key)!.lines" :key="line"
                ><br v-if="i" />{{ line }}</template
              >
              {{ field.kind === 'rating' ? 'of 5' : field.unit }}
              <small v-if="facts.get(field.key)!.source === 'experience'" class="quiet">{{
                t('species.fromExperience')
              }}</small>
              <sup v-else class="quiet">{{ cited.indexOf(facts.get(field.key)!.cited) + 1 }}</sup>
            </dd>
            <dd v-else class="quiet">{{ t('species.unknownFact') }}</dd>
          </div>
        </dl>
        <div v-else class="cells">
          <template v-for="field in fields" :key="field.key">
            <v-select
              v-if="field.kind === 'choice'"
              v-model="cells[field.key]"
              :items="[{ value: '', title: t('species.unknownFact') }, ...field.choices]"
              :label="field.label"
            />
            <v-text-field
              v-else
              v-model="cells[field.key]"
              :data-where="field.key"
              :label="field.key === NAME ? t('missing.required', { label: field.label }) : field.label"
              :error-messages="missingAt(field.key)"
              :suffix="field.kind === 'rating' ? 'of 5' : field.unit"
              :placeholder="field.kind === 'range' ? t('species.rangeHint') : field.hint"
            />
            <v-text-field
              v-model="cells[`${field.key}_source`]"
              :aria-label="t('species.source', { label: field.label })"
              :label="t('species.sourceShort')"
            />
          </template>
        </div>
      </section>
      <section v-if="!typing">
        <h3>{{ t('species.sources') }}</h3>
        <ol class="quiet small">
          <li v-for="one in cited" :key="one">{{ one }}</li>
        </ol>
      </section>
      <MissingEntries :places="missing" />
      <ProblemNote v-if="problem" :problem="problem" />
      <div class="acts">
        <v-btn v-if="typing" type="submit" color="accent" :disabled="busy">{{ t('species.keep') }}</v-btn>
        <button v-else-if="mayPlan" type="button" class="pill" @click="typing = true">
          {{ t(species?.own ? 'species.changeOwn' : 'species.change') }}
        </button>
        <button
          v-if="species?.own && mayPlan"
          type="button"
          class="link-button"
          :disabled="busy"
          @click="forget"
        >
          {{ t('species.forget') }}
        </button>
        <button type="button" class="link-button" @click="open = false">
          {{ t(typing ? 'species.cancel' : 'species.close') }}
        </button>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.sheet {
  background: var(--paper);
  color: var(--ink);
  border-radius: 12px;
  padding: 20px;
  overflow-y: auto;
}
section {
  margin-bottom: 14px;
}
dl {
  margin: 0;
  columns: 2;
  column-gap: 28px;
}
dl div {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 10px;
  break-inside: avoid;
  border-top: 1px solid var(--rule);
  padding: 3px 0;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
}
ol {
  margin: 0;
  padding-left: 20px;
}
.cells {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  align-items: center;
  position: sticky;
  bottom: -20px;
  background: var(--paper);
  padding: 10px 0 14px;
}
@media (max-width: 720px) {
  dl {
    columns: 1;
  }
  dl div,
  .cells {
    grid-template-columns: 1fr;
    gap: 2px;
  }
}
</style>
