import { queryOptions } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'

import { answer, client, madeFrom, sendFile, type Shapes } from './client'
import { at, atSite, siteOf } from './site'

export type FieldLog = Shapes['LogOut']
export type LogEntry = Shapes['LogEntryOut']
export type LogEntryIn = Shapes['LogEntryInRequest']
export type Photograph = Shapes['PhotographOut']
export type Kills = Shapes['KillsOut']
export type Kill = Shapes['KillOut']

export const logQuery = (id: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['trials', id, computed(() => siteOf(toValue(id)) ?? ''), 'log'],
    queryFn: () => answer(client.GET('/api/v1/trials/{id}/log', { params: atSite(toValue(id)) })),
  })

export const killsQuery = (id: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['trials', id, computed(() => siteOf(toValue(id)) ?? ''), 'kills'],
    queryFn: () => answer(client.GET('/api/v1/trials/{id}/kills', { params: atSite(toValue(id)) })),
  })

export const fieldLogApi = {
  keep: (id: string, site: string | null, entry: string, body: LogEntryIn, etag?: string) =>
    answer(
      client.PUT('/api/v1/trials/{id}/log/{entry}', {
        params: { path: { id, entry }, query: site ? { site } : {} },
        body,
        ...madeFrom(etag),
      }),
    ),
  forget: (id: string, entry: string) =>
    answer(client.DELETE('/api/v1/trials/{id}/log/{entry}', { params: at(id, { entry }) })),
  keepPhotograph: (
    trial: string,
    site: string | null,
    entry: string,
    id: string,
    file: Blob,
    name: string,
  ) => {
    const form = new FormData()
    form.append('file', file, name)
    const path = `/api/v1/trials/${trial}/log/${entry}/photographs/${id}${site ? `?site=${site}` : ''}`
    return sendFile(path, form, 'PUT')
  },
  removePhotograph: (id: string, entry: string, photograph: string) =>
    answer(
      client.DELETE('/api/v1/trials/{id}/log/{entry}/photographs/{photograph}', {
        params: at(id, { entry, photograph }),
      }),
    ),
  keepLimit: (id: string, limit_percent: string) =>
    answer(client.PUT('/api/v1/trials/{id}/kill-limit', { params: atSite(id), body: { limit_percent } })),
  planChecks: (id: string, operation: string) =>
    answer(client.PUT('/api/v1/trials/{id}/kills/{operation}/checks', { params: at(id, { operation }) })),
  keepLiving: (id: string, operation: string, day: string, body: Shapes['LivingInRequest']) =>
    answer(
      client.PUT('/api/v1/trials/{id}/kills/{operation}/{day}', {
        params: at(id, { operation, day }),
        body,
      }),
    ),
}
