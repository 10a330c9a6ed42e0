<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { dayListQuery } from '@/api/calendar'
import ProblemNote from '@/parts/ProblemNote.vue'
import TopBand from '@/shell/TopBand.vue'
import { day } from '@/texts/format'

/** A day’s work over all trials on one page, to print and hand to whoever does it. */
const { t } = useI18n()
const asked = ref('')
const { data, error, refetch } = useQuery(computed(() => dayListQuery(asked.value)))
watch(data, (now) => now && !asked.value && (asked.value = now.day))
const trials = computed(() => {
  const found = new Map<string, NonNullable<typeof data.value>['lines']>()
  for (const line of data.value?.lines ?? []) {
    const key = `${line.trial_name}, ${line.site}`
    found.set(key, [...(found.get(key) ?? []), line])
  }
  return [...found]
})
const print = () => window.print()
document.title = t('dayList.title')
</script>

<template>
  <TopBand class="screen" />
  <main class="page">
    <div class="top screen">
      <router-link :to="{ name: 'today' }">{{ t('dayList.back') }}</router-link>
      <v-text-field v-model="asked" type="date" :label="t('dayList.day')" hide-details class="when" />
      <v-btn color="accent" @click="print">{{ t('dayList.print') }}</v-btn>
    </div>
    <ProblemNote v-if="error" :problem="error" :again="refetch" />
    <p v-else-if="!data" role="status">{{ t('app.loading') }}</p>
    <template v-else>
      <h1>{{ t('dayList.for', { day: day(data.day) }) }}</h1>
      <p v-if="!trials.length">{{ t('dayList.nothing') }}</p>
      <section v-for="[name, lines] in trials" :key="name">
        <h2>{{ name }}</h2>
        <ol>
          <li v-for="(line, i) in lines" :key="i">
            <span class="box" aria-hidden="true" />
            <div>
              <strong>{{ line.name }}</strong>,
              {{ t(line.kind === 'visit' ? 'season.visit' : `season.kind.${line.kind}`) }}, {{ line.where
              }}<template v-if="line.due < data.day"
                >, {{ t('dayList.since', { day: day(line.due) }) }}</template
              >
              <p v-if="line.how.length">{{ line.how.join(' · ') }}</p>
              <p v-for="warning in line.watched" :key="warning" class="warning">{{ warning }}</p>
              <p v-if="line.caution" class="small">{{ t('season.caution') }}: {{ line.caution }}</p>
            </div>
          </li>
        </ol>
      </section>
    </template>
  </main>
</template>

<style scoped>
.page {
  max-width: 860px;
  width: 100%;
  margin: 0 auto;
  padding: 16px 20px 48px;
}
.top {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 20px;
  align-items: center;
}
.when {
  max-width: 200px;
}
h2 {
  font-size: 17px;
  margin: 18px 0 4px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 22px 1fr;
  gap: 10px;
  padding: 8px 0;
  border-top: 1px solid var(--rule);
  break-inside: avoid;
}
.box {
  width: 18px;
  height: 18px;
  border: 2px solid var(--ink);
  margin-top: 2px;
}
p {
  margin: 3px 0 0;
}
.warning {
  color: var(--unsettled);
  font-weight: 650;
}
@media print {
  .screen {
    display: none;
  }
}
</style>
