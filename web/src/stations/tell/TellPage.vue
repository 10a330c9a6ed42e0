<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import { trialQueries, type Trial } from '@/api/queries'
import TreatmentTag from '@/ground/TreatmentTag.vue'
import MakeFile from '@/parts/MakeFile.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import { notOpened } from '@/stations/read/notOpened'
import OpenResults from '@/stations/read/OpenResults.vue'
import { useStationGround } from '@/shell/useGround'

/** What the grower's page will say, word for word, and the two files to take away. */
const props = defineProps<{ trial: Trial }>()
const { t } = useI18n()
const { data: report, error, refetch } = useQuery(computed(() => trialQueries.report(props.trial.id)))
useStationGround(() => ({ title: t('ground.by.treatment'), unit: '', faces: {} }))
const indexOf = (name: string) => props.trial.treatments.findIndex((one) => one.name === name)
const codeOf = (name: string) => props.trial.treatments[indexOf(name)]?.code ?? ''
</script>

<template>
  <h1>{{ t('tell.title') }}</h1>
  <OpenResults v-if="notOpened(error)" :trial="trial" />
  <ProblemNote v-else-if="error" :problem="error" :again="refetch" />
  <p v-else-if="!report" role="status">{{ t('app.loading') }}</p>
  <template v-else>
    <div class="take">
      <MakeFile :trial="trial.id" :file="{ file: 'page.pdf' }" card>
        <strong>{{ t('tell.page') }}</strong>
        <span class="quiet">{{ t('tell.pageLead') }}</span>
      </MakeFile>
      <MakeFile :trial="trial.id" :file="{ file: 'package.zip' }" card>
        <strong>{{ t('tell.package') }}</strong>
        <span class="quiet">{{ t('tell.packageLead') }}</span>
      </MakeFile>
    </div>
    <article class="paper" :aria-label="t('tell.says')">
      <h2>{{ report.question || trial.name }}</h2>
      <p class="quiet">{{ report.where }}</p>
      <p class="short">{{ report.short }}</p>
      <section v-for="m in report.measures" :key="m.name">
        <h3>
          {{ m.name }} <span class="quiet">{{ m.unit }}</span>
        </h3>
        <p v-if="m.refusal" class="quiet">{{ m.refusal }}</p>
        <ul>
          <li v-for="line in m.lines" :key="line.treatment">
            <TreatmentTag :index="indexOf(line.treatment)" :code="codeOf(line.treatment)" />
            <span
              ><b>{{ line.treatment }}:</b> {{ line.sentence }}</span
            >
          </li>
        </ul>
      </section>
      <section v-if="report.doubts.length">
        <h3>{{ t('tell.doubts') }}</h3>
        <ul class="doubts">
          <li v-for="d in report.doubts" :key="d.finding">
            <b>{{ d.title }}.</b> {{ d.finding }}
            <span v-if="d.answer" class="quiet">{{ d.answer }}</span>
          </li>
          <li v-if="report.more_doubts" class="quiet">{{ t('tell.moreDoubts', report.more_doubts) }}</li>
        </ul>
      </section>
      <p class="quiet small">{{ report.how }}</p>
      <p class="quiet small">{{ report.signed }}</p>
    </article>
  </template>
</template>

<style scoped>
.take {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px;
  margin: 8px 0 20px;
}
.paper {
  max-width: 760px;
  border: 1px solid var(--rule);
  padding: 20px 24px;
}
.short {
  font-size: 16px;
  font-weight: 650;
}
ul {
  list-style: none;
  padding: 0;
  margin: 4px 0 12px;
}
li {
  display: flex;
  gap: 10px;
  align-items: flex-start;
  padding: 4px 0;
}
.doubts li {
  display: block;
}
@media (max-width: 720px) {
  .take {
    grid-template-columns: 1fr;
  }
  .paper {
    padding: 14px;
  }
}
</style>
