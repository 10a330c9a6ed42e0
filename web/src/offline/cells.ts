import type { EntryIn, Outcome, Row, SheetMeasure, Visit } from '@/api/queries'

/** One entry of a sheet: a sample of a measure in a plot; `zone`: where it is taken in zones, else empty. */
export interface Place {
  unit: string
  measure: string
  zone: string
  sample: number
  component_kind: Row['component_kind']
  /** The species or grade that it is of, where the measure is told by parts; else empty. */
  component: string
}
/** A place to type: one field of an entry. */
export interface Step extends Place {
  field: string
}

/**
 * What stands in an entry on this device. `draft`: being typed; `queued`: finished, not yet at the server; `question`
 * and `refused`: the server asked back. `row`: what the server has there.
 */
export interface Cell {
  place: Place
  status: 'empty' | 'draft' | 'queued' | 'question' | 'refused' | 'saved' | 'conflict'
  fields: Record<string, string>
  missingStatus: '' | NonNullable<Row['missing_status']>
  reason: string
  message: string
  confirmed: boolean
  id: string
  enteredAt: string
  /** The system that it was typed in, which its field showed then. */
  units: Visit['units'] | ''
  /** Whether treatment names were hidden where it was typed; drafts of earlier versions don’t say. */
  blind?: boolean
  row: Row | null
}

/** Of an entry that isn’t told by parts. */
export const WHOLE = { component_kind: '', component: '' } as const

export const keyOf = (p: Place) =>
  [
    p.unit,
    p.measure,
    ...(p.zone ? [p.zone] : []),
    ...(p.component ? [`of ${p.component}`] : []),
    String(p.sample),
  ].join('|')

export function emptyCell(place: Place): Cell {
  return {
    place, status: 'empty', fields: {}, missingStatus: '', reason: '', message: '', confirmed: false, id: '', enteredAt: '',
    units: '', row: null,
  } // prettier-ignore
}
export function cellOfRow(row: Row): Cell {
  const { unit, measure, zone, sample, component_kind, component } = row
  const place = { unit, measure, zone, sample, component_kind, component }
  return {
    ...emptyCell(place), status: 'saved', fields: row.missing_status ? {} : { ...row.fields }, missingStatus: row.missing_status ?? '',
    reason: row.missing_reason, row,
  } // prettier-ignore
}

/** The columns of a measure: zone by zone, frame by frame, part by part, field by field. */
export function columnsOf(m: SheetMeasure): Omit<Step, 'unit'>[] {
  return (m.zones.length ? m.zones : ['']).flatMap((zone) =>
    Array.from({ length: m.samples }, (_, i) => i + 1).flatMap((sample) =>
      ofParts(m).flatMap((part) =>
        m.fields.map((field) => ({ measure: m.id, zone, sample, ...part, field: field.key })),
      ),
    ),
  )
}

function ofParts(m: SheetMeasure): Pick<Place, 'component_kind' | 'component'>[] {
  if (!m.part_kind) return [WHOLE]
  const component_kind = m.part_kind as Row['component_kind']
  return m.parts.map((part) => ({ component_kind, component: part.name }))
}

/** Every field of the visit in walking order: plot by plot, measure by measure, zone by zone, frame by frame. */
export function stepsOf(visit: Visit): Step[] {
  return visit.order.flatMap((unit) => stepsIn(visit, unit))
}
export function stepsIn(visit: Visit, unit: string): Step[] {
  const here = visit.zones[unit] ?? []
  return visit.measures.flatMap((m) =>
    columnsOf(m)
      .filter((column) => !column.zone || here.includes(column.zone))
      .map((column) => ({ unit, ...column })),
  )
}

export function entryOf(cell: Cell): EntryIn {
  return {
    id: cell.id,
    ...WHOLE, // drafts of earlier versions have none
    ...cell.place,
    fields: cell.fields,
    replaces: cell.row?.id ?? null,
    missing_status: cell.missingStatus,
    missing_reason: cell.reason,
    confirmed: cell.confirmed,
    entered_at: cell.enteredAt,
    units: cell.units ?? '', // drafts of earlier versions have none
    blind: cell.blind ?? null,
  }
}

/**
 * What became of an entry that was sent. `done`: this device may let go of it; `kept`: it stays here, typed on or asked
 * back about; `conflict`: somebody else has another value there. `me`: who sent it.
 */
export function settle(c: Cell, sent: EntryIn, outcome: Outcome, me: string): 'done' | 'kept' | 'conflict' {
  const typedOn = c.id !== sent.id || c.status === 'draft'
  if (outcome.state === 'saved') {
    // What was sent stands there now; what was typed on since will replace it.
    c.row = {
      id: sent.id, ...WHOLE, ...c.place, value: outcome.value, bound: outcome.bound, fields: { ...(sent.fields ?? {}) }, missing_status: sent.missing_status ?? '',
      missing_reason: sent.missing_reason ?? '', by: me, at: sent.entered_at,
    } // prettier-ignore
    if (typedOn) return 'kept'
    c.status = 'saved'
    c.message = ''
    return 'done'
  }
  if (typedOn) return 'kept'
  c.message = outcome.message
  c.status = outcome.state
  if (outcome.state === 'conflict') c.row = outcome.other
  return outcome.state === 'conflict' ? 'conflict' : 'kept'
}
