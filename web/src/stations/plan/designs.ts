import type { Trial } from '@/api/queries'

export type Design = Trial['design']

/** In the order in which they are offered. */
export const DESIGNS: Design[] = [
  'rcbd', 'split_plot', 'strip_plot', 'latin_square', 'paired_strips', 'crd',
] // prettier-ignore
