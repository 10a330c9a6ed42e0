import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { trialQueries, type How } from '@/api/queries'

const KEYS = ['method', 'alpha', 'block_effect', 'df_method', 'counts', 'scale', 'against'] as const

/** The reading of a trial with the method that the address names, so that a link shows what its sender saw. */
export function useReading(trial: MaybeRefOrGetter<string>) {
  const route = useRoute()
  const router = useRouter()
  const how = computed<How>(() => {
    const given: Record<string, unknown> = {}
    for (const key of KEYS)
      if (route.query[key]) given[key] = key === 'alpha' ? Number(route.query[key]) : route.query[key]
    return given as How
  })
  const query = useQuery(
    computed(() => ({
      ...trialQueries.reading(toValue(trial), how.value),
      placeholderData: keepPreviousData,
    })),
  )
  function choose(change: Partial<How>) {
    void router.replace({ query: { ...route.query, ...(change as Record<string, string>) } })
  }
  return { ...query, how, choose }
}
