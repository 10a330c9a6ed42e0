<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'

import { labelCode } from '@/parts/labelCode'
import ScanLabel from '@/parts/ScanLabel.vue'

import PlotLocator from './plot/PlotLocator.vue'

/** To any plot of the visit: by its number, from the list in walking order, or on the map. */
const props = defineProps<{
  trial: Trial
  /** Plots of this page of the sheet, in walking order. */
  order: string[]
  states: Record<string, string>
  unit: string
  /** The sheet has more pages than this one. */
  large: boolean
}>()
const emit = defineEmits<{ jump: [label: string] }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const typed = ref('')
const unknown = ref('')
watch(open, () => (typed.value = unknown.value = ''))

const plots = computed(() => new Map(props.trial.plots.map((plot) => [plot.id, plot])))
const listed = computed(() => {
  const ids = props.large ? props.trial.plots.map((plot) => plot.id) : props.order
  return ids.flatMap((id) => plots.value.get(id) ?? [])
})
const SIGN: Record<string, string> = { done: '✓', failed: '✓', lost: '–', begun: '…', todo: '○' }
const sign = (id: string) => SIGN[props.states[id] ?? ''] ?? ''
function byLabel(text: string) {
  const { trial, plot } = labelCode(text)
  typed.value = plot
  if (trial && trial !== props.trial.id) unknown.value = t('walk.otherTrial')
  else byNumber()
}
function byNumber() {
  const wanted = typed.value.trim().toLowerCase()
  const found = props.trial.plots.find((plot) => plot.label.toLowerCase() === wanted)
  if (found) emit('jump', found.label)
  else unknown.value = t('walk.noSuchPlot', { p: typed.value.trim() })
}
</script>

<template>
  <v-dialog v-model="open" max-width="560" scrollable :aria-label="t('walk.jump')">
    <div class="sheet">
      <h2>{{ t('walk.jump') }}</h2>
      <form class="by-number" @submit.prevent="byNumber">
        <v-text-field
          v-model="typed"
          autofocus
          :label="t('walk.plotNumber')"
          autocomplete="off"
          :error-messages="unknown"
          @update:model-value="unknown = ''"
        />
        <button type="submit" class="pill">{{ t('walk.goThere') }}</button>
        <ScanLabel @scanned="byLabel" />
      </form>
      <PlotLocator :trial="trial" :states="states" :unit="unit" large @jump="emit('jump', $event)" />
      <ul>
        <li v-for="plot in listed" :key="plot.id">
          <button
            type="button"
            :aria-current="plot.id === unit"
            :aria-label="
              states[plot.id]
                ? t('walk.plotIs', { p: plot.label, s: t(`walk.state.${states[plot.id]}`) })
                : t('walk.plot', { p: plot.label })
            "
            @click="emit('jump', plot.label)"
          >
            {{ plot.label }} <span aria-hidden="true" :class="states[plot.id]">{{ sign(plot.id) }}</span>
          </button>
        </li>
      </ul>
      <button type="button" class="pill" @click="open = false">{{ t('walk.cancelJump') }}</button>
    </div>
  </v-dialog>
</template>

<style scoped>
.sheet {
  display: flex;
  flex-direction: column;
  gap: 12px;
  align-items: flex-start;
  overflow-y: auto;
  background: var(--paper);
  color: var(--ink);
  border-radius: 12px;
  padding: 18px;
}
h2 {
  margin: 0;
}
.by-number {
  display: flex;
  gap: 10px;
  align-items: flex-start;
  width: 100%;
  max-width: 320px;
}
.by-number .pill {
  min-height: 48px;
}
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(76px, 1fr));
  gap: 6px;
  width: 100%;
  margin: 0;
  padding: 0;
  list-style: none;
}
li button {
  width: 100%;
  min-height: 48px;
  border: 1px solid var(--field);
  border-radius: 8px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  font-weight: 650;
}
li button[aria-current='true'] {
  outline: 3px solid var(--accent);
  outline-offset: -3px;
}
.done,
.failed {
  color: var(--gain);
}
.begun {
  color: var(--unsettled);
}
</style>
