import { Problem } from '@/api/client'
import type { Trial } from '@/api/queries'
import { texts } from '@/texts'

/** The names of a trial’s blocks, in the order of its plots. */
export const blocksOf = (trial: Trial) => [...new Set(trial.plots.map((plot) => plot.block).filter(Boolean))]

/** The numbers of the plots that lie in these blocks. */
export const plotsIn = (trial: Trial, blocks: readonly string[]) =>
  trial.plots.filter((plot) => blocks.includes(plot.block)).map((plot) => plot.label)

/** None chosen would mean the whole trial, which nobody said: raises a `Problem` instead. */
export function requireChosen(chosen: readonly string[]) {
  if (chosen.length) return
  const what = texts.global.t('season.chooseSome')
  throw new Problem(422, 'bad-value', what, [{ where: 'what_for', what }])
}
