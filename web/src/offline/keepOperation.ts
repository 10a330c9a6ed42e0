import { api, queryClient, sessionQuery, type OperationIn, type Season, type Trial } from '@/api/queries'
import { siteOf } from '@/api/site'

import { outboxFor } from './useOutbox'

/** Keeps an operation by way of the outbox; null while it waits there. */
export async function keepOperation(
  trial: Trial,
  id: string,
  body: OperationIn,
  etag?: string,
): Promise<Season | null> {
  const session = queryClient.getQueryData(sessionQuery.queryKey)
  const site = siteOf(trial.id) ?? null
  if (!session) return api.keepOperation(trial.id, site, id, body, etag)
  const change = { kind: 'operation' as const, trial: trial.id, site, id, body, etag }
  const path = `/trials/${trial.id}/season${site ? `?site=${site}` : ''}`
  return (await outboxFor(session).perform(change, `${trial.name}: ${body.name}`, path)) as Season | null
}
