<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { SpeciesFit } from '@/api/queries'
import { figure, plain } from '@/texts/format'

/** Species in order, each with why; below them what can't work here. */
const props = defineProps<{ fits: SpeciesFit[]; mixed: string[]; weighed: boolean }>()
const emit = defineEmits<{ add: [key: string]; open: [key: string] }>()
const { t } = useI18n()
const AT_FIRST = 10
const all = ref(false)
const good = computed(() => props.fits.filter((fit) => fit.score !== null))
const listed = computed(() => (all.value ? good.value : good.value.slice(0, AT_FIRST)))
const aside = computed(() =>
  (['unknown', 'out'] as const).map((kind) => ({
    kind,
    fits: props.fits.filter((fit) => fit[kind].length && (kind === 'out' || !fit.out.length)),
  })),
)
const names = computed(() => new Map(props.fits.map((fit) => [fit.key, fit.name])))
const served = (r: SpeciesFit['why'][number]) =>
  t('species.why', { service: r.service, rating: plain(r.rating) }) + (r.why ? ` (${r.why})` : '')
const partners = (fit: SpeciesFit) => fit.partners.map((key) => names.value.get(key) ?? key).join(', ')
</script>

<template>
  <section aria-labelledby="ranked">
    <h2 id="ranked">{{ t('species.ranked') }}</h2>
    <p class="small">
      {{ t('species.found', good.length) }}
      <template v-for="{ kind, fits: found } in aside" :key="kind">
        ·
        <a v-if="found.length" :href="`#${kind}`">{{
          t(`species.foundAside.${kind}`, { n: found.length })
        }}</a><span v-else class="quiet">{{ t(`species.foundAside.${kind}`, { n: 0 }) }}</span>
      </template>
    </p>
    <p v-if="!weighed" class="quiet">{{ t('species.noPurpose') }}</p>
    <p v-else-if="!good.length">{{ t('species.rankedNone') }}</p>
    <ol>
      <li v-for="fit in listed" :key="fit.key" :aria-label="fit.name">
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
          {{ fit.why.map(served).join(' · ') }}
        </p>
        <p v-for="cost in fit.costs" :key="cost.text" class="small cost">
          <b>{{ t('species.points', { n: plain(cost.points) }) }}</b> {{ cost.text }}
        </p>
        <p v-for="note in fit.notes" :key="note" class="small quiet">{{ note }}</p>
        <p v-if="fit.partners.length" class="small quiet">{{ t('species.partners') }}: {{ partners(fit) }}</p>
      </li>
    </ol>
    <button v-if="listed.length < good.length" type="button" class="pill more" @click="all = true">
      {{ t('species.showAll', { n: good.length }) }}
    </button>
    <template v-for="{ kind, fits: found } in aside" :key="kind">
      <template v-if="found.length">
        <h2 :id="kind">{{ t(`species.aside.${kind}`) }}</h2>
        <p class="quiet small">{{ t(`species.asideLead.${kind}`) }}</p>
        <ul class="aside" :aria-label="t(`species.aside.${kind}`)">
          <li v-for="fit in found" :key="fit.key">
            <button type="button" class="link-button" @click="emit('open', fit.key)">{{ fit.name }}</button>
            <span class="small">{{ fit[kind].join(' ') }}</span>
          </li>
        </ul>
      </template>
    </template>
  </section>
</template>

<style scoped>
ol,
.aside {
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
  white-space: nowrap;
}
.more {
  margin-bottom: 20px;
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
.cost b {
  color: var(--loss);
  font-variant-numeric: tabular-nums;
}
.own {
  border: 1px solid var(--field);
  border-radius: 4px;
  padding: 0 5px;
}
.aside li {
  display: grid;
  grid-template-columns: 170px minmax(0, 1fr);
  gap: 10px;
  align-items: baseline;
  border-top: 1px solid var(--rule);
  padding: 3px 0;
}
.aside .link-button {
  text-align: left;
}
@media (max-width: 720px) {
  .score {
    display: none;
  }
  ol p {
    margin-left: 0;
  }
  .aside li {
    grid-template-columns: 1fr;
    gap: 0;
  }
}
</style>
