import { queryOptions } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'

import { answer, client, madeFrom, type Shapes } from './client'
import { LIVE } from './queries'
import { at, atSite, siteOf } from './site'

export type Sow = Shapes['SowOut']
export type SeedPlanIn = Shapes['SeedPlanInRequest']
export type SowingIn = Shapes['SowingInRequest']
export type SowingKept = Shapes['SowingOut']
export type DrillIn = Shapes['DrillInRequest']
export type SpreaderIn = Shapes['SpreaderInRequest']
export type TankIn = Shapes['TankInRequest']
export type SpreaderFound = Shapes['SpreaderOut']
export type DrillFound = Shapes['DrillOut']
export type DecisionIn = Shapes['SowingDecisionInRequest']

export const sowQuery = (id: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['trials', id, computed(() => siteOf(toValue(id)) ?? ''), 'sow'],
    refetchInterval: LIVE,
    queryFn: () => answer(client.GET('/api/v1/trials/{id}/sow', { params: atSite(toValue(id)) })),
  })

export type Standing = Shapes['StandingOut']
/** What a device needs to say how the counts of a visit stand; kept on it for work without a network. */
export const standingQuery = (visit: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['visits', visit, 'standing'],
    staleTime: 0, // it holds what was entered on other pages of the sheet
    refetchInterval: 30_000,
    queryFn: () =>
      answer(client.GET('/api/v1/visits/{id}/standing', { params: { path: { id: toValue(visit) } } })),
  })
export const keepThreshold = (measure: string, threshold: string) =>
  answer(
    client.PUT('/api/v1/measures/{id}/threshold', {
      params: { path: { id: measure } },
      body: { threshold },
    }),
  )

export const sowApi = {
  keep: (id: string, body: SeedPlanIn, etag: string) =>
    answer(client.PUT('/api/v1/trials/{id}/sow', { params: atSite(id), body, ...madeFrom(etag) })),
  drill: (id: string, body: DrillIn) =>
    answer(client.POST('/api/v1/trials/{id}/sow/drill', { params: atSite(id), body })),
  spreader: (id: string, body: SpreaderIn) =>
    answer(client.POST('/api/v1/trials/{id}/sow/spreader', { params: atSite(id), body })),
  tank: (id: string, body: TankIn) =>
    answer(client.POST('/api/v1/trials/{id}/sow/tank', { params: atSite(id), body })),
  keepTest: (id: string, test: string, body: Shapes['SowingTestInRequest']) =>
    answer(client.PUT('/api/v1/trials/{id}/sow/tests/{test}', { params: at(id, { test }), body })),
  decide: (id: string, decision: string, body: DecisionIn) =>
    answer(
      client.PUT('/api/v1/trials/{id}/sow/decisions/{decision}', { params: at(id, { decision }), body }),
    ),
  pack: (id: string, plot: string, packed: boolean) =>
    answer(client.PUT('/api/v1/trials/{id}/sow/bags/{plot}', { params: at(id, { plot }), body: { packed } })),
  place: (id: string, plot: string, bag: string, placed = true) =>
    answer(
      client.PUT('/api/v1/trials/{id}/sow/placed/{plot}', {
        params: at(id, { plot }),
        body: { bag, placed },
      }),
    ),
  keepSowing: (id: string, sowing: string, body: SowingIn, etag?: string) =>
    answer(
      client.PUT('/api/v1/trials/{id}/sow/sowings/{sowing}', {
        params: at(id, { sowing }),
        body,
        ...madeFrom(etag),
      }),
    ),
  forgetSowing: (id: string, sowing: string) =>
    answer(client.DELETE('/api/v1/trials/{id}/sow/sowings/{sowing}', { params: at(id, { sowing }) })),
}
