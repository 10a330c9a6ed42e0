<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SpeciesFit } from '@/api/queries'
import { figure } from '@/texts/format'

/** Species in order, each with why; below them what can't work here. */
const props = defineProps<{ fits: SpeciesFit[]; mixed: string[]; weighed: boolean }>()
const emit = defineEmits<{ add: [key: string]; open: [key: string] }>()
const { t } = useI18n()
const good = computed(() => props.fits.filter((fit) => !fit.out.length))
const out = computed(() => props.fits.filter((fit) => fit.out.length))
const names = computed(() => new Map(props.fits.map((fit) => [fit.key, fit.name])))
const partners = (fit: SpeciesFit) => fit.partners.map((key) => names.value.get(key) ?? key).join(', ')
</script>

<template>
  <section aria-labelledby="ranked">
    <h2 id="ranked">{{ t('species.ranked') }}</h2>
    <p v-if="!weighed" class="quiet">{{ t('species.noPurpose') }}</p>
    <p v-else-if="!good.length">{{ t('species.rankedNone') }}</p>
    <ol>
      <li v-for="fit in good" :key="fit.key" :aria-label="fit.name">
        <div class="head">
          <span class="score" aria-hidden="true"><span :style="{ '--part': `${fit.score}%` }" /></span>
          <strong>{{ fit.name }}</strong>
          <span v-if="fit.own" class="own small">{{ t('species.own') }}</span>
          <span class="quiet small points">{{ t('species.score', { n: figure(fit.score, 0) }) }}</span>
          <button type="button" class="link-button" @click="emit('open', fit.key)">
            {{ t('species.record') }}
          </button>
          <button
            type="button"
            class="pill"
            :disabled="mixed.includes(fit.key)"
            @click="emit('add', fit.key)"
          >
            {{ t(mixed.includes(fit.key) ? 'species.inMix' : 'species.addToMix') }}
          </button>
        </div>
        <p v-if="fit.why.length" class="small">
          {{ fit.why.map((r) => t('species.why', { service: r.service, rating: r.rating })).join(' · ') }}
        </p>
        <p v-for="clash in fit.clashes" :key="clash" class="small clash">
          <b>{{ t('species.clash') }}:</b> {{ clash }}
        </p>
        <p v-for="danger in fit.dangers" :key="danger" class="small">
          <b>{{ t('species.danger') }}:</b> {{ danger }}
        </p>
        <p v-if="fit.unknown.length" class="small quiet">
          {{ t('species.unknown') }}: {{ fit.unknown.join('; ') }}
        </p>
        <p v-if="fit.partners.length" class="small quiet">{{ t('species.partners') }}: {{ partners(fit) }}</p>
      </li>
    </ol>
    <template v-if="out.length">
      <h2>{{ t('species.out') }}</h2>
      <ul class="out">
        <li v-for="fit in out" :key="fit.key">
          <button type="button" class="link-button" @click="emit('open', fit.key)">{{ fit.name }}</button>
          <span class="small">{{ fit.out.join(' ') }}</span>
        </li>
      </ul>
    </template>
  </section>
</template>

<style scoped>
ol,
.out {
  list-style: none;
  padding: 0;
  margin: 0 0 20px;
}
ol li {
  padding: 8px 0 10px;
  border-top: 1px solid var(--rule);
}
ol p {
  margin: 1px 0 0 68px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
}
.points {
  flex: 1;
}
/* A root that reaches as deep as the species serves. */
.score {
  width: 56px;
  height: 12px;
  border-bottom: 2px solid var(--field);
  position: relative;
}
.score span {
  position: absolute;
  inset: 2px auto 0 0;
  width: var(--part);
  background: var(--gain);
  clip-path: polygon(0 0, 100% 45%, 100% 55%, 0 100%);
}
.clash b {
  color: var(--loss);
}
.own {
  border: 1px solid var(--field);
  border-radius: 4px;
  padding: 0 5px;
}
.out li {
  display: grid;
  grid-template-columns: 170px minmax(0, 1fr);
  gap: 10px;
  align-items: baseline;
  border-top: 1px solid var(--rule);
  padding: 3px 0;
}
.out .link-button {
  text-align: left;
}
@media (max-width: 720px) {
  ol p {
    margin-left: 0;
  }
  .out li {
    grid-template-columns: 1fr;
    gap: 0;
  }
}
</style>
