<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { How, Reading } from '@/api/queries'

const props = defineProps<{ how: Reading['how']; design: string; counted?: boolean; measured?: boolean }>()
const emit = defineEmits<{ choose: [change: Partial<How>] }>()
const { t } = useI18n()

const methods = ['dunnett', 'tukey', 'lsd', 'holm', 'bonferroni', 'sidak'] as const
const alphas = [0.01, 0.05, 0.1]
const effects = ['random', 'fixed'] as const
const dfs = ['kenward_roger', 'satterthwaite', 'containment_anova'] as const
/** Where one stratum judges them; with several, counts are transformed. */
const oneStratum = computed(() => !['split_plot', 'strip_plot'].includes(props.design))
const counts = ['estimated', 'poisson', 'negative_binomial'] as const
const scales = ['measured', 'log'] as const
/** Each choice with a line that says when to use it. */
const choices = (values: readonly string[], titles: string) =>
  values.map((value) => ({
    value,
    title: t(`read.${titles}.${value}`),
    props: { subtitle: t(`read.method.when.${value}`) },
  }))
const items = computed(() => choices(methods, 'method'))
const hints = computed(() => [
  t(`read.method.when.${props.how.method}`),
  ...(props.measured && props.how.scale === 'log' ? [t('read.method.when.log')] : []),
])
const said = computed(() =>
  [
    t(`read.method.${props.how.method}`),
    `${t('read.method.alpha')} ${props.how.alpha}`,
    ...(props.measured && props.how.scale === 'log' ? [t('read.method.scales.log')] : []),
  ].join(' · '),
)
const send = (key: keyof How, value: unknown) => emit('choose', { [key]: value } as Partial<How>)
</script>

<template>
  <details class="method">
    <summary>{{ t('read.method.title') }}: {{ said }}</summary>
    <fieldset class="choice">
      <legend class="seen-by-readers-only">{{ t('read.method.title') }}</legend>
      <v-select
        class="wide"
        :label="t('read.method.title')"
        :items="items"
        :model-value="how.method"
        @update:model-value="send('method', $event)"
      />
      <v-select
        :label="t('read.method.alpha')"
        :items="alphas"
        :model-value="how.alpha"
        @update:model-value="send('alpha', $event)"
      />
      <template v-if="!['crd', 'latin_square'].includes(design)">
        <v-select
          :label="t('read.method.blocks')"
          :items="choices(effects, 'method')"
          :model-value="how.block_effect"
          @update:model-value="send('block_effect', $event)"
        />
        <v-select
          v-if="how.block_effect === 'random' || ['split_plot', 'strip_plot'].includes(design)"
          class="middle"
          :label="t('read.method.df')"
          :items="choices(dfs, 'method')"
          :model-value="how.df_method"
          @update:model-value="send('df_method', $event)"
        />
      </template>
      <v-select
        v-if="measured"
        class="middle"
        :label="t('read.method.scale')"
        :items="choices(scales, 'method.scales')"
        :model-value="how.scale"
        @update:model-value="send('scale', $event)"
      />
      <v-select
        v-if="counted && oneStratum"
        class="wide"
        :label="t('read.method.counts')"
        :items="choices(counts, 'method.countModels')"
        :model-value="how.counts"
        @update:model-value="send('counts', $event)"
      />
      <p class="hints quiet small">{{ hints.join(' ') }}</p>
    </fieldset>
  </details>
</template>

<style scoped>
.choice {
  border: 0;
  padding: 8px 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
.choice > * {
  flex: 0 0 130px;
}
.choice > .middle {
  flex-basis: 180px;
}
.choice > .wide {
  flex-basis: 290px;
}
.choice > .hints {
  flex-basis: 100%;
  margin: -4px 0 0;
}
</style>
