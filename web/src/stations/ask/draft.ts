import type {
  Accepted,
  Ask,
  Catalogue,
  Factor,
  OwnMeasureLine,
  Removed,
  Site,
  Template,
  Trial,
} from '@/api/queries'
import { newId } from '@/parts/newId'

import { detailsDraftOf, detailsOf, emptyDetails, text, type DetailsDraft } from './described'
import { ownDraftOf, ownOf, type OwnDraft } from './own'

/** The key of a sheet that its measure brings along. */
export const OWN_SHEET = 'own'
type AskMeasure = Ask['measures'][number]

/** A factor while it is being typed: its levels as one line, with commas between. */
export interface FactorDraft {
  id: string
  name: string
  levels: string
  whole_strips: boolean
  kind: NonNullable<Factor['kind']>
  control: string
}
export interface TreatmentDraft {
  id: string
  name: string
  code: string
  is_control: boolean
  levels: Record<string, string>
  details: DetailsDraft
}
/** The page of Ask while it is being typed: figures are text until they are sent. */
export interface MeasureDraft {
  id: string
  name: string
  /** As it is stored; `shown_unit`: in which the person reads and types margin and mean. */
  unit: string
  shown_unit: string
  /** What differences of it are in, as the server says; empty while a unit is new. */
  difference_unit: string
  catalogue: string
  sheet: string
  settings: Record<string, string>
  /** What is typed for it in a plot, where its sheet is its own. */
  own?: OwnDraft | null
  margin: string
  margin_kind: NonNullable<AskMeasure['margin_kind']>
  direction: NonNullable<AskMeasure['direction']> | ''
  planned: NonNullable<AskMeasure['planned']>
  planned_for: string[]
  control: string | null
  primary: boolean
  expected: string
  cv_percent: string
}
/** A site while it is being typed: its figures beside it, as text. */
export interface SiteDraft {
  site: Site
  latitude: string
  longitude: string
  bearing: string
  slope: string
  coldest: string
}
export interface AskDraft {
  name: string
  question: string
  sites: SiteDraft[]
  starts: string
  ends: string
  factors: FactorDraft[]
  removed: Removed[]
  accepted: Accepted[]
  treatments: TreatmentDraft[]
  measures: MeasureDraft[]
}

/** What a draft was started from, with the ETag that a save of it names. */
export interface AskBase {
  draft: AskDraft
  etag: string
}

export function emptySite(): Site {
  return {
    id: newId(), name: '', place: '', time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC', soil: '',
    previous_crop: '', last_frost: '', first_frost: '', gradient: '', bearing_deg: 0, latitude: null, longitude: null,
    slope_percent: null, drainage: '', coldest_c: null, grown: [], weeds: '', pests: '', carry_over: '',
  } // prettier-ignore
}
export const emptySiteDraft = (): SiteDraft => siteDraftOf(emptySite())
export function emptyTreatment(is_control = false): TreatmentDraft {
  return { id: newId(), name: '', code: '', is_control, levels: {}, details: emptyDetails() }
}
export function emptyFactor(): FactorDraft {
  return { id: newId(), name: '', levels: '', whole_strips: false, kind: '', control: '' }
}
export function emptyDraft(): AskDraft {
  return {
    name: '', question: '', sites: [emptySiteDraft()], starts: '', ends: '', factors: [], removed: [], accepted: [],
    treatments: [emptyTreatment(true), emptyTreatment()], measures: [],
  } // prettier-ignore
}

/** Whether a draft that was kept on the device has all the parts that the page has today. */
export function isWhole(kept: AskDraft): boolean {
  const lists = [kept.treatments, kept.measures, kept.factors, kept.accepted, kept.sites].every(Array.isArray)
  return (
    lists &&
    kept.measures.every((one) => typeof one.shown_unit === 'string') &&
    kept.treatments.every((one) => one.details)
  )
}

export function siteDraftOf(site: Site): SiteDraft {
  return {
    site: { ...site },
    latitude: text(site.latitude),
    longitude: text(site.longitude),
    bearing: site.bearing_deg ? text(site.bearing_deg) : '',
    slope: text(site.slope_percent),
    coldest: text(site.coldest_c),
  }
}

export function draftOf(trial: Trial): AskDraft {
  return {
    name: trial.name,
    question: trial.question,
    sites: trial.sites.map(siteDraftOf),
    starts: trial.starts ?? '',
    ends: trial.ends ?? '',
    factors: trial.factors.map((f) => ({
      id: `factor ${f.name}`, // the same for everybody who opens the page
      name: f.name,
      levels: f.levels.join(', '),
      whole_strips: f.whole_strips ?? false,
      kind: f.kind ?? '',
      control: f.control ?? '',
    })),
    accepted: trial.accepted.map((one) => ({ ...one })),
    removed: trial.removed.map((one) => ({ levels: one.levels, why: one.why ?? '' })),
    treatments: trial.treatments.map(({ id, name, code, is_control, levels, details }) => ({
      id,
      name,
      code,
      is_control,
      levels,
      details: detailsDraftOf(details),
    })),
    measures: trial.measures.map((m) => ({
      id: m.id,
      name: m.name,
      unit: m.unit,
      shown_unit: m.shown_unit,
      difference_unit: m.difference_unit,
      catalogue: m.catalogue,
      sheet: m.sheet,
      settings: Object.fromEntries(Object.entries(m.settings).map(([k, v]) => [k, text(v)])),
      own: m.own ? ownDraftOf(m.own) : null,
      margin: text(m.margin),
      margin_kind: m.margin_kind ?? 'absolute',
      direction: m.direction ?? 'none',
      planned: m.planned ?? 'none',
      planned_for: [...m.planned_for],
      control: m.control,
      primary: m.primary ?? false,
      expected: text(m.expected),
      cv_percent: text(m.cv_percent),
    })),
  }
}

/** What a common trial fills in; name, site and dates stay as they are. */
export function takeTemplate(draft: AskDraft, template: Template, catalogue: Catalogue): AskDraft {
  return {
    ...draft,
    name: draft.name || template.name,
    question: draft.question || template.question,
    factors: template.factors.map((f) => ({
      id: newId(),
      name: f.name,
      levels: f.levels.join(', '),
      whole_strips: f.whole_strips ?? false,
      kind: f.kind ?? '',
      control: f.control ?? '',
    })),
    accepted: [],
    removed: template.removed.map((one) => ({ levels: one.levels, why: one.why ?? '' })),
    treatments: template.treatments.map((one) => ({ ...emptyTreatment(), ...one })),
    measures: template.measures.map((key) => measureFrom(catalogue, key)),
  }
}

/** A measure of the catalogue, or with an empty key one of one's own, with the sheet's usual settings. */
export function measureFrom(catalogue: Catalogue, key: string): MeasureDraft {
  const shipped = catalogue.measures.find((m) => m.key === key)
  const sheet = shipped?.sheet_key ?? 'figure'
  return {
    id: newId(),
    name: shipped?.name ?? '',
    unit: shipped?.unit ?? '',
    shown_unit: shipped?.shown_unit ?? '',
    difference_unit: shipped?.difference_unit ?? '',
    catalogue: shipped?.key ?? '',
    sheet,
    settings: {
      ...usualSettings(catalogue, sheet),
      ...Object.fromEntries(
        Object.entries(shipped?.settings ?? {}).map(([key, value]) => [key, text(value)]),
      ),
    },
    own: null,
    margin: '',
    margin_kind: 'absolute',
    direction: shipped?.depends ? '' : (shipped?.direction ?? 'none'),
    planned: 'none',
    planned_for: [],
    control: null,
    primary: false,
    expected: '',
    cv_percent: '',
  }
}
/** A measure that the workspace made itself for another trial. */
export function measureFromOwn(catalogue: Catalogue, known: OwnMeasureLine): MeasureDraft {
  return {
    ...measureFrom(catalogue, ''),
    name: known.name,
    unit: known.unit,
    shown_unit: known.unit,
    sheet: OWN_SHEET,
    settings: {},
    own: ownDraftOf(known.own),
    direction: '',
  }
}
export function usualSettings(catalogue: Catalogue, sheet: string): Record<string, string> {
  const settings = catalogue.sheets.find((s) => s.key === sheet)?.settings ?? []
  return Object.fromEntries(settings.map((s) => [s.key, text(s.usual)]))
}

/** What the server says is wrong, by the place in this draft: `measures.0.margin`, `sites.1.latitude`. */
export function faultsOf(draft: AskDraft, places: { where: string; what: string }[]): Record<string, string> {
  const measures = draft.measures.flatMap((m, i) => (m.name.trim() ? [i] : []))
  const treatments = draft.treatments.filter((one) => one.name.trim())
  return Object.fromEntries(
    places.map(({ where, what }) => {
      const [list, at, ...rest] = where.split('.')
      if (list === 'measures' && rest[0] === 'own')
        return [['measures', measures[Number(at)], ...rest].join('.'), what]
      if (list === 'measures') return [['measures', measures[Number(at)], rest.at(-1)].join('.'), what]
      if (list === 'treatments' && rest.includes('components'))
        return [['treatments', treatments[Number(at)]?.id, rest.at(-2), rest.at(-1)].join('.'), what]
      return [where, what]
    }),
  )
}

/** The factors that are named and have levels, as they are sent. */
export const factorsOf = (draft: AskDraft): Factor[] => listed(draft.factors)

export const levelsOf = (factor: FactorDraft): string[] =>
  factor.levels
    .split(/[,;]/)
    .map((level) => level.trim())
    .filter(Boolean)

/** The level that others are compared with, at the same levels of the other factors: the first factor that has one. */
export function controlLevel(factors: Factor[]): { factor: string; level: string } | null {
  const found = factors.find((f) => f.control)
  return found ? { factor: found.name, level: found.control! } : null
}

export function listed(factors: FactorDraft[]): Factor[] {
  return factors
    .filter((f) => f.name.trim())
    .map((f) => ({
      name: f.name.trim(),
      levels: levelsOf(f),
      whole_strips: f.whole_strips,
      kind: f.kind,
      control: levelsOf(f).includes(f.control) ? f.control : '',
    }))
}

/** Rows without a name are left out: they are the empty line that waits for the next one. */
export function askOf(draft: AskDraft, workspace: string, reason = ''): Ask {
  const named = draft.treatments.filter((treatment) => treatment.name.trim())
  const ids = new Set(named.map((one) => one.id))
  const controls = new Set(named.filter((one) => one.is_control).map((one) => one.id))
  return {
    workspace,
    reason,
    name: draft.name.trim(),
    question: draft.question.trim(),
    sites: draft.sites.map((one) => ({
      ...one.site,
      latitude: one.latitude.trim() || null,
      longitude: one.longitude.trim() || null,
      bearing_deg: one.bearing.trim() || '0',
      slope_percent: one.slope.trim() || null,
      coldest_c: one.coldest.trim() || null,
    })),
    factors: factorsOf(draft),
    removed: draft.factors.length ? draft.removed : [],
    starts: draft.starts || null,
    ends: draft.ends || null,
    accepted: draft.accepted.filter((one) => ids.has(one.base) && ids.has(one.treatment)),
    treatments: named.map((one) => ({ ...one, details: detailsOf(one.details) })),
    measures: draft.measures
      .filter((m) => m.name.trim())
      .map((m) => ({
        ...m,
        own: m.sheet === OWN_SHEET && m.own ? ownOf(m.own) : null,
        control: m.control && controls.has(m.control) ? m.control : null,
        planned_for: m.planned_for.filter((id) => ids.has(id)),
      })),
  }
}
