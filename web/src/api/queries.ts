import { QueryClient, queryOptions } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'

import { answer, client, Problem, sendFile, type Shapes } from './client'

export type Session = Shapes['SessionOut']
export type Trial = Shapes['TrialOut']
export type Treatment = Shapes['TreatmentOut']
export type Plot = Shapes['PlotOut']
export type Reading = Shapes['ReadingOut']
export type MeasureReading = Shapes['MeasureReadingOut']
export type Cell = Shapes['CellOut']
export type Doubt = Shapes['DoubtOut']
export type PlotValue = Shapes['PlotValueOut']
export type How = Shapes['HowInRequest']
export type Upload = Shapes['UploadOut']
export type Assembled = Shapes['AssembledOut']
export type Accept = Shapes['AcceptInRequest']

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      retry: (times, error) => !(error instanceof Problem && error.status > 0) && times < 2,
    },
  },
})

export const sessionQuery = queryOptions({
  queryKey: ['session'],
  queryFn: () => answer(client.GET('/api/v1/session')),
})

/** Who is signed in; null for nobody. */
export async function fetchSession(): Promise<Session | null> {
  try {
    return await queryClient.ensureQueryData(sessionQuery)
  } catch (error) {
    if (error instanceof Problem && (error.status === 401 || error.status === 403)) return null
    throw error
  }
}

export const trialQueries = {
  list: () =>
    queryOptions({
      queryKey: ['trials'],
      queryFn: () => answer(client.GET('/api/v1/trials', { params: { query: { page_size: 200 } } })),
    }),
  one: (id: MaybeRefOrGetter<string>) =>
    queryOptions({
      queryKey: ['trials', id],
      queryFn: () => answer(client.GET('/api/v1/trials/{id}', { params: { path: { id: toValue(id) } } })),
    }),
  reading: (id: MaybeRefOrGetter<string>, how: MaybeRefOrGetter<How>) =>
    queryOptions({
      queryKey: ['trials', id, 'reading', how],
      queryFn: () =>
        answer(
          client.POST('/api/v1/trials/{id}/readings', {
            params: { path: { id: toValue(id) } },
            body: toValue(how),
          }),
        ),
    }),
}

export const acts = {
  signIn: (email: string, password: string) =>
    answer(client.POST('/api/v1/session', { body: { email, password } })),
  signOut: () => answer(client.DELETE('/api/v1/session')),
  answerDoubt: (trial: string, doubt: string, note: string) =>
    answer(
      client.POST('/api/v1/trials/{id}/answers', { params: { path: { id: trial } }, body: { doubt, note } }),
    ),
  changeMeasure: (id: string, change: Shapes['PatchedTrialMeasureChangeRequest']) =>
    answer(client.PATCH('/api/v1/measures/{id}', { params: { path: { id } }, body: change })),
  correct: (id: string, replaces: string, typed: string, why: string) =>
    answer(
      client.PUT('/api/v1/observations/{id}', { params: { path: { id } }, body: { replaces, typed, why } }),
    ),
  bring: (workspace: string, file: File) => {
    const form = new FormData()
    form.set('workspace', workspace)
    form.set('file', file)
    return sendFile('/api/v1/uploads', form) as Promise<Upload>
  },
  check: (id: string, roles: Accept['roles'], sampled: boolean) =>
    answer(client.POST('/api/v1/uploads/{id}/check', { params: { path: { id } }, body: { roles, sampled } })),
  accept: (id: string, accepted: Accept) =>
    answer(client.POST('/api/v1/uploads/{id}/trial', { params: { path: { id } }, body: accepted })),
}
