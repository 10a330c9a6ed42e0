import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onUnmounted, ref, shallowRef, watch, type Ref } from 'vue'

import type { Shapes } from '@/api/client'
import { sowApi, sowQuery } from '@/api/sow'
import { newId } from '@/parts/newId'
import { faultsIn } from '@/parts/faults'

/** How long typing has to rest before the answer is asked for, ms. */
const REST = 150

/**
 * A calibration as it is typed: `answer` is what it says so far, asked again whenever it changes; `saveTest` keeps it.
 * `ready`: whether there is enough to ask.
 */
export function useCalibration<Given extends object, Found>(
  trial: string,
  kind: Shapes['SowingTestInRequest']['kind'],
  given: Ref<Given>,
  ready: Ref<boolean>,
  ask: (trial: string, given: Given) => Promise<Found>,
) {
  const queries = useQueryClient()
  const rested = shallowRef(given.value)
  let timer: ReturnType<typeof setTimeout> | undefined
  watch(given, (now) => {
    clearTimeout(timer)
    timer = setTimeout(() => (rested.value = now), REST)
  })
  onUnmounted(() => clearTimeout(timer))
  const { data: answer, error } = useQuery(
    computed(() => ({
      queryKey: ['calibration', trial, kind, rested.value],
      queryFn: () => ask(trial, rested.value),
      enabled: ready.value,
      retry: false,
      placeholderData: keepPreviousData,
    })),
  )
  const about = ref('')
  let id = newId()
  const {
    mutate: saveTest,
    isPending: saving,
    error: notSaved,
  } = useMutation({
    mutationFn: async () => {
      const body = { kind, about: about.value, given: given.value as Record<string, unknown> }
      queries.setQueryData(sowQuery(trial).queryKey, await sowApi.keepTest(trial, id, body))
      id = newId()
    },
  })
  const faults = computed(() => (ready.value ? faultsIn(error.value) : {}))
  /** What is wrong and stands at no field. */
  const problem = computed(() => notSaved.value ?? (ready.value ? error.value : null))
  const shown = computed(() => (ready.value && !error.value ? answer.value : undefined))
  return { answer: shown, about, saveTest, saving, faults, problem }
}

/** Numbers that were typed or pasted with anything between them that isn’t part of a number. */
export const listOf = (text: string): string[] =>
  text
    .split(/[\s;]+/)
    .map((one) => one.trim())
    .filter(Boolean)
