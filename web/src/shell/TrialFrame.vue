<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, toRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'

import { logQuery } from '@/api/fieldLog'
import { trialQueries } from '@/api/queries'
import { chooseSite } from '@/api/site'
import GroundMap from '@/ground/GroundMap.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useSmallScreen } from '@/parts/useSmallScreen'
import SeasonStrip from '@/strip/SeasonStrip.vue'

import SiteChoice from './SiteChoice.vue'
import ThumbIndex from './ThumbIndex.vue'
import TopBand from './TopBand.vue'
import { provideGround } from './useGround'

const props = defineProps<{ trial: string }>()
const { t } = useI18n()
const route = useRoute()
/** A link may name the site that it speaks of. */
watch(
  () => route.query.site,
  (site) => typeof site === 'string' && chooseSite(props.trial, site),
  { immediate: true },
)
const { data, error, refetch } = useQuery(trialQueries.one(toRef(props, 'trial')))
const { data: season } = useQuery(trialQueries.season(toRef(props, 'trial')))
const { data: log } = useQuery(logQuery(toRef(props, 'trial')))
const { view, chosen, doubts } = provideGround()
const small = useSmallScreen()
const folded = ref(small.value)
/** On a phone a visit has the whole screen: neither strip nor map is drawn. */
const walking = computed(() => small.value && route.name === 'visit')
const place = computed(() =>
  [data.value?.site.name, data.value?.site.place].filter((s) => s && s !== 'Not stated').join(', '),
)
watch(data, (trial) => trial && (document.title = `${trial.name} · Apercu`))
/** A stake's code opens the trial with its plot chosen. */
watch(
  () => [data.value?.plots, route.query.plot] as const,
  ([plots, label]) => {
    const found = plots?.find((plot) => plot.label === label)
    if (!found) return
    chosen.value = [found.label]
    folded.value = false
  },
  { immediate: true },
)
</script>

<template>
  <div class="frame">
    <TopBand :name="data?.name" :question="data?.question" />
    <ProblemNote v-if="error" :problem="error" :again="refetch" />
    <p v-if="!data && !error" class="wait" role="status">{{ t('app.loading') }}</p>
    <template v-if="data">
      <SeasonStrip v-if="!walking" :trial="data" :season="season" :log="log">
        <button
          v-if="$route.name !== 'layout'"
          type="button"
          class="pill unfold"
          :aria-expanded="!folded"
          @click="folded = !folded"
        >
          {{ folded ? t('frame.showGround') : t('frame.hideGround') }}
        </button>
      </SeasonStrip>
      <div class="body">
        <aside
          v-if="$route.name !== 'layout' && !walking"
          class="ground"
          :class="{ folded }"
          :aria-label="t('frame.ground')"
        >
          <div v-show="!folded" class="land">
            <div class="head">
              <strong>{{ place || t('frame.ground') }}</strong>
              <span class="quiet"
                >{{ view.title }}<template v-if="view.unit">, {{ view.unit }}</template></span
              >
            </div>
            <p v-if="!data.plots.length" class="bare quiet">{{ t('ground.empty') }}</p>
            <GroundMap
              v-else
              v-model:chosen="chosen"
              :plots="data.plots"
              :treatments="view.blind ? [] : data.treatments"
              :faces="view.faces"
              :way="view.way"
              :cleaned="view.cleaned"
              :strips="view.strips"
              :samples="view.samples"
              :failed="view.failed"
              :bearing="Number(data.site.bearing_deg ?? 0)"
              :schematic="data.schematic"
              :gradient="data.site.gradient ?? ''"
              :length-unit="data.length_unit"
              :length-factor="data.length_factor"
            />
            <p v-if="chosen.length" class="chosen">
              {{ t('ground.chosen', chosen.length) }}
              <button type="button" class="link-button" @click="chosen = []">{{ t('ground.letGo') }}</button>
            </p>
          </div>
        </aside>
        <main class="desk">
          <SiteChoice v-if="data.sites.length > 1 && !walking" :trial="data" />
          <router-view :key="data.id + data.site.id" :trial="data" />
        </main>
        <ThumbIndex :trial="data" :season="season" :doubts="doubts" />
      </div>
    </template>
  </div>
</template>

<style scoped>
.frame {
  display: flex;
  flex-direction: column;
  min-height: 100vh;
}
.wait {
  padding: 24px;
}
.body {
  display: flex;
  flex: 1;
  align-items: stretch;
}
.ground {
  width: 372px;
  flex: none;
  background: var(--ground);
  border-right: 1px solid var(--rule);
}
.land {
  position: sticky;
  top: 78px;
  display: flex;
  flex-direction: column;
  height: min(calc(100vh - 172px), 655px);
}
.head {
  display: flex;
  justify-content: space-between;
  flex-wrap: wrap;
  gap: 2px 12px;
  padding: 12px 18px 4px;
}
.bare {
  padding: 24px 18px;
}
.unfold {
  display: none;
}
.chosen {
  margin: 0;
  padding: 4px 18px 8px;
}
.desk {
  flex: 1;
  min-width: 0;
  padding: 16px 20px 40px;
  background: var(--paper);
}
@media (max-width: 1080px) {
  .ground {
    width: 290px;
  }
}
@media (max-width: 720px) {
  .body {
    flex-direction: column;
    padding-bottom: 104px;
  }
  .ground {
    width: auto;
    border-right: 0;
    border-bottom: 1px solid var(--rule);
    padding: 6px 14px;
  }
  .ground.folded {
    display: none;
  }
  .unfold {
    display: block;
    flex: none;
  }
  .land {
    position: static;
    height: 440px;
  }
  .desk {
    padding: 14px 14px 30px;
  }
}
</style>
