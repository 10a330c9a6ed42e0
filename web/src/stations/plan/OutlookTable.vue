<script setup lang="ts">
import { useI18n } from 'vue-i18n'

import type { MeasureOutlook } from '@/api/queries'
import BlocksCurve from '@/figures/BlocksCurve.vue'
import DownloadChart from '@/parts/DownloadChart.vue'
import DownloadTable from '@/parts/DownloadTable.vue'
import { figure, plain } from '@/texts/format'

import { amount } from './amount'
import { textOf } from './designs'
import FramesChoice from './FramesChoice.vue'

/** What the plan will be able to see: one section a measure, with the chance of each verdict drawn and written. */
defineProps<{
  measures: MeasureOutlook[]
  busy: boolean
  control: boolean
  mayDraw: boolean
  replicates?: boolean
}>()
/** Measure → how much frames in one plot vary, per cent, as typed. */
const frameCv = defineModel<Record<string, string>>('frameCv', { required: true })
const { t } = useI18n()
type Chances = NonNullable<MeasureOutlook['outlook']>['chances'][number]
const PARTS = [
  ['clear_right', 'gain'],
  ['clear_wrong', 'loss'],
  ['real_unsettled', 'real'],
  ['real_small', 'small'],
  ['no_difference', 'none'],
  ['not_settled', 'open'],
] as const

/** Whole per cent that add up to 100; what rounds to nothing is left out. */
function parts(chances: Chances) {
  let at = 0
  return PARTS.map(([key, tone]) => {
    const share = chances[key]
    const part = { key, tone, share, from: at, percent: Math.round(100 * share) }
    at += share
    return part
  }).filter((part) => part.percent > 0)
}
const truth = (i: number, m: MeasureOutlook) =>
  i === 0
    ? t('plan.truth0')
    : t(i === 1 ? 'plan.truth1' : 'plan.truth2', { d: amount(m.outlook!.chances[i]!.truth, m) })
/** Monte Carlo error of a share of a half, in per cent: no share's is larger. */
const worst = (runs: number) => figure(50 / Math.sqrt(runs), 1)
const percent = (share: number) => `${figure(100 * share, 0)} %`
</script>

<template>
  <section id="detectable" :aria-busy="busy" class="outlook">
    <h2>{{ t('plan.detectable') }}</h2>
    <p v-if="!measures.length" class="quiet">
      {{ t('plan.noMeasures') }} <router-link :to="{ name: 'ask' }">{{ t('plan.toAsk') }}</router-link>
    </p>
    <article v-for="m in measures" :key="m.id">
      <h3>
        {{ m.name }} <span class="quiet">{{ m.unit }}</span>
      </h3>
      <p v-if="!m.outlook" class="quiet">{{ m.reason }}</p>
      <template v-else>
        <p class="said">
          <strong>{{ t('plan.sees', { d: amount(m.outlook.detectable, m) }) }}</strong>
          {{ t(textOf('oneMore', replicates), { d: amount(m.outlook.detectable_with_one_more, m) }) }}
          <span
            v-if="m.margin !== null"
            :class="m.outlook.detectable > m.margin ? 'tone-loss' : 'tone-gain'"
            >{{
              t(m.outlook.detectable > m.margin ? 'plan.tooSmall' : 'plan.enough', { d: amount(m.margin, m) })
            }}</span
          >
          <span v-else class="quiet">{{ t('plan.noMargin') }}</span>
        </p>
        <p v-if="m.in_complete_blocks">
          {{
            t(
              m.in_complete_blocks > m.outlook.detectable
                ? 'plan.replicates.complete'
                : 'plan.replicates.completeBetter',
              { d: amount(m.in_complete_blocks, m) },
            )
          }}
        </p>
        <p v-if="m.planned" class="said">
          {{
            t(`plan.planned.${m.planned.kind as 'equivalence'}`, {
              p: percent(m.planned.chance),
              h: percent(m.planned.chance_at_half),
              d: amount(m.margin! / 2, m),
            })
          }}
          <strong>{{
            m.planned.blocks === null
              ? t(textOf('planned.tooMany', replicates), { n: m.planned.most })
              : t(textOf('planned.blocks', replicates), m.planned.blocks)
          }}</strong>
        </p>
        <table v-if="m.outlook.chances.length" class="chances">
          <caption class="seen-by-readers-only">
            {{
              t('plan.chances', { m: m.name })
            }}
          </caption>
          <tbody>
            <tr v-for="(c, i) in m.outlook.chances" :key="i">
              <th scope="row">{{ truth(i, m) }}</th>
              <td>
                <svg
                  width="100%"
                  height="16"
                  viewBox="0 0 100 16"
                  preserveAspectRatio="none"
                  aria-hidden="true"
                >
                  <rect
                    v-for="part in parts(c)"
                    :key="part.key"
                    :class="part.tone"
                    :x="100 * part.from"
                    width="100"
                    height="16"
                  />
                </svg>
                <span v-for="(part, k) in parts(c)" :key="part.key" class="part">
                  <i :class="part.tone" aria-hidden="true" /><b>{{ part.percent }} %</b>
                  {{ t(`plan.verdict.${part.key === 'clear_right' && i === 0 ? 'clear_any' : part.key}`)
                  }}{{ k < parts(c).length - 1 ? ', ' : '' }}
                </span>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="m.outlook.chances[1]?.runs" class="quiet small">
          {{
            t('plan.simulated', { n: plain(m.outlook.chances[1].runs), e: worst(m.outlook.chances[1].runs) })
          }}
        </p>
        <DownloadTable v-if="m.outlook.kinds.length > 1" :name="t('plan.kinds')" :of="m.name">
          <table class="kinds">
            <caption class="small quiet">
              {{
                t('plan.kinds')
              }}
            </caption>
            <thead>
              <tr>
                <th scope="col">{{ t('plan.kind') }}</th>
                <th scope="col" class="number">{{ t('plan.kindSeen') }}</th>
                <th scope="col" class="number">{{ t('plan.kindDf') }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="kind in m.outlook.kinds" :key="kind.name">
                <th scope="row">{{ kind.name }}</th>
                <td class="number">{{ amount(kind.detectable, m) }}</td>
                <td class="number">{{ figure(kind.df, kind.df % 1 ? 1 : 0) }}</td>
              </tr>
            </tbody>
          </table>
        </DownloadTable>
        <DownloadChart v-if="m.curve.length" :name="t('plan.curve')" :of="m.name">
          <BlocksCurve
            :points="m.curve"
            :margin="m.margin"
            :unit="m.unit"
            :decimals="m.decimals"
            :now="m.outlook.blocks"
            :replicates="replicates"
          />
        </DownloadChart>
        <FramesChoice
          :model-value="frameCv[m.id] ?? ''"
          :measure="m"
          :may="mayDraw"
          :replicates="replicates"
          @update:model-value="frameCv = { ...frameCv, [m.id]: $event }"
        />
        <p class="quiet small">
          {{
            t(textOf('spread', replicates), {
              cv: figure(m.spread!.cv_percent, 1),
              sd: amount(m.sigma!, m),
              source: m.spread!.source,
              df: figure(m.outlook.error_df, m.outlook.error_df % 1 ? 1 : 0),
            })
          }}
        </p>
      </template>
    </article>
    <p v-if="measures.some((m) => m.outlook)" class="quiet small">
      {{ t(control ? 'plan.methodDunnett' : 'plan.methodTukey') }}
    </p>
  </section>
</template>

<style scoped>
.outlook {
  margin-top: 26px;
}
article {
  border-top: 1px solid var(--rule);
  padding: 10px 0;
}
.said span {
  margin-left: 6px;
  font-weight: 650;
}
.chances {
  width: 100%;
  border-collapse: collapse;
}
.chances th {
  width: 190px;
  text-align: left;
  font-weight: 500;
  vertical-align: top;
  padding: 4px 12px 6px 0;
}
.chances td {
  padding: 4px 0 6px;
}
.chances svg {
  display: block;
  border-radius: 4px;
  margin-bottom: 3px;
}
.part {
  font-size: 13px;
  margin-right: 6px;
}
.part i {
  display: inline-block;
  width: 10px;
  height: 10px;
  border-radius: 2px;
  margin-right: 4px;
}
rect.gain,
i.gain {
  fill: var(--gain);
  background: var(--gain);
}
rect.loss,
i.loss {
  fill: var(--loss);
  background: var(--loss);
}
rect.real,
i.real {
  fill: color-mix(in srgb, var(--gain) 45%, var(--paper));
  background: color-mix(in srgb, var(--gain) 45%, var(--paper));
}
rect.small,
i.small {
  fill: var(--neutral);
  background: var(--neutral);
}
rect.none,
i.none {
  fill: var(--field);
  background: var(--field);
}
rect.open,
i.open {
  fill: var(--margin);
  background: var(--margin);
}
.kinds {
  border-collapse: collapse;
  margin: 8px 0;
}
.kinds caption {
  text-align: left;
}
.kinds th {
  text-align: left;
  font-weight: 500;
}
.kinds th,
.kinds td {
  padding: 3px 18px 3px 0;
  border-bottom: 1px solid var(--rule);
}
.kinds .number {
  text-align: right;
  white-space: nowrap;
}
@media (max-width: 720px) {
  .kinds thead .number {
    white-space: normal;
  }
  .kinds th,
  .kinds td {
    padding-right: 10px;
  }
  .chances th {
    width: 110px;
  }
}
</style>
