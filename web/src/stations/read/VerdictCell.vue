<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Cell, MeasureReading } from '@/api/queries'
import { figure, signed } from '@/texts/format'

import DifferenceGlyph from '@/figures/DifferenceGlyph.vue'
import { toneOfCell } from '@/figures/verdicts'

const props = defineProps<{ cell: Cell; measure: MeasureReading }>()
const { t } = useI18n()
const tone = computed(() => toneOfCell(props.cell, props.measure.direction))
const words = computed(() => {
  const verdict = t(`read.verdict.${props.cell.verdict}`)
  if (props.cell.verdict === 'not-settled' && props.cell.reason) return `${verdict} (${props.cell.reason})`
  return verdict
})
const more = computed(() => {
  if (props.cell.blocks !== null)
    return props.cell.blocks_likely === null
      ? t('read.blocksUnlikely', { n: props.cell.blocks })
      : t('read.blocks', { n: props.cell.blocks, likely: props.cell.blocks_likely })
  return props.cell.more_than_40 ? t('read.tooMany') : ''
})
/** The outcome of a planned test, which stands beside the verdict and never in its place. */
const planned = computed(() => {
  const test = props.measure.planned.find((one) => one.treatment === props.cell.treatment)
  if (!test || test.kind === 'none') return ''
  const said = t(`read.plannedOutcome.${test.shown ? 'shown' : 'notShown'}.${test.kind}`)
  return test.chosen_after ? t('read.plannedAfter', { said }) : said
})
const label = computed(() =>
  t('read.glyph', {
    treatment: props.cell.treatment,
    d: signed(props.cell.estimate, props.measure.decimals),
    l: figure(props.cell.lower, props.measure.decimals),
    u: figure(props.cell.upper, props.measure.decimals),
    unit: props.measure.difference_unit,
    verdict: words.value,
  }),
)
</script>

<template>
  <div class="cell">
    <p v-if="cell.verdict === 'no-answer'" class="none">
      <strong>{{ words }}</strong> <span class="quiet">{{ cell.reason }}</span>{{ ' ' }}
      <span v-if="cell.estimate !== null && cell.lower === null" class="seen">{{
        t('read.seen', { d: signed(cell.estimate, measure.decimals), unit: measure.difference_unit })
      }}</span>
    </p>
    <template v-else>
      <div class="picture" tabindex="0" :aria-label="label" role="img">
        <DifferenceGlyph
          :cell="cell"
          :cells="measure.cells"
          :band="measure.band"
          :direction="measure.direction"
          label=""
          aria-hidden="true"
        />
        <span v-if="cell.lower !== null" class="ends" aria-hidden="true">{{
          t('read.ends', {
            l: figure(cell.lower, measure.decimals),
            u: figure(cell.upper, measure.decimals),
            unit: measure.difference_unit,
          })
        }}</span>
      </div>
      <p class="words">
        <strong>{{ signed(cell.estimate, measure.decimals) }}</strong>
        <span v-if="cell.stands_out" class="dot" aria-hidden="true"> ●</span>
        <span class="verdict" :class="`tone-${tone}`">{{ words }}</span>
        <span v-if="planned" class="more">{{ planned }}</span>
        <span v-if="more" class="more">{{ more }}</span>
      </p>
    </template>
  </div>
</template>

<style scoped>
.words,
.none {
  margin: 0;
  font-size: 13px;
}
.picture {
  position: relative;
  width: fit-content;
}
.ends {
  position: absolute;
  z-index: 2;
  left: 0;
  bottom: 100%;
  display: none;
  padding: 3px 8px;
  border-radius: 6px;
  background: var(--band);
  color: var(--on-band);
  font-size: 12.5px;
  font-weight: 600;
  white-space: nowrap;
}
.picture:hover .ends,
.picture:focus .ends {
  display: block;
}
.dot {
  font-size: 9px;
  vertical-align: 2px;
}
.verdict {
  display: block;
  font-weight: 600;
}
.more {
  display: block;
  color: var(--quiet);
  font-size: 12px;
}
.seen {
  display: block;
}
</style>
