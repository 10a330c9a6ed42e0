import { fieldLogApi, type LogEntryIn } from '@/api/fieldLog'
import { queryClient, sessionQuery, type Trial } from '@/api/queries'
import { siteOf } from '@/api/site'

import { outboxFor } from './useOutbox'

/** Keeps an entry of the field log by way of the outbox, so that it may be written without a signal. */
export async function keepLogEntry(trial: Trial, id: string, body: LogEntryIn, name: string, etag?: string) {
  const session = queryClient.getQueryData(sessionQuery.queryKey)
  const site = siteOf(trial.id) ?? null
  if (!session) return fieldLogApi.keep(trial.id, site, id, body, etag)
  const change = { kind: 'log' as const, trial: trial.id, site, id, body, etag }
  const path = `/trials/${trial.id}/season/log${site ? `?site=${site}` : ''}`
  return outboxFor(session).perform(change, `${trial.name}: ${name}`, path)
}
