import type { Trial, Zones } from '@/api/queries'
import { newId } from '@/parts/newId'
import { plain } from '@/texts/format'

type Zone = Zones['zones'][number]

/** A zone while it is typed: its share in per cent, as text; `drawn`: the map says it. */
export interface ZoneDraft {
  id: string
  name: string
  drawn: boolean
  share: string
  sown: NonNullable<Zone['sown']>
  sowing: string
}
/** `taken`: measure → a zone, `EVERY` one, or nothing for the whole plot. */
export interface ZonesDraft {
  zones: ZoneDraft[]
  taken: Record<string, string>
}
export const EVERY = '*'

export const emptyZone = (): ZoneDraft => ({
  id: newId(), name: '', drawn: false, share: '', sown: 'as-plot', sowing: '',
}) // prettier-ignore

export function zonesDraftOf(kept: Zones, measures: Trial['measures']): ZonesDraft {
  return {
    zones: kept.zones.map((zone) => ({
      id: newId(),
      name: zone.name,
      drawn: (zone.share ?? null) === null,
      share: zone.share == null ? '' : plain(Number((100 * zone.share).toPrecision(6))),
      sown: zone.sown ?? 'as-plot',
      sowing: zone.sowing ?? '',
    })),
    taken: Object.fromEntries(
      measures.map((m) => {
        const zones = kept.by_zone[m.id] ?? []
        return [m.id, zones.length > 1 ? EVERY : (zones[0] ?? '')]
      }),
    ),
  }
}

/** The zones that the lines on the map make; what rolls on a track or stands in a row isn't sown. */
export const drawnZones = (kept: Zones): ZoneDraft[] =>
  kept.drawn.map(({ name }) => ({
    ...emptyZone(),
    name,
    drawn: true,
    sown: name === 'between' ? 'as-plot' : 'nothing',
  }))

/** What is sent; zones without a name and a share are the empty line that waits. */
export function zonesOf(draft: ZonesDraft) {
  const zones = draft.zones.filter((one) => one.name.trim() || one.share.trim())
  const names = zones.map((one) => one.name.trim())
  return {
    zones: zones.map((one) => ({
      name: one.name.trim(),
      percent: one.drawn ? null : one.share,
      sown: one.sown,
      sowing: one.sown === 'other' ? one.sowing.trim() : '',
    })),
    by_zone: Object.fromEntries(
      Object.entries(draft.taken).flatMap(([measure, where]) => {
        if (where === EVERY) return [[measure, names]]
        return names.includes(where) ? [[measure, [where]]] : []
      }),
    ),
  }
}
