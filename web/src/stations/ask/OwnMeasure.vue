<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import { Problem, type Shapes } from '@/api/client'
import { api } from '@/api/queries'
import FoldedPart from '@/parts/FoldedPart.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

import { emptyOwnField, ownFaults, ownOf, type OwnDraft } from './own'

/** What is typed in a plot for a measure of one’s own, and the formula that makes its value. */
const props = defineProps<{
  name: string
  unit: string
  places: { where: string; what: string }[]
  where: string
  mayPlan: boolean
}>()
const own = defineModel<OwnDraft>({ required: true })
const { t } = useI18n()

const tried = ref<Shapes['TriedOut'] | null>(null)
const typed = ref<Record<string, string>>({})
const problem = ref<Error | null>(null)
const busy = ref(false)

const KINDS = ['continuous', 'percentage', 'count', 'score'] as const
const FIELD_KINDS = ['number', 'whole', 'choice', 'readings', 'text'] as const
const PARTS = ['', 'species', 'layer', 'depth', 'grade', 'cut'] as const
const VISITS = ['last', 'mean', 'sum'] as const
const listOf = <K extends string>(keys: readonly K[], room: string) =>
  keys.map((value) => ({ value, title: t(`own.${room}.${value || 'whole'}`) }))
const kinds = computed(() => listOf(KINDS, 'kind'))
const fieldKinds = computed(() => listOf(FIELD_KINDS, 'field'))
const parts = computed(() => listOf(PARTS, 'part'))
const visits = computed(() => listOf(VISITS, 'visits'))

const faults = computed(() => {
  const found = problem.value instanceof Problem ? problem.value.places : []
  const here = found.map((one) => ({ ...one, where: one.where.replace(/^own\./, '') }))
  return ownFaults(own.value, [...props.places, ...here])
})
const fault = (key: string) => faults.value[key] ?? []
const namesOf = computed(() => [
  ...own.value.fields.filter((one) => one.kind !== 'text' && one.name.trim()).map((one) => term(one)),
  ...own.value.numbers.filter((one) => one.name.trim()).map((one) => one.name.trim()),
])
const term = (one: { name: string; kind: string }) =>
  one.kind === 'readings' ? `mean(${one.name.trim()})` : one.name.trim()
const needsFormula = computed(
  () => namesOf.value.length > 1 || Boolean(own.value.formula.trim()) || 'formula' in faults.value,
)
const formula = ref<HTMLElement | null>(null)
/** A name goes where the cursor is, which then stands behind it. */
async function write(name: string) {
  const field = formula.value?.querySelector('input')
  const text = own.value.formula
  const [from, to] = [field?.selectionStart ?? text.length, field?.selectionEnd ?? text.length]
  const before = text.slice(0, from) + (from && !/[\s(]$/.test(text.slice(0, from)) ? ' ' : '') + name
  own.value.formula = before + text.slice(to)
  await nextTick()
  field?.focus()
  field?.setSelectionRange(before.length, before.length)
}

async function work() {
  busy.value = true
  problem.value = null
  try {
    tried.value = await api.tryMeasure(
      props.name || t('own.unnamed'),
      props.unit,
      ownOf(own.value),
      typed.value,
    )
  } catch (thrown) {
    problem.value = thrown as Error
    tried.value = null
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="own">
    <p class="quiet small">{{ t('own.lead') }}</p>
    <div
      v-for="(one, i) in own.fields"
      :key="i"
      class="row"
      role="group"
      :aria-label="one.name || t('own.fieldN', { n: i + 1 })"
    >
      <v-text-field
        v-model="one.name"
        class="wide"
        :label="t('own.fieldName')"
        maxlength="60"
        :data-where="`${where}.fields.${i}.name`"
        :error-messages="fault(`fields.${i}.name`)"
      />
      <v-select v-model="one.kind" class="wide" :items="fieldKinds" :label="t('own.fieldKind')" />
      <v-text-field
        v-if="one.kind === 'number' || one.kind === 'readings'"
        v-model="one.unit"
        :label="t('ask.unit')"
        maxlength="40"
      />
      <template v-if="one.kind !== 'choice' && one.kind !== 'text'">
        <v-text-field
          v-model="one.least"
          :label="t('own.least')"
          inputmode="decimal"
          :error-messages="fault(`fields.${i}.least`)"
        />
        <v-text-field
          v-model="one.most"
          :label="t('own.most')"
          inputmode="decimal"
          :error-messages="fault(`fields.${i}.most`)"
        />
      </template>
      <v-textarea
        v-if="one.kind === 'choice'"
        v-model="one.grades"
        class="wide"
        rows="3"
        auto-grow
        :label="t('own.grades')"
        :placeholder="t('own.gradesExample')"
        persistent-placeholder
        :error-messages="fault(`fields.${i}.grades`)"
      />
      <div class="row-end">
        <label class="tick"
          ><input v-model="one.optional" type="checkbox" /> {{ t('own.optional') }}
          <small v-if="`fields.${i}.optional` in faults" class="wrong">{{
            fault(`fields.${i}.optional`)
          }}</small>
        </label>
        <button
          v-if="own.fields.length > 1"
          type="button"
          class="link-button"
          :aria-label="`${t('ask.remove')}: ${one.name || t('own.fieldN', { n: i + 1 })}`"
          @click="own.fields.splice(i, 1)"
        >
          {{ t('ask.remove') }}
        </button>
      </div>
    </div>
    <div v-for="(one, i) in own.numbers" :key="`n${i}`" class="row" role="group" :aria-label="t('own.fixed')">
      <v-text-field
        v-model="one.name"
        class="wide"
        :label="t('own.fixed')"
        maxlength="60"
        :error-messages="fault(`numbers.${i}.name`)"
      />
      <v-text-field
        v-model="one.value"
        :label="t('own.value')"
        inputmode="decimal"
        :error-messages="fault(`numbers.${i}.value`)"
      />
      <v-text-field v-model="one.unit" :label="t('ask.unit')" maxlength="40" />
      <div class="row-end">
        <button
          type="button"
          class="link-button"
          :aria-label="`${t('ask.remove')}: ${one.name || t('own.fixed')}`"
          @click="own.numbers.splice(i, 1)"
        >
          {{ t('ask.remove') }}
        </button>
      </div>
    </div>
    <p v-if="mayPlan" class="adders">
      <button type="button" class="pill" @click="own.fields.push(emptyOwnField())">
        {{ t('own.addField') }}
      </button>
      <button type="button" class="pill" @click="own.numbers.push({ name: '', value: '', unit: '' })">
        {{ t('own.addFixed') }}
      </button>
    </p>

    <div v-if="needsFormula" ref="formula" class="formula">
      <v-text-field
        v-model="own.formula"
        :label="t('own.formula', { m: name || t('own.unnamed') })"
        maxlength="300"
        persistent-hint
        :hint="t('own.formulaHint')"
        :data-where="`${where}.formula`"
        :error-messages="fault('formula')"
      />
      <p v-if="mayPlan && namesOf.length" class="adders">
        <button
          v-for="one in namesOf"
          :key="one"
          type="button"
          class="pill"
          :aria-label="t('own.write', { name: one })"
          @click="write(one)"
        >
          {{ one }}
        </button>
      </p>
    </div>

    <div class="row">
      <v-select
        v-model="own.kind"
        class="wide"
        :items="kinds"
        :label="t('own.kindOfValue')"
        :error-messages="fault('kind')"
      />
      <v-text-field
        v-model="own.samples"
        :label="t('own.samples')"
        inputmode="numeric"
        :error-messages="fault('samples')"
      />
      <v-select
        v-model="own.parts"
        class="wide"
        :items="parts"
        :label="t('own.toldBy')"
        persistent-hint
        :hint="
          own.parts
            ? t(own.parts === 'layer' || own.parts === 'depth' ? 'own.partsMean' : 'own.partsSum')
            : ''
        "
      />
      <v-select v-model="own.over_visits" class="wide" :items="visits" :label="t('own.atVisits')" />
    </div>
    <div class="row">
      <v-text-field
        v-for="key in ['usual_from', 'usual_to', 'possible_from', 'possible_to'] as const"
        :key="key"
        v-model="own[key]"
        :label="t(`own.range.${key}`)"
        :suffix="unit"
        inputmode="decimal"
        :error-messages="
          faults[key] ??
          (key.endsWith('to') ? (faults[key.startsWith('usual') ? 'plausible' : 'possible'] ?? []) : [])
        "
      />
    </div>
    <p class="quiet small">{{ t('own.rangeLead') }}</p>
    <label class="tick"><input v-model="own.zero_when_failed" type="checkbox" /> {{ t('own.failed') }}</label>

    <FoldedPart :title="t('own.try')">
      <div v-if="tried" class="row">
        <template v-for="one in tried.fields" :key="one.key">
          <v-select
            v-if="one.kind === 'choice'"
            v-model="typed[one.key]"
            class="wide"
            :items="one.choices"
            :label="one.name"
          />
          <v-text-field
            v-else
            v-model="typed[one.key]"
            class="wide"
            :label="one.name"
            :suffix="one.unit"
            @keydown.enter.prevent="work"
          />
        </template>
      </div>
      <p class="adders">
        <v-btn variant="outlined" :loading="busy" @click="work">{{
          t(tried ? 'own.work' : 'own.check')
        }}</v-btn>
        <output v-if="tried?.value" class="made">{{ name || t('own.unnamed') }}: {{ tried.value }}</output>
        <span v-else-if="tried && !tried.message" class="quiet">{{ t('own.checked') }}</span>
      </p>
      <p v-if="tried?.message" role="status">{{ tried.message }}</p>
      <ProblemNote v-if="problem" :problem="problem" :at="[]" />
    </FoldedPart>
  </div>
</template>

<style scoped>
.own {
  border-top: 1px solid var(--rule);
  padding-top: 10px;
  margin-bottom: 12px;
}
.row {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(130px, 1fr));
  gap: 10px;
  align-items: start;
  margin-bottom: 10px;
}
.row[role='group'] {
  border-left: 3px solid var(--rule);
  padding-left: 10px;
  margin-bottom: 14px;
}
.wide {
  grid-column: span 2;
}
.row-end {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  min-height: 40px;
}
.row-end:has(.tick) {
  grid-column: span 2;
}
.tick {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  min-height: 40px;
}
.tick input {
  width: 20px;
  height: 20px;
  accent-color: var(--accent);
}
.adders {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 0 0 12px;
}
.formula .adders {
  margin-top: 8px;
}
.made {
  font-size: 1.25rem;
  font-weight: 600;
}
.wrong {
  color: rgb(var(--v-theme-error));
}
</style>
