import { Problem } from '@/api/client'
import { fieldLogApi, type LogEntryIn } from '@/api/fieldLog'
import { queryClient, sessionQuery, type Trial } from '@/api/queries'
import { siteOf } from '@/api/site'

import { newId } from '@/parts/newId'
import { texts } from '@/texts'

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

/**
 * Keeps photographs with an entry that was kept before them: all on the device first, then, by way of the outbox, on the
 * server. What the server refuses stays in the outbox with its reason.
 */
export async function keepPhotographs(trial: Trial, entry: string, files: File[]) {
  const session = queryClient.getQueryData(sessionQuery.queryKey)
  if (!session) return
  const site = siteOf(trial.id) ?? null
  const outbox = outboxFor(session)
  const path = `/trials/${trial.id}/season/log${site ? `?site=${site}` : ''}#${entry}`
  for (const file of files) {
    const id = newId()
    try {
      await outbox.keepPhotograph(id, { bytes: await file.arrayBuffer(), type: file.type })
    } catch {
      throw new Problem(0, 'no-space', texts.global.t('photographs.noSpace', { name: file.name }))
    }
    const change = { kind: 'photograph' as const, trial: trial.id, site, entry, id, name: file.name }
    await outbox.add(change, `${trial.name}: ${texts.global.t('photographs.one', { name: file.name })}`, path)
  }
  await outbox.send()
}
