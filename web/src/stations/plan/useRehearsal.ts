import { computed, ref } from 'vue'

import { acts, type Rehearsal } from '@/api/queries'

const AT_ONCE = 10

export interface Truth {
  margins: Record<string, string>
  lost: string[]
  whole_share: string
}

/** Seasons invented and read a few at a time, so that progress is seen and it can be stopped. */
export function useRehearsal(trial: () => string) {
  const done = ref<Rehearsal | null>(null)
  const wanted = ref(0)
  const busy = ref(false)
  const problem = ref<Error | null>(null)
  let stopped = false

  async function rehearse(truth: Truth, seasons: number) {
    busy.value = true
    stopped = false
    problem.value = null
    done.value = null
    wanted.value = seasons
    const first = Math.floor(Math.random() * 1e9)
    try {
      for (let at = 0; at < seasons && !stopped; at += AT_ONCE) {
        const runs = Math.min(AT_ONCE, seasons - at)
        const found = await acts.rehearse(trial(), { ...truth, runs, seed: first + at })
        done.value = done.value ? together(done.value, found) : found
      }
    } catch (thrown) {
      problem.value = thrown as Error
    } finally {
      busy.value = false
    }
  }
  function stop() {
    stopped = true
  }
  return { done, wanted, busy, problem, ran: computed(() => done.value?.runs ?? 0), rehearse, stop }
}

/** Two lots of seasons counted as one; the board shown is the later one's. */
export function together(a: Rehearsal, b: Rehearsal): Rehearsal {
  return {
    ...b,
    runs: a.runs + b.runs,
    measures: b.measures.map((measure, i) => ({
      ...measure,
      cells: measure.cells.map((cell, j) => {
        const counts = { ...a.measures[i]!.cells[j]!.counts }
        for (const [verdict, n] of Object.entries(cell.counts)) counts[verdict] = (counts[verdict] ?? 0) + n
        const before = a.measures[i]!.cells[j]!.shown
        const shown = cell.shown === null || before === null ? null : before + cell.shown
        return { ...cell, counts, shown }
      }),
    })),
  }
}
