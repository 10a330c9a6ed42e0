import type { MeasureOutlook } from '@/api/queries'
import { figure } from '@/texts/format'

/** A difference with the decimals that its measure deserves, and its unit. */
export const amount = (value: number, m: MeasureOutlook) =>
  `${figure(value, m.decimals)} ${m.difference_unit}`.trim()
