import { queryOptions } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'

import { answer, client, sendFile, type Shapes } from './client'

export type SamplePhotograph = Shapes['SamplePhotographOut']
export type Cover = Shapes['CoverOut']

export const photographsQuery = (visit: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['visits', visit, 'photographs'],
    queryFn: () =>
      answer(client.GET('/api/v1/visits/{id}/photographs', { params: { path: { id: toValue(visit) } } })),
  })

const query = (threshold: number | null) => (threshold === null ? {} : { threshold })

export const samplePhotographsApi = {
  keep: async (
    visit: string,
    id: string,
    file: File,
    place: { unit: string; zone: string; sample: number },
  ) => {
    const form = new FormData()
    form.append('file', file, file.name)
    form.append('unit', place.unit)
    form.append('zone', place.zone)
    form.append('sample', String(place.sample))
    return (await sendFile(`/api/v1/visits/${visit}/photographs/${id}`, form, 'PUT')) as SamplePhotograph
  },
  remove: (visit: string, photograph: string) =>
    answer(
      client.DELETE('/api/v1/visits/{id}/photographs/{photograph}', {
        params: { path: { id: visit, photograph } },
      }),
    ),
  cover: (id: string, threshold: number | null) =>
    answer(
      client.GET('/api/v1/photographs/{id}/cover', { params: { path: { id }, query: query(threshold) } }),
    ),
  /** Address of the picture of what was counted as green. */
  picture: (id: string, threshold: number | null) =>
    `/api/v1/photographs/${id}/cover/picture${threshold === null ? '' : `?threshold=${threshold}`}`,
}
