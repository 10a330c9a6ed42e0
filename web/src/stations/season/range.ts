import { texts } from '@/texts'
import { day } from '@/texts/format'

/** The range of a forecast in words; empty where it is a single day. */
export function rangeSaid(early?: string | null, late?: string | null): string {
  if (!early || early === late) return ''
  return late
    ? texts.global.t('season.range', { early: day(early), late: day(late) })
    : texts.global.t('season.rangeOpen', { early: day(early) })
}
