<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'

import { trialQueries } from '@/api/queries'
import DropZone from '@/parts/DropZone.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { useBroughtFile } from '@/stations/bring/useBroughtFile'
import TopBand from '@/shell/TopBand.vue'

const { t } = useI18n()
const router = useRouter()
const { data, error, refetch } = useQuery(trialQueries.list())
const brought = useBroughtFile()
document.title = 'Apercu'

function bring(file: File) {
  brought.hold(file)
  void router.push({ name: 'bring' })
}
</script>

<template>
  <TopBand />
  <main class="page">
    <h1>{{ t('today.title') }}</h1>
    <div class="columns">
      <section>
        <h2>{{ t('today.trials') }}</h2>
        <ProblemNote v-if="error" :problem="error" :again="refetch" />
        <p v-else-if="!data" role="status">{{ t('app.loading') }}</p>
        <p v-else-if="!data.results.length" class="quiet">{{ t('today.none') }}</p>
        <ul v-else class="trials">
          <li v-for="trial in data.results" :key="trial.id">
            <router-link :to="`/trials/${trial.id}/read`">
              <strong>{{ trial.name }}</strong>
              <span v-if="trial.question">{{ trial.question }}</span>
              <span class="quiet"
                >{{ trial.site === 'Not stated' ? '' : `${trial.site} · `
                }}{{ t('today.plots', { n: trial.plots }) }}</span
              >
            </router-link>
          </li>
        </ul>
      </section>
      <section>
        <h2>{{ t('today.bring') }}</h2>
        <p class="quiet">{{ t('today.bringLead') }}</p>
        <DropZone @file="bring" />
      </section>
    </div>
  </main>
</template>

<style scoped>
.page {
  padding: 20px 24px 48px;
  max-width: 1180px;
  width: 100%;
  margin: 0 auto;
}
.columns {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 40px;
  margin-top: 16px;
}
.trials {
  list-style: none;
  padding: 0;
  margin: 8px 0;
}
.trials a {
  display: flex;
  flex-direction: column;
  padding: 12px 14px;
  margin-bottom: 8px;
  border: 1px solid var(--rule);
  border-left: 5px solid var(--band);
  border-radius: 0 8px 8px 0;
  color: var(--ink);
  text-decoration: none;
  background: var(--ground);
}
.trials a:hover {
  border-left-color: var(--accent);
}
@media (max-width: 720px) {
  .columns {
    grid-template-columns: 1fr;
    gap: 24px;
  }
  .page {
    padding: 14px;
  }
}
</style>
