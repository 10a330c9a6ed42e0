<script setup lang="ts">
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { api, type Mixed, type Confounding } from '@/api/queries'
import ProblemNote from '@/parts/ProblemNote.vue'

import { detailsOf, isDescribed } from './described'
import { factorsOf, type AskDraft } from './draft'
import { withOffer } from './offers'

/** Whether treatments that are compared differ in more than one thing, and what would part them. */
const props = defineProps<{ workspace: string }>()
const emit = defineEmits<{ open: [comparisons: number] }>()
const draft = defineModel<AskDraft>({ required: true })
const { t } = useI18n()
const found = shallowRef<Confounding | null>(null)
const problem = shallowRef<Error | null>(null)
const TYPED_ON_MS = 300
let asked = 0
let timer: ReturnType<typeof setTimeout> | undefined

const body = computed(() => ({
  workspace: props.workspace,
  factors: factorsOf(draft.value).map(({ name, kind, control }) => ({ name, kind, control })),
  treatments: draft.value.treatments
    .filter((one) => one.name.trim())
    .map(({ id, name, is_control, levels, details }) => ({
      id,
      name: name.trim(),
      is_control,
      levels,
      details: detailsOf(details),
    })),
}))
const described = computed(() =>
  draft.value.treatments.some((one) => isDescribed(one.details) || Object.keys(one.levels).length),
)
async function look() {
  const mine = ++asked
  try {
    const now = await api.confounding(body.value)
    if (mine === asked) [found.value, problem.value] = [now, null]
  } catch (thrown) {
    if (mine === asked) problem.value = thrown as Error
  }
}
watch(
  () => (described.value && props.workspace ? JSON.stringify(body.value) : ''),
  (now) => {
    clearTimeout(timer)
    if (now) timer = setTimeout(look, TYPED_ON_MS)
    else found.value = null
  },
  { immediate: true },
)
onBeforeUnmount(() => clearTimeout(timer))

const nameOf = (id: string) => draft.value.treatments.find((one) => one.id === id)?.name ?? ''
const acceptedOf = (one: Mixed) =>
  draft.value.accepted.find((kept) => kept.base === one.base && kept.treatment === one.treatment)
watch(
  () => (found.value?.mixed ?? []).filter((one) => !acceptedOf(one)).length,
  (open) => emit('open', open),
)
function accept(one: Mixed) {
  draft.value.accepted.push({ base: one.base, treatment: one.treatment, why: '' })
}
function unaccept(one: Mixed) {
  draft.value.accepted = draft.value.accepted.filter((kept) => kept !== acceptedOf(one))
}
</script>

<template>
  <ProblemNote v-if="problem" :problem="problem" />
  <section v-if="found?.mixed.length" class="mixed aside" :aria-label="t('ask.confounded')">
    <h3>{{ t('ask.confounded') }}</h3>
    <div v-for="one in found.mixed" :key="one.base + one.treatment" class="pair">
      <p>{{ one.said }} {{ t('ask.cannotTell') }} {{ one.remark }}</p>
      <ul>
        <li v-for="offer in one.offers" :key="offer.kind + offer.aspect">
          <button type="button" class="pill" @click="draft.treatments = withOffer(draft.treatments, offer)">
            {{ offer.said }}
          </button>
        </li>
        <li v-if="!acceptedOf(one)">
          <button type="button" class="pill" @click="accept(one)">{{ t('ask.accept') }}</button>
        </li>
      </ul>
      <div v-if="acceptedOf(one)" class="accepted">
        <v-text-field
          v-model="acceptedOf(one)!.why"
          :label="t('missing.required', { label: t('ask.acceptWhy') })"
          maxlength="200"
          required
          autofocus
        />
        <button type="button" class="link-button" @click="unaccept(one)">{{ t('ask.takeBack') }}</button>
      </div>
    </div>
  </section>
  <ul v-if="found?.worth_knowing.length" class="worth small" :aria-label="t('ask.worthKnowing')">
    <li v-for="said in found.worth_knowing" :key="said">{{ said }}</li>
  </ul>
  <details v-if="found?.cautions.length" class="cautions">
    <summary>{{ t('ask.cautions', found.cautions.length) }}</summary>
    <dl>
      <template v-for="one in found.cautions" :key="one.treatment">
        <dt>{{ nameOf(one.treatment) }}</dt>
        <dd v-for="said in one.said" :key="said">{{ said }}</dd>
      </template>
    </dl>
  </details>
</template>

<style scoped>
.worth {
  margin: 8px 0;
  padding-left: 20px;
}
h3 {
  margin: 0 0 4px;
  font-size: 15px;
}
p {
  margin: 0;
}
.pair + .pair {
  border-top: 1px solid var(--rule);
  margin-top: 10px;
  padding-top: 10px;
}
ul {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
}
.accepted {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  max-width: 620px;
  margin-top: 10px;
}
.accepted > :first-child {
  flex: 1 1 300px;
}
.cautions summary {
  color: var(--unsettled);
}
dl {
  margin: 4px 0 0;
}
dt {
  font-weight: 700;
}
dd {
  margin: 0 0 4px;
}
</style>
