import type { Row, SheetMeasure } from '@/api/queries'
import { plain } from '@/texts/format'

/** What a row comes to in the reader’s unit, which isn’t said along: a value, or the end beyond which it lies. */
export function figureOf(row: Pick<Row, 'value' | 'bound'> | null, m: SheetMeasure): string {
  const said = (stored: number) => plain(Number((stored * m.factor).toPrecision(3)))
  if (!row) return ''
  if (row.value !== null) return said(row.value)
  // What an earlier release kept on this device has no bound.
  return typeof row.bound === 'number' && m.beyond
    ? `${m.beyond === 'more' ? '>' : '<'} ${said(row.bound)}`
    : ''
}
