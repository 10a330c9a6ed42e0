<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'

import { Problem } from '@/api/client'
import type { Trial } from '@/api/queries'
import { sowApi, sowQuery, type Sow } from '@/api/sow'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import { labelCode } from '@/parts/labelCode'
import MakeFile from '@/parts/MakeFile.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ScanLabel from '@/parts/ScanLabel.vue'
import { threeDigits } from '@/texts/format'

/** Bags in the order in which they are sown: ticked when packed, checked when they are at their plot. */
const props = defineProps<{ trial: Trial; sow: Sow; mayRecord: boolean }>()
const { t } = useI18n()
const route = useRoute()
const queries = useQueryClient()
const codes = computed(() => new Map(props.trial.treatments.map((one, i) => [one.id, { code: one.code, i }])))
const next = computed(() => props.sow.stops.find((stop) => !stop.placed))
const scanned = ref('')
const right = ref('')
/** A bag’s QR code opens this page with its number. */
watch(
  () => route.query.bag,
  (bag) => {
    if (typeof bag === 'string') scanned.value = bag
  },
  { immediate: true },
)

const took = (now: Sow) => queries.setQueryData(sowQuery(props.trial.id).queryKey, now)
const { mutate: tick, error: tickProblem } = useMutation({
  mutationFn: async (stop: Sow['stops'][number]) =>
    took(
      stop.placed
        ? await sowApi.place(props.trial.id, stop.plot, stop.plot, false)
        : await sowApi.pack(props.trial.id, stop.plot, !stop.packed),
    ),
})
const {
  mutate: check,
  isPending: checking,
  error: wrong,
  reset,
} = useMutation({
  mutationFn: async () => {
    const plot = next.value!.plot
    const { trial, plot: bag } = labelCode(scanned.value)
    right.value = ''
    if (trial && trial !== props.trial.id) throw new Problem(409, 'wrong-bag', t('scan.otherTrial'))
    took(await sowApi.place(props.trial.id, plot, bag))
    right.value = t('sow.right', { b: bag, p: plot })
    scanned.value = ''
  },
  onError: () => navigator.vibrate?.([300, 100, 300]),
})
function scan(text: string) {
  scanned.value = text
  check()
}
const isWrongBag = computed(() => wrong.value instanceof Problem && wrong.value.code === 'wrong-bag')
const progress = computed(() => ({
  p: props.sow.stops.filter((stop) => stop.packed).length,
  s: props.sow.stops.filter((stop) => stop.placed).length,
  n: props.sow.stops.length,
}))
/** Packed before plots were swapped, or a rate or lot changed. */
const again = computed(() => props.sow.stops.filter((stop) => stop.repack).map((stop) => stop.plot))
const sheet = 'a4-3x7'
</script>

<template>
  <p class="quiet small">{{ t('sow.packLead') }}</p>
  <p>{{ t('sow.progress', progress) }}</p>
  <div v-if="again.length" class="wrong" role="alert">
    <strong>{{ t('sow.againTitle') }}</strong>
    <p>{{ t('sow.again', { bags: again.join(', ') }) }}</p>
  </div>
  <form v-if="mayRecord && next" class="scan" @submit.prevent="check()">
    <strong class="where">
      <TreatmentTag
        :index="codes.get(next.treatment)?.i ?? 0"
        :code="codes.get(next.treatment)?.code ?? ''"
      />
      {{ t('sow.scanFor', { p: next.plot, code: codes.get(next.treatment)?.code }) }}
    </strong>
    <v-text-field
      v-model="scanned"
      :label="t('sow.scanned')"
      maxlength="160"
      autocomplete="off"
      @update:model-value="reset()"
    />
    <ScanLabel @scanned="scan" />
    <v-btn type="submit" color="accent" :disabled="checking || !scanned.trim()">{{ t('sow.check') }}</v-btn>
  </form>
  <p v-else-if="!next" class="right">{{ t('sow.allPlaced') }}</p>
  <div v-if="isWrongBag" class="wrong" role="alert">
    <strong>{{ t('sow.wrongTitle') }}</strong>
    <p>{{ wrong!.message }}</p>
  </div>
  <ProblemNote v-else-if="wrong" :problem="wrong" />
  <p v-if="right" class="right" role="status">{{ right }}</p>
  <ProblemNote v-if="tickProblem" :problem="tickProblem" />
  <ol class="stops">
    <li v-for="stop in sow.stops" :key="stop.plot" :class="{ next: stop === next }">
      <p v-if="stop.clean" class="clean">{{ t('sow.clean') }}</p>
      <label>
        <input type="checkbox" :checked="stop.packed" :disabled="!mayRecord" @change.prevent="tick(stop)" />
        <TreatmentTag
          :index="codes.get(stop.treatment)?.i ?? 0"
          :code="codes.get(stop.treatment)?.code ?? ''"
        />
        <span class="bag">{{ t('sow.bagOf', { p: stop.plot }) }}</span>
        <span class="mass"
          >{{ stop.total === null ? '–' : threeDigits(stop.total) }} {{ sow.units.seed }}</span
        >
        <strong v-if="stop.repack" class="again">{{ t('sow.repack') }}</strong>
        <span v-else class="quiet">{{
          stop.placed ? t('sow.atPlot') : stop.packed ? t('sow.packed') : ''
        }}</span>
      </label>
    </li>
  </ol>
  <p v-if="sow.bare.length" class="quiet">{{ t('sow.bareAre', { plots: sow.bare.join(', ') }) }}</p>
  <p class="quiet small">{{ t('sow.labelsLead') }}</p>
  <MakeFile :trial="trial.id" :file="{ file: 'bags.pdf', sheet }">{{ t('sow.labels') }}</MakeFile>
  <MakeFile :trial="trial.id" :file="{ file: 'packing-list.pdf' }">{{ t('sow.list') }}</MakeFile>
</template>

<style scoped>
p {
  margin: 0 0 8px;
}
.again {
  color: var(--loss);
}
.scan {
  display: grid;
  grid-template-columns: auto minmax(120px, 220px) auto auto;
  gap: 12px;
  align-items: center;
  padding: 12px 14px;
  margin-bottom: 12px;
  background: var(--ground);
  border-radius: 10px;
}
.where {
  display: flex;
  gap: 10px;
  align-items: center;
}
.wrong {
  padding: 18px 20px;
  margin: 0 0 14px;
  border-radius: 10px;
  background: var(--loss);
  color: #ffffff;
  font-size: 20px;
}
.wrong strong {
  font-size: 30px;
}
.wrong p {
  margin: 4px 0 0;
}
.right {
  color: var(--gain);
  font-weight: 700;
}
.stops {
  list-style: none;
  margin: 0 0 10px;
  padding: 0;
  columns: 300px;
  column-gap: 24px;
}
.stops li {
  break-inside: avoid;
  border-top: 1px solid var(--rule);
}
.stops label {
  display: grid;
  grid-template-columns: 26px auto 1fr auto 74px;
  gap: 10px;
  align-items: center;
  min-height: 48px;
}
.stops input {
  width: 22px;
  height: 22px;
  margin: 0;
  accent-color: var(--accent);
}
.next label {
  font-weight: 700;
}
.mass {
  font-variant-numeric: tabular-nums;
}
.clean {
  margin: 8px 0 4px;
  color: var(--unsettled);
  font-weight: 700;
}
@media (max-width: 720px) {
  .again {
    color: var(--loss);
  }
  .scan {
    grid-template-columns: 1fr;
  }
}
</style>
