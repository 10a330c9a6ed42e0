import { queryClient, sessionQuery, type Trial } from '@/api/queries'
import { siteOf } from '@/api/site'
import { stagesApi, type StageIn } from '@/api/stages'

import { outboxFor } from './useOutbox'

/** Keeps a stage by way of the outbox, so that it may be entered without a signal. */
export async function keepStage(trial: Trial, id: string, body: StageIn, name: string) {
  const session = queryClient.getQueryData(sessionQuery.queryKey)
  const site = siteOf(trial.id) ?? null
  if (!session) return stagesApi.keep(trial.id, site, id, body)
  const change = { kind: 'stage' as const, trial: trial.id, site, id, body }
  const path = `/trials/${trial.id}/season/stages${site ? `?site=${site}` : ''}`
  return outboxFor(session).perform(change, `${trial.name}: ${name}`, path)
}
