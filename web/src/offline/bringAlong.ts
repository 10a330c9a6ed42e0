import { shallowRef } from 'vue'

import { Problem } from '@/api/client'
import { killsQuery, logQuery } from '@/api/fieldLog'
import { api, catalogueQuery, queryClient, todayQuery, trialQueries } from '@/api/queries'
import { sowQuery, standingQuery } from '@/api/sow'
import { stagesQuery } from '@/api/stages'
import { bringRules } from '@/rules/onDevice'

const KEPT = 'apercu.along-of:'
const EVERY_MS = 10 * 60_000

/** What this device has for work without a network, and since when. */
export interface Along {
  at: string
  trials: number
  visits: number
}
function kept(person: string): Along | null {
  try {
    return JSON.parse(localStorage.getItem(KEPT + person) ?? 'null') as Along | null
  } catch {
    return null
  }
}
export const along = shallowRef<Along | null>(null)
export const bringing = shallowRef(false)
let last = 0
let whose = ''

/** One trial with its sheets, those that are due or begun first; returns how many visits it has. */
async function bringTrial(id: string, get: (query: object) => Promise<unknown>): Promise<number> {
  await get(trialQueries.one(id))
  const season = await queryClient.fetchQuery({ ...trialQueries.season(id), staleTime: 0 })
  await Promise.allSettled([stagesQuery(id), logQuery(id), killsQuery(id), sowQuery(id)].map(get))
  const wanted = (state: string) => ['overdue', 'due', 'begun'].indexOf(state)
  const order = [...season.visits].sort((a, b) => wanted(b.state) - wanted(a.state))
  for (const visit of order) {
    const [sheet] = await Promise.all([api.visit(visit.id), get(standingQuery(visit.id))])
    for (let page = 1; page <= sheet.pages; page++) await api.visit(visit.id, { page })
  }
  return order.length
}

/**
 * Asks for what the running trials need in the field, so that the answers are kept on this device: maps, sheets with
 * their values, stages, notes and rules. One that fails leaves what was kept before, and doesn’t stop the others.
 */
export async function bringAlong(person: string): Promise<void> {
  if (whose !== person) {
    whose = person
    last = 0
    along.value = kept(person)
  }
  if (bringing.value || Date.now() - last < EVERY_MS) return
  last = Date.now()
  bringing.value = true
  try {
    await navigator.storage?.persist?.().catch(() => false)
    const get = (query: object) => queryClient.fetchQuery({ ...query, staleTime: 0 } as never)
    await Promise.all([get(todayQuery), get(catalogueQuery), bringRules()])
    const list = await queryClient.fetchQuery(trialQueries.list())
    const running = list.results.filter((one) => one.plots > 0 && !one.archived_at)
    let [trials, visits] = [0, 0]
    let failed: unknown
    for (const { id } of running)
      try {
        visits += await bringTrial(id, get)
        trials += 1
      } catch (error) {
        if (error instanceof Problem && error.status === 0) throw error // no network: no other will come either
        failed = error
      }
    along.value = { at: new Date().toISOString(), trials, visits }
    localStorage.setItem(KEPT + person, JSON.stringify(along.value))
    if (failed) throw failed
  } catch {
    last = 0 // without a network; it is tried again when the page is opened next
  } finally {
    bringing.value = false
  }
}
