import { queryOptions } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'

import { answer, client, type Shapes } from './client'
import { at, atSite, siteOf } from './site'

export type Stages = Shapes['StagesOut']
export type Plant = Shapes['PlantOut']
export type StageIn = Shapes['StageInRequest']
export type TriggerIn = Shapes['TriggerInRequest']
export type ClosingIn = Shapes['ClosingInRequest']

export const stagesQuery = (id: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['trials', id, computed(() => siteOf(toValue(id)) ?? ''), 'stages'],
    queryFn: () => answer(client.GET('/api/v1/trials/{id}/stages', { params: atSite(toValue(id)) })),
  })

export type KillWindows = Shapes['KillWindowsOut']
export type KillWindow = Shapes['KillWindowOut']

export const killQuery = (id: MaybeRefOrGetter<string>, early: MaybeRefOrGetter<number>) =>
  queryOptions({
    queryKey: ['trials', id, computed(() => siteOf(toValue(id)) ?? ''), 'kill', early],
    queryFn: () => {
      const { path, query } = atSite(toValue(id))
      const params = { path, query: { ...query, early_days: toValue(early) } }
      return answer(client.GET('/api/v1/trials/{id}/kill-windows', { params }))
    },
  })

export const stagesApi = {
  keep: (id: string, site: string | null, stage: string, body: StageIn) =>
    answer(
      client.PUT('/api/v1/trials/{id}/stages/{stage}', {
        params: { path: { id, stage }, query: site ? { site } : {} },
        body,
      }),
    ),
  forget: (id: string, stage: string) =>
    answer(client.DELETE('/api/v1/trials/{id}/stages/{stage}', { params: at(id, { stage }) })),
}
