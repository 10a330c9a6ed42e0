<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial } from '@/api/queries'

import { DESIGNS, type Design } from './designs'

/** Which design: what the factors and machines ask for, and why; the person decides. */
const props = defineProps<{ trial: Trial; mayDraw: boolean; factors: string[] }>()
const emit = defineEmits<{ take: [] }>()
const design = defineModel<Design>('design', { required: true })
const whole = defineModel<string>('whole', { required: true })
const column = defineModel<string>('column', { required: true })
const { t } = useI18n()

const choices = computed(() => DESIGNS.map((value) => ({ value, title: t(`plan.designs.${value}`) })))
const needsWhole = computed(() => design.value === 'split_plot' || design.value === 'strip_plot')
const isProposed = computed(
  () =>
    design.value === props.trial.proposal.design &&
    (!needsWhole.value || whole.value === props.trial.proposal.whole_factor),
)
</script>

<template>
  <div class="design">
    <p v-if="trial.proposal.impossible" class="why doubt" role="alert">{{ trial.proposal.impossible }}</p>
    <p v-else class="why">
      <strong>{{ t('plan.proposed', { design: t(`plan.designs.${trial.proposal.design}`) }) }}</strong>
      {{ trial.proposal.why }}
      <button v-if="mayDraw && !isProposed" type="button" class="link-button" @click="emit('take')">
        {{ t('plan.takeIt') }}
      </button>
    </p>
    <p v-if="trial.two_things" class="why doubt">
      <strong>{{ t('plan.twoThings') }}</strong> {{ trial.two_things }}
      <router-link :to="{ name: 'ask' }">{{ t('frame.station.ask') }}</router-link>
    </p>
    <div v-if="mayDraw" class="row">
      <v-select v-model="design" :items="choices" :label="t('plan.design')" />
      <v-select
        v-if="needsWhole && factors.length"
        v-model="whole"
        :items="factors"
        :label="t(design === 'split_plot' ? 'plan.wholeFactor' : 'plan.rowFactor')"
      />
      <v-select
        v-if="design === 'strip_plot' && factors.length"
        v-model="column"
        :items="factors"
        :label="t('plan.columnFactor')"
      />
    </div>
    <p class="quiet small">
      <template v-if="!mayDraw">{{ t(`plan.designs.${design}`) }}. </template
      >{{ t(`plan.designLead.${design}`) }}
    </p>
  </div>
</template>

<style scoped>
.design {
  width: 100%;
}
.why {
  border-left: 5px solid var(--band);
  background: var(--ground);
  padding: 8px 14px;
  margin-bottom: 14px;
}
.doubt {
  border-left-color: var(--unsettled);
}
.row {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 12px;
  margin-bottom: 8px;
}
</style>
