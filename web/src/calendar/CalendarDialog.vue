<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef } from 'vue'
import { useI18n } from 'vue-i18n'

import { calendarApi, calendarsQuery } from '@/api/calendar'
import type { Trial } from '@/api/queries'
import ProblemNote from '@/parts/ProblemNote.vue'

/** A private address for a calendar program: over all trials, or of one. */
const props = defineProps<{ trial?: Trial }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const queries = useQueryClient()
const { data } = useQuery(computed(() => ({ ...calendarsQuery, enabled: open.value })))
const problem = shallowRef<Error | null>(null)
const copied = ref('')
const places = computed(() =>
  [
    ...(props.trial ? [{ trial: props.trial.id, title: t('calendar.one', { name: props.trial.name }) }] : []),
    { trial: null, title: t('calendar.all') },
  ].map((place) => ({
    ...place,
    feed: data.value?.feeds.find((one) => one.trial === place.trial) ?? null,
  })),
)
async function act(what: () => Promise<unknown>) {
  problem.value = null
  try {
    await what()
  } catch (thrown) {
    problem.value = thrown as Error
  }
  await queries.invalidateQueries({ queryKey: ['calendars'] })
}
async function copy(address: string) {
  await navigator.clipboard.writeText(address)
  copied.value = address
}
</script>

<template>
  <v-dialog v-model="open" max-width="620" :aria-label="t('calendar.title')">
    <div class="sheet">
      <h2>{{ t('calendar.title') }}</h2>
      <p>{{ t('calendar.lead') }}</p>
      <section v-for="place in places" :key="place.trial ?? 'all'">
        <h3>{{ place.title }}</h3>
        <template v-if="place.feed">
          <v-text-field
            :model-value="place.feed.address"
            readonly
            :label="t('calendar.address')"
            hide-details
            @focus="($event.target as HTMLInputElement).select()"
          />
          <div class="acts">
            <button type="button" class="pill" @click="copy(place.feed.address)">
              {{ t('calendar.copy') }}
            </button>
            <button type="button" class="link-button" @click="act(() => calendarApi.remove(place.feed!.id))">
              {{ t('calendar.remove') }}
            </button>
            <span v-if="copied === place.feed.address" role="status">{{ t('calendar.copied') }}</span>
          </div>
        </template>
        <button v-else type="button" class="pill" @click="act(() => calendarApi.make(place.trial))">
          {{ t('calendar.make') }}
        </button>
      </section>
      <ProblemNote v-if="problem" :problem="problem" />
      <button type="button" class="link-button close" @click="open = false">{{ t('calendar.close') }}</button>
    </div>
  </v-dialog>
</template>

<style scoped>
.sheet {
  background: var(--paper);
  color: var(--ink);
  border-radius: 12px;
  padding: 20px;
  overflow-y: auto;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
h2,
h3,
p {
  margin: 0;
}
h3 {
  font-size: 15px;
  margin-bottom: 6px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
  align-items: center;
  margin-top: 8px;
}
.close {
  align-self: flex-start;
}
</style>
