import { queryOptions } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'

import { answer, client, sendFile, type Shapes } from './client'
import { at, atSite, fileOf, siteOf } from './site'

export type Weather = Shapes['WeatherOut']
export type WeatherDay = Shapes['DayOut']
export type WeatherFile = Shapes['WeatherFileOut']
export type DayIn = Shapes['DayInRequest']
export type StationIn = Shapes['StationInRequest']

export const weatherQuery = (id: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['trials', id, computed(() => siteOf(toValue(id)) ?? ''), 'weather'],
    queryFn: () => answer(client.GET('/api/v1/trials/{id}/weather', { params: atSite(toValue(id)) })),
  })

export const weatherApi = {
  chooseStation: (id: string, body: StationIn) =>
    answer(client.PUT('/api/v1/trials/{id}/weather/station', { params: atSite(id), body })),
  enterDay: (id: string, day: string, body: DayIn) =>
    answer(client.PUT('/api/v1/trials/{id}/weather/days/{day}', { params: at(id, { day }), body })),
  fetch: (id: string) => answer(client.POST('/api/v1/trials/{id}/weather/fetch', { params: atSite(id) })),
  register: (id: string, service: string, body: Shapes['WeatherServiceInRequest']) =>
    answer(
      client.PUT('/api/v1/trials/{id}/weather/services/{service}', { params: at(id, { service }), body }),
    ),
  forget: (id: string, service: string) =>
    answer(client.DELETE('/api/v1/trials/{id}/weather/services/{service}', { params: at(id, { service }) })),
  askStations: (id: string, service: string) =>
    answer(
      client.POST('/api/v1/trials/{id}/weather/services/{service}/stations', {
        params: at(id, { service }),
      }),
    ),
  sendFile: (id: string, file: File, answers: Record<string, string>, keep: boolean) => {
    const form = new FormData()
    form.set('file', file)
    form.set('answers', JSON.stringify(answers))
    form.set('keep', String(keep))
    return sendFile(fileOf(id, 'weather/file'), form) as Promise<WeatherFile>
  },
}
