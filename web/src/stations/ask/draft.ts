import type { Ask, Catalogue, Site, Trial } from '@/api/queries'
import { newId } from '@/parts/newId'
import { plain, typedFigure } from '@/texts/format'

type AskMeasure = Ask['measures'][number]

/** The page of Ask while it is being typed: figures are text until they are sent. */
export interface MeasureDraft {
  id: string
  name: string
  unit: string
  catalogue: string
  sheet: string
  settings: Record<string, string>
  margin: string
  margin_kind: NonNullable<AskMeasure['margin_kind']>
  direction: NonNullable<AskMeasure['direction']>
  planned: NonNullable<AskMeasure['planned']>
  expected: string
  cv_percent: string
}
export interface AskDraft {
  name: string
  question: string
  site: Site
  starts: string
  ends: string
  treatments: { id: string; name: string; code: string; is_control: boolean }[]
  measures: MeasureDraft[]
}

export function emptySite(): Site {
  return {
    id: newId(), name: '', place: '', time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC', soil: '',
    previous_crop: '', last_frost: '', first_frost: '', gradient: '', bearing_deg: 0,
  } // prettier-ignore
}
export function emptyTreatment(is_control = false) {
  return { id: newId(), name: '', code: '', is_control }
}
export function emptyDraft(): AskDraft {
  return {
    name: '', question: '', site: emptySite(), starts: '', ends: '',
    treatments: [emptyTreatment(true), emptyTreatment()], measures: [],
  } // prettier-ignore
}

const text = (value: number | null | undefined) => (value === null || value === undefined ? '' : plain(value))

export function draftOf(trial: Trial): AskDraft {
  return {
    name: trial.name,
    question: trial.question,
    site: { ...trial.site },
    starts: trial.starts ?? '',
    ends: trial.ends ?? '',
    treatments: trial.treatments.map(({ id, name, code, is_control }) => ({ id, name, code, is_control })),
    measures: trial.measures.map((m) => ({
      id: m.id,
      name: m.name,
      unit: m.unit,
      catalogue: m.catalogue,
      sheet: m.sheet,
      settings: Object.fromEntries(Object.entries(m.settings).map(([k, v]) => [k, text(v)])),
      margin: text(m.margin),
      margin_kind: m.margin_kind ?? 'absolute',
      direction: m.direction ?? 'none',
      planned: m.planned ?? 'none',
      expected: text(m.expected),
      cv_percent: text(m.cv_percent),
    })),
  }
}

/** A measure of the catalogue, or with an empty key one of one's own, with the sheet's usual settings. */
export function measureFrom(catalogue: Catalogue, key: string): MeasureDraft {
  const shipped = catalogue.measures.find((m) => m.key === key)
  const sheet = shipped?.sheet ?? 'figure'
  return {
    id: newId(),
    name: shipped?.name ?? '',
    unit: shipped?.unit ?? '',
    catalogue: shipped?.key ?? '',
    sheet,
    settings: usualSettings(catalogue, sheet),
    margin: '',
    margin_kind: 'absolute',
    direction: shipped?.direction ?? 'none',
    planned: 'none',
    expected: '',
    cv_percent: '',
  }
}
export function usualSettings(catalogue: Catalogue, sheet: string): Record<string, string> {
  const settings = catalogue.sheets.find((s) => s.key === sheet)?.settings ?? []
  return Object.fromEntries(settings.map((s) => [s.key, text(s.usual)]))
}

/** What isn't a figure, by place: `measures.0.margin`. The server checks everything else. */
export function notFigures(draft: AskDraft): string[] {
  return draft.measures.flatMap((m, i) => {
    const typed = { margin: m.margin, expected: m.expected, cv_percent: m.cv_percent, ...m.settings }
    return Object.entries(typed)
      .filter(([, value]) => Number.isNaN(typedFigure(value)))
      .map(([key]) => `measures.${i}.${key}`)
  })
}

/** Rows without a name are left out: they are the empty line that waits for the next one. */
export function askOf(draft: AskDraft, workspace: string): Ask {
  return {
    workspace,
    name: draft.name.trim(),
    question: draft.question.trim(),
    site: draft.site,
    starts: draft.starts || null,
    ends: draft.ends || null,
    treatments: draft.treatments.filter((treatment) => treatment.name.trim()),
    measures: draft.measures
      .filter((m) => m.name.trim())
      .map((m) => ({
        ...m,
        settings: Object.fromEntries(
          Object.entries(m.settings).map(([k, v]) => [k, typedFigure(v) as number]),
        ),
        margin: typedFigure(m.margin),
        expected: typedFigure(m.expected),
        cv_percent: typedFigure(m.cv_percent),
      })),
  }
}
