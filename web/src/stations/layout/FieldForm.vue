<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'
import { newId } from '@/parts/newId'
import { saidIn } from '@/texts/format'

import type { LayoutDraft } from './draft'

/** What is around the plots, in figures: the outline three ways, headland, bearing, gradient, tracks, obstacles. */
const props = defineProps<{ trial: Trial; mayPlan: boolean; faults: Record<string, string> }>()
const emit = defineEmits<{ geojson: [file: File]; rectangle: [size: { width: string; length: string }] }>()
const draft = defineModel<LayoutDraft>({ required: true })
const drawing = defineModel<boolean>('drawing', { required: true })
const { t } = useI18n()
const width = ref('')
const length = ref('')
const LINES = ['tracks', 'tree_rows'] as const
const PARTS = ['first', 'spacing', 'width'] as const
const BOX = ['x', 'y', 'width', 'length'] as const

const faultOf = (place: string) => props.faults[place] ?? []
function draw() {
  draft.value.outline = []
  drawing.value = true
}
function pick(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) emit('geojson', file)
}
function addObstacle() {
  draft.value.obstacles.push({ id: newId(), name: '', x: '', y: '', width: '', length: '' })
}
/** Tramlines are as far apart as the sprayer is wide; its wheels run in the middle of it. */
function takeSprayer() {
  const wide = props.trial.equipment.sprayer
  if (!wide) return
  const said = (metres: number) => saidIn(props.trial.length_factor, metres)
  draft.value.tracks = { first: said(wide / 2), spacing: said(wide), width: said(0.6) }
}
</script>

<template>
  <!-- Labels stay above their fields: inside, the narrow ones would be cut and units unseen. -->
  <v-defaults-provider :defaults="{ VTextField: { persistentPlaceholder: true } }">
    <fieldset :disabled="!mayPlan">
      <legend>{{ t('layout.outline') }}</legend>
      <div class="row">
        <v-text-field
          v-model="width"
          inputmode="decimal"
          :label="t('layout.fieldWidth')"
          :suffix="trial.length_unit"
          :error-messages="faultOf('width')"
        />
        <v-text-field
          v-model="length"
          inputmode="decimal"
          :label="t('layout.fieldLength')"
          :suffix="trial.length_unit"
          :error-messages="faultOf('length')"
        />
        <button type="button" class="pill" @click="emit('rectangle', { width, length })">
          {{ t('layout.takeRectangle') }}
        </button>
      </div>
      <div class="row acts">
        <button v-if="!drawing" type="button" class="pill" @click="draw">{{ t('layout.draw') }}</button>
        <button v-else type="button" class="pill" aria-pressed="true" @click="drawing = false">
          {{ t('layout.drawn', draft.outline.length) }}
        </button>
        <label class="link-button file"
          >{{ t('layout.geojson')
          }}<input
            class="seen-by-readers-only"
            type="file"
            accept=".geojson,.json,application/geo+json"
            @change="pick"
        /></label>
        <button v-if="draft.outline.length" type="button" class="link-button" @click="draft.outline = []">
          {{ t('layout.noOutline') }}
        </button>
      </div>
      <div class="row">
        <v-text-field
          v-model="draft.headland"
          inputmode="decimal"
          :label="t('layout.headland')"
          :suffix="trial.length_unit"
          :error-messages="faultOf('field.headland')"
        />
        <v-text-field
          v-model="draft.bearing"
          inputmode="decimal"
          :label="t('layout.bearing')"
          suffix="°"
          :error-messages="faultOf('bearing')"
        />
        <v-text-field
          v-model="draft.gradient"
          inputmode="decimal"
          :label="t('layout.gradient')"
          suffix="°"
          :error-messages="faultOf('field.gradient')"
        />
      </div>
    </fieldset>
    <fieldset v-for="lines in LINES" :key="lines" :disabled="!mayPlan">
      <legend>{{ t(`layout.${lines}`) }}</legend>
      <div class="row">
        <v-text-field
          v-for="part in PARTS"
          :key="part"
          v-model="draft[lines][part]"
          inputmode="decimal"
          :label="t(`layout.lines.${part}`)"
          :suffix="trial.length_unit"
          :error-messages="faultOf(`field.${lines}.${part}`)"
        />
      </div>
      <div v-if="lines === 'tree_rows' && draft.tree_rows.spacing" class="row">
        <v-text-field
          v-model="draft.sown_width"
          inputmode="decimal"
          :label="t('layout.sownWidth')"
          :suffix="trial.length_unit"
          :error-messages="faultOf('field.sown_width')"
        />
        <v-text-field
          v-model="draft.sown_every"
          inputmode="numeric"
          :label="t('layout.sownEvery')"
          :error-messages="faultOf('field.sown_every')"
        />
      </div>
      <button
        v-if="lines === 'tracks' && trial.equipment.sprayer"
        type="button"
        class="link-button"
        @click="takeSprayer"
      >
        {{ t('layout.takeSprayer') }}
      </button>
    </fieldset>
    <fieldset :disabled="!mayPlan">
      <legend>{{ t('layout.areas') }}</legend>
      <div class="row">
        <v-text-field
          v-model="draft.harvest_width"
          inputmode="decimal"
          :label="t('layout.harvestWidth')"
          :suffix="trial.length_unit"
          :error-messages="faultOf('field.harvest_width')"
        />
        <v-text-field
          v-model="draft.guard"
          inputmode="decimal"
          :label="t('layout.guard')"
          :suffix="trial.length_unit"
          :error-messages="faultOf('field.guard')"
        />
      </div>
    </fieldset>
    <fieldset :disabled="!mayPlan">
      <legend>{{ t('layout.obstacles') }}</legend>
      <div v-for="(one, i) in draft.obstacles" :key="one.id" class="obstacle">
        <v-text-field v-model="one.name" :label="t('layout.obstacle')" maxlength="60" />
        <v-text-field
          v-for="part in BOX"
          :key="part"
          v-model="one[part]"
          inputmode="decimal"
          :label="t(`layout.box.${part}`)"
          :suffix="trial.length_unit"
          :error-messages="faultOf(`field.obstacles.${i}.${part}`)"
        />
        <button type="button" class="link-button" @click="draft.obstacles.splice(i, 1)">
          {{ t('layout.takeAway') }}
        </button>
      </div>
      <button type="button" class="pill" @click="addObstacle">{{ t('layout.addObstacle') }}</button>
    </fieldset>
  </v-defaults-provider>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0 0 14px;
}
legend {
  font-weight: 700;
  padding: 0;
  margin-bottom: 6px;
}
.row {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(88px, 1fr));
  gap: 8px;
  align-items: start;
  margin-bottom: 8px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
}
.file {
  display: inline-flex;
  align-items: center;
}
.file:focus-within {
  outline: 3px solid var(--link);
  outline-offset: 2px;
}
.obstacle {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 8px;
  margin-bottom: 8px;
}
.obstacle > :first-child {
  grid-column: 1 / -1;
}
</style>
