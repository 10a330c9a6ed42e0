import type { Trial } from '@/api/queries'

export type Design = Trial['design']

/** In the order in which they are offered. */
export const DESIGNS: Design[] = [
  'rcbd', 'incomplete_block', 'split_plot', 'strip_plot', 'latin_square', 'paired_strips', 'crd',
] // prettier-ignore

/** A text of Plan that speaks of blocks, or of replicates where these are parted into incomplete blocks. */
export const textOf = (key: string, replicates: boolean) =>
  replicates ? `plan.replicates.${key}` : `plan.${key}`
