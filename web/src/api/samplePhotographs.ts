import { queryOptions } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'

import { answer, client, sendFile, type Shapes } from './client'

export type SamplePhotograph = Shapes['SamplePhotographOut']
export type Cover = Shapes['CoverOut']
export type PhotoCount = Shapes['PhotoCountOut']
export type Mark = Shapes['MarkShape']
export type Corners = PhotoCount['corners']

export const photographsQuery = (visit: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['visits', visit, 'photographs'],
    queryFn: () =>
      answer(client.GET('/api/v1/visits/{id}/photographs', { params: { path: { id: toValue(visit) } } })),
  })

export const plotPhotographsQuery = (trial: MaybeRefOrGetter<string>, plot: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['trials', trial, 'plots', plot, 'photographs'],
    queryFn: () =>
      answer(
        client.GET('/api/v1/trials/{id}/plots/{plot}/photographs', {
          params: { path: { id: toValue(trial), plot: toValue(plot) } },
        }),
      ),
    enabled: () => Boolean(toValue(plot)),
  })
export const photoCountQuery = (id: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['photographs', id, 'count'],
    queryFn: () => samplePhotographsApi.count(toValue(id), ''),
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
  count: (id: string, component: string) =>
    answer(client.GET('/api/v1/photographs/{id}/count', { params: { path: { id }, query: { component } } })),
  keepCorners: (
    id: string,
    component: string,
    corners: Corners | null,
    sides: { width: string; length: string },
    unsaved: { marks: Mark[]; were: Corners },
  ) =>
    answer(
      client.PUT('/api/v1/photographs/{id}/corners', {
        params: { path: { id }, query: { component } },
        body: { corners, width: sides.width || null, length: sides.length || null, ...unsaved },
      }),
    ),
  keepCount: (id: string, component: string, corners: Corners, marks: Mark[]) =>
    answer(
      client.PUT('/api/v1/photographs/{id}/count', {
        params: { path: { id } },
        body: { component, corners, marks },
      }),
    ),
  suggested: (id: string) =>
    answer(client.GET('/api/v1/photographs/{id}/suggested-marks', { params: { path: { id } } })),
  keepRuler: (id: string, ends: number[][], length: string) =>
    answer(
      client.PUT('/api/v1/photographs/{id}/ruler', { params: { path: { id } }, body: { ends, length } }),
    ),
  keepLength: (id: string, length: string, name: string, corners: Corners, ends: number[][]) =>
    answer(
      client.PUT('/api/v1/photographs/{id}/lengths/{length}', {
        params: { path: { id, length } },
        body: { name, corners, ends },
      }),
    ),
  removeLength: (id: string, length: string) =>
    answer(client.DELETE('/api/v1/photographs/{id}/lengths/{length}', { params: { path: { id, length } } })),
  /** Address of what lies in the frame, straightened to these corners. */
  straight: (id: string, corners: readonly (readonly number[])[]) =>
    `/api/v1/photographs/${id}/straight?of=${encodeURIComponent(corners.flat().join())}`,
  /** Address of the picture of what was counted as green. */
  picture: (id: string, threshold: number | null) =>
    `/api/v1/photographs/${id}/cover/picture${threshold === null ? '' : `?threshold=${threshold}`}`,
}
