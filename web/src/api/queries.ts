import { QueryClient, queryOptions } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'

import { answer, client, Problem, sendFile, showIn, type Shapes, madeFrom } from './client'
import { ofNow, seasonOfNow } from './earlierAnswers'
import { fileOf, knowing, chooseSite, siteOf, at, atSite } from './site'

/** Which plots of a large sheet: a page of it, or the one that holds a plot. */
export type SheetPage = { page?: number; plot?: string }
/** Sheet and ink are usual ones where they aren’t named. */
export type FileAsked = Partial<Shapes['FileInRequest']> & Pick<Shapes['FileInRequest'], 'file'>
export type Job = Shapes['JobOut']
export type Session = Shapes['SessionOut']
export type Trial = Shapes['TrialOut']
export type TrialLine = Shapes['TrialLine']
export type Treatment = Shapes['TreatmentOut']
export type Plot = Shapes['PlotOut']
export type Reading = Shapes['ReadingOut']
export type MeasureReading = Shapes['MeasureReadingOut']
export type Cell = Shapes['CellOut']
export type Doubt = Shapes['DoubtOut']
export type PlotValue = Shapes['PlotValueOut']
export type How = Shapes['LookInRequest']
export type Upload = Shapes['UploadOut']
export type Assembled = Shapes['AssembledOut']
export type Accept = Shapes['AcceptInRequest']
export type Zones = Shapes['ZonesOut']
export type Season = Shapes['SeasonOut']
export type Today = Shapes['TodayOut']
export type Due = Shapes['DueOut']
export type Visit = Shapes['VisitOut']
export type SheetMeasure = Shapes['SheetMeasureOut']
export type Row = Shapes['RowOut']
export type CorrectedField = Shapes['CorrectedFieldOut']
export type EntryIn = Shapes['EntryInRequest']
export type Outcome = Shapes['OutcomeOut']
export type Ask = Shapes['AskInRequest']
export type Factor = Shapes['FactorShapeRequest']
export type Details = Shapes['DetailsShapeRequest']
export type Accepted = Shapes['AcceptedShapeRequest']
export type Confounding = Shapes['ConfoundingOut']
export type Mixed = Shapes['MixedOut']
export type Offer = Shapes['OfferOut']
export type Phase = Shapes['PhaseOut']
export type Removed = Shapes['RemovedShapeRequest']
export type Sketch = Shapes['OutlookInRequest']
export type Constraint = Shapes['ConstraintShape']
export type Rehearsal = Shapes['RehearsalOut']
export type PlanIn = Shapes['PlanInRequest']
export type OwnMeasureLine = Shapes['OwnMeasureLine']
export type Catalogue = Shapes['CatalogueOut']
export type Site = Shapes['SiteShape']
export type MeasureOutlook = Shapes['MeasureOutlookOut']
export type Guide = Shapes['GuideOut']
export type Species = Shapes['SpeciesOut']
export type SpeciesFit = Shapes['SpeciesFitOut']
export type Wish = Shapes['WishInRequest']
export type MixIn = Shapes['MixInRequest']
export type Mix = Shapes['MixOut']
export type Template = Shapes['TemplateOut']
export type Layout = Shapes['LayoutOut']
export type LayoutIn = Shapes['LayoutInRequest']
export type OperationIn = Shapes['OperationInRequest']

/** How often what colleagues enter is looked for, while somebody looks at the page, ms. */
export const LIVE = 10_000

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      shallow: true, // an answer comes new or not at all: watching each of its values takes a phone’s time
      networkMode: 'always', // without a connection a page says so, instead of loading for ever
      retry: (times, error) => !(error instanceof Problem && error.status > 0) && times < 2,
    },
    mutations: { networkMode: 'always' }, // without a connection an act fails and says so, instead of waiting unseen
  },
})

export const sessionQuery = queryOptions({
  queryKey: ['session'],
  queryFn: async () => inItsUnits(await answer(client.GET('/api/v1/session'))),
})
/** What was fetched in other units is forgotten, also when they were changed on another machine. */
export function inItsUnits(session: Session): Session {
  if (showIn(session.units))
    queryClient.removeQueries({ predicate: (query) => query.queryKey[0] !== 'session' })
  return session
}

export const glossaryQuery = queryOptions({
  queryKey: ['glossary'],
  queryFn: () => answer(client.GET('/api/v1/glossary')),
  staleTime: Infinity,
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

/** What is kept of a trial, at the site that is looked at. */
const trialKey = (id: MaybeRefOrGetter<string>, ...of: unknown[]) => [
  'trials',
  id,
  computed(() => siteOf(toValue(id)) ?? ''),
  ...of,
]
/** A trial that left the site which was looked at shows its first again. */
async function openTrial(id: string): Promise<Trial> {
  try {
    return await answer(client.GET('/api/v1/trials/{id}', { params: atSite(id) }))
  } catch (error) {
    if (!(error instanceof Problem && error.status === 404 && siteOf(id))) throw error
    chooseSite(id, null)
    return answer(client.GET('/api/v1/trials/{id}', { params: atSite(id) }))
  }
}

export const trialQueries = {
  list: (search: MaybeRefOrGetter<string> = '', archived: MaybeRefOrGetter<boolean> = false) =>
    queryOptions({
      queryKey: ['trials', 'list', search, archived],
      queryFn: () =>
        answer(
          client.GET('/api/v1/trials', {
            params: { query: { page_size: 200, search: toValue(search), archived: toValue(archived) } },
          }),
        ),
    }),
  one: (id: MaybeRefOrGetter<string>) =>
    queryOptions({
      queryKey: trialKey(id),
      queryFn: () => openTrial(toValue(id)),
    }),
  season: (id: MaybeRefOrGetter<string>) =>
    queryOptions({
      queryKey: trialKey(id, 'season'),
      refetchInterval: LIVE,
      queryFn: async () =>
        seasonOfNow(await answer(client.GET('/api/v1/trials/{id}/season', { params: atSite(toValue(id)) }))),
    }),
  report: (id: MaybeRefOrGetter<string>) =>
    queryOptions({
      queryKey: trialKey(id, 'report'),
      refetchInterval: LIVE,
      queryFn: () => answer(client.GET('/api/v1/trials/{id}/report', { params: atSite(toValue(id)) })),
    }),
  layout: (id: MaybeRefOrGetter<string>) =>
    queryOptions({
      queryKey: trialKey(id, 'layout'),
      queryFn: () => answer(client.GET('/api/v1/trials/{id}/layout', { params: atSite(toValue(id)) })),
    }),
  layoutCheck: (id: MaybeRefOrGetter<string>, body: MaybeRefOrGetter<LayoutIn>) =>
    queryOptions({
      queryKey: trialKey(id, 'layout', body),
      queryFn: () =>
        answer(
          client.POST('/api/v1/trials/{id}/layout/check', {
            params: atSite(toValue(id)),
            body: toValue(body),
          }),
        ),
    }),
  zones: (id: MaybeRefOrGetter<string>) =>
    queryOptions({
      queryKey: trialKey(id, 'zones'),
      queryFn: () => answer(client.GET('/api/v1/trials/{id}/zones', { params: atSite(toValue(id)) })),
    }),
  left: (id: string) =>
    queryOptions({
      queryKey: trialKey(id, 'left'),
      queryFn: () => answer(client.GET('/api/v1/trials/{id}/carry-over', { params: atSite(id) })),
    }),
  outlook: (id: MaybeRefOrGetter<string>, sketch: MaybeRefOrGetter<Sketch>) =>
    queryOptions({
      queryKey: trialKey(id, 'outlook', sketch),
      queryFn: () =>
        answer(
          client.POST('/api/v1/trials/{id}/outlook', {
            params: atSite(toValue(id)),
            body: toValue(sketch),
          }),
        ),
    }),
  reading: (id: MaybeRefOrGetter<string>, how: MaybeRefOrGetter<How>) =>
    queryOptions({
      queryKey: trialKey(id, 'reading', how),
      refetchInterval: LIVE,
      queryFn: () =>
        answer(
          client.POST('/api/v1/trials/{id}/readings', {
            params: atSite(toValue(id)),
            body: toValue(how),
          }),
        ),
    }),
}

export const todayQuery = queryOptions({
  queryKey: ['trials', 'today'],
  refetchInterval: LIVE,
  queryFn: () => answer(client.GET('/api/v1/today')),
})
export const catalogueQuery = queryOptions({
  queryKey: ['catalogue'],
  queryFn: () => answer(client.GET('/api/v1/catalogue')),
  staleTime: Infinity,
})
export const ownMeasuresQuery = (workspace: MaybeRefOrGetter<string>) =>
  queryOptions({
    queryKey: ['own-measures', workspace],
    queryFn: () => answer(client.GET('/api/v1/workspaces/{id}/own-measures', inWorkspace(workspace))),
  })
export const aspectsQuery = queryOptions({
  queryKey: ['aspects'],
  queryFn: () => answer(client.GET('/api/v1/aspects')),
  staleTime: Infinity,
})
export const templatesQuery = queryOptions({
  queryKey: ['templates'],
  queryFn: () => answer(client.GET('/api/v1/templates')),
  staleTime: Infinity,
})
export const sitesQuery = queryOptions({
  queryKey: ['sites'],
  queryFn: () => answer(client.GET('/api/v1/sites', { params: { query: { page_size: 200 } } })),
})

const inWorkspace = (id: MaybeRefOrGetter<string>) => ({ params: { path: { id: toValue(id) } } })
export const speciesQueries = {
  guide: (workspace: MaybeRefOrGetter<string>) =>
    queryOptions({
      queryKey: ['species', workspace],
      queryFn: () => answer(client.GET('/api/v1/workspaces/{id}/species', inWorkspace(workspace))),
    }),
  fit: (workspace: MaybeRefOrGetter<string>, wish: MaybeRefOrGetter<Wish>) =>
    queryOptions({
      queryKey: ['species', workspace, 'fit', wish],
      queryFn: () =>
        answer(
          client.POST('/api/v1/workspaces/{id}/species/fit', {
            ...inWorkspace(workspace),
            body: toValue(wish),
          }),
        ),
    }),
  mix: (workspace: MaybeRefOrGetter<string>, body: MaybeRefOrGetter<MixIn>) =>
    queryOptions({
      queryKey: ['species', workspace, 'mix', body],
      queryFn: () =>
        answer(
          client.POST('/api/v1/workspaces/{id}/species/mix', {
            ...inWorkspace(workspace),
            body: toValue(body),
          }),
        ),
    }),
}

export const api = {
  tryMeasure: (
    name: string,
    unit: string,
    own: Shapes['OwnMeasureShapeRequest'],
    typed: Record<string, string>,
  ) => answer(client.POST('/api/v1/own-measures/try', { body: { name, unit, own, typed } })),
  keepSpecies: (workspace: string, key: string, cells: Record<string, string>) =>
    answer(
      client.PUT('/api/v1/workspaces/{id}/species/{key}', {
        params: { path: { id: workspace, key } },
        body: { cells },
      }),
    ),
  forgetSpecies: (workspace: string, key: string) =>
    answer(
      client.DELETE('/api/v1/workspaces/{id}/species/{key}', { params: { path: { id: workspace, key } } }),
    ),
  bringSpecies: (workspace: string, file: File) => {
    const form = new FormData()
    form.set('file', file)
    return sendFile(`/api/v1/workspaces/${workspace}/species/table.csv`, form) as Promise<Species[]>
  },
  importLayout: (trial: string, file: File, said: Record<string, string>, although = false) => {
    const form = new FormData()
    form.set('file', file)
    for (const [key, value] of Object.entries(said)) form.set(key, value)
    return sendFile(fileOf(trial, 'plan/file', knowing(although).query), form) as Promise<Trial>
  },
  signIn: (email: string, password: string) =>
    answer(client.POST('/api/v1/session', { body: { email, password } })),
  signOut: () => answer(client.DELETE('/api/v1/session')),
  openResults: (trial: string) =>
    answer(client.POST('/api/v1/trials/{id}/results', { params: atSite(trial), body: {} as How })),
  answerDoubt: (trial: string, doubt: string, note: string) =>
    answer(client.POST('/api/v1/trials/{id}/answers', { params: atSite(trial), body: { doubt, note } })),
  changeMeasure: (id: string, change: Shapes['PatchedTrialMeasureChangeRequest'], etag?: string) =>
    answer(
      client.PATCH('/api/v1/measures/{id}', { params: { path: { id } }, body: change, ...madeFrom(etag) }),
    ),
  observation: (id: string) =>
    answer(client.GET('/api/v1/observations/{id}/sheet', { params: { path: { id } } })) as Promise<
      Shapes['ObservationOut']
    >,
  correct: (id: string, replaces: string, fields: Record<string, string>, why: string, confirmed: boolean) =>
    answer(
      client.PUT('/api/v1/observations/{id}', {
        params: { path: { id } },
        body: { replaces, fields, why, confirmed },
      }),
    ) as Promise<Shapes['CorrectionOut']>,
  redo: (visit: string, place: Shapes['RedoInRequest'], page = 1) =>
    answer(
      client.POST('/api/v1/visits/{id}/redo', {
        params: { path: { id: visit }, query: { page } },
        body: place,
      }),
    ) as Promise<Visit>,
  bring: (workspace: string, file: File) => {
    const form = new FormData()
    form.set('workspace', workspace)
    form.set('file', file)
    return sendFile('/api/v1/uploads', form) as Promise<Upload>
  },
  check: (id: string, roles: Accept['roles'], answers: Accept['answers']) =>
    answer(client.POST('/api/v1/uploads/{id}/check', { params: { path: { id } }, body: { roles, answers } })),
  accept: (id: string, accepted: Accept) =>
    answer(client.POST('/api/v1/uploads/{id}/trial', { params: { path: { id } }, body: accepted })),
  rules: () => answer(client.GET('/api/v1/rules')),
  job: (id: string) => answer(client.GET('/api/v1/jobs/{id}', { params: { path: { id } } })),
  stopJob: (id: string) => answer(client.DELETE('/api/v1/jobs/{id}', { params: { path: { id } } })),
  prefer: (units: Session['units']) => answer(client.PATCH('/api/v1/session', { body: { units } })),
  ask: (id: string, body: Ask, etag?: string, although = false) =>
    answer(
      client.PUT('/api/v1/trials/{id}/ask', {
        params: { path: { id }, ...knowing(although) },
        body,
        ...madeFrom(etag),
      }),
    ),
  plan: (id: string, body: PlanIn, etag?: string, although = false) =>
    answer(
      client.POST('/api/v1/trials/{id}/plan', { params: atSite(id, although), body, ...madeFrom(etag) }),
    ),
  archive: (id: string, archived: boolean) =>
    answer(client.PUT('/api/v1/trials/{id}/archive', { params: { path: { id } }, body: { archived } })),
  copy: (id: string, body: Shapes['CopyInRequest']) =>
    answer(client.POST('/api/v1/trials/{id}/copy', { params: { path: { id } }, body })),
  keepLayout: (id: string, body: LayoutIn, etag?: string, although = false) =>
    answer(
      client.PUT('/api/v1/trials/{id}/layout', { params: atSite(id, although), body, ...madeFrom(etag) }),
    ),
  keepZones: (id: string, body: Shapes['ZonesInRequest'], etag?: string) =>
    answer(client.PUT('/api/v1/trials/{id}/zones', { params: atSite(id), body, ...madeFrom(etag) })),
  outline: (id: string, body: Shapes['OutlineInRequest']) =>
    answer(client.POST('/api/v1/trials/{id}/layout/outline', { params: atSite(id), body })),
  crossing: (factors: Factor[], removed: Removed[]) =>
    answer(client.POST('/api/v1/crossing', { body: { factors, removed } })),
  swap: (id: string, body: Shapes['SwapInRequest'], although = false) =>
    answer(client.POST('/api/v1/trials/{id}/swap', { params: atSite(id, although), body })),
  confounding: (body: Shapes['ConfoundingInRequest']) => answer(client.POST('/api/v1/confounding', { body })),
  keepEquipment: (workspace: string, body: Shapes['EquipmentInRequest'], etag?: string) =>
    answer(
      client.PUT('/api/v1/workspaces/{id}/equipment', {
        params: { path: { id: workspace } },
        body,
        ...madeFrom(etag),
      }),
    ),
  rehearse: (id: string, body: Shapes['TruthInRequest']) =>
    answer(client.POST('/api/v1/trials/{id}/rehearsals', { params: atSite(id), body })),
  rehearsed: (job: string) =>
    answer(client.GET('/api/v1/rehearsals/{id}', { params: { path: { id: job } } })),
  makeFile: (id: string, asked: FileAsked) =>
    answer(
      client.POST('/api/v1/trials/{id}/files', {
        params: atSite(id),
        body: asked as Shapes['FileInRequest'],
      }),
    ),
  planVisit: (id: string, visit: string, body: Shapes['VisitInRequest'], etag?: string) =>
    answer(
      client.PUT('/api/v1/trials/{id}/visits/{visit}', {
        params: at(id, { visit }),
        body,
        ...madeFrom(etag),
      }),
    ),
  keepParts: (measure: string, parts: Shapes['ListedPartInRequest'][]) =>
    answer(client.PUT('/api/v1/measures/{id}/parts', { params: { path: { id: measure } }, body: { parts } })),
  planSeries: (id: string, series: string, body: Shapes['VisitSeriesInRequest']) =>
    answer(client.PUT('/api/v1/trials/{id}/visit-series/{series}', { params: at(id, { series }), body })),
  keepKillDates: (id: string, dates: Shapes['KillDateInRequest'][]) =>
    answer(client.POST('/api/v1/trials/{id}/kill-dates', { params: atSite(id), body: { dates } })),
  keepOperation: (id: string, site: string | null, operation: string, body: OperationIn, etag?: string) =>
    answer(
      client.PUT('/api/v1/trials/{id}/operations/{operation}', {
        params: { path: { id, operation }, query: site ? { site } : {} },
        body,
        ...madeFrom(etag),
      }),
    ),
  visit: async (id: string, query: SheetPage = {}) =>
    ofNow(await answer(client.GET('/api/v1/visits/{id}', { params: { path: { id }, query } }))),
  enter: (id: string, entries: EntryIn[]) =>
    answer(
      client.PUT('/api/v1/visits/{id}/entries', {
        params: { path: { id } },
        body: { entries, sent_at: new Date().toISOString() },
      }),
    ),
  undo: (row: string, id: string, page = 1) =>
    answer(
      client.POST('/api/v1/observations/{id}/undo', {
        params: { path: { id: row }, query: { page } },
        body: { id },
      }),
    ),
  decide: (row: string, body: Shapes['DecisionInRequest'], page = 1) =>
    answer(
      client.POST('/api/v1/observations/{id}/decision', {
        params: { path: { id: row }, query: { page } },
        body,
      }),
    ),
  leaveNote: (visit: string, note: string, unit: string | null, text: string) =>
    answer(
      client.PUT('/api/v1/visits/{id}/notes/{note}', {
        params: { path: { id: visit, note } },
        body: { unit, text },
      }),
    ),
}
