import type { Plot, Visit } from '@/api/queries'
import { stepsIn, type Step } from '@/offline/cells'
import { squaresIn } from '@/rules/squares'

import type { Sheet } from '@/stations/walk/useSheet'

type Measure = Visit['measures'][number]

const measureOf = (visit: Visit, step: Step) => visit.measures.find((m) => m.id === step.measure)
/** Its value is an area that is drawn on the plot. */
export const isDrawn = (visit: Visit, step: Step) =>
  measureOf(visit, step)?.fields.find((field) => field.key === step.field)?.kind === 'squares'

/** How many squares lie across the plot, and along it. */
export function gridOf(m: Measure) {
  const { across = 5, along = 10 } = m.rules.settings
  return { across: Math.max(1, Math.round(across)), along: Math.max(1, Math.round(along)) }
}

/** What has failed in all plots as it was drawn, on the map: x, y, width, length in metres. */
export function failedGround(plots: Plot[], visit: Visit, sheet: Sheet): number[][] {
  if (!visit.measures.some((m) => m.fields.some((field) => field.kind === 'squares'))) return []
  return plots.flatMap((plot) =>
    stepsIn(visit, plot.id)
      .filter((step) => isDrawn(visit, step))
      .flatMap((step) => {
        const { across, along } = gridOf(measureOf(visit, step)!)
        const [width, length] = [plot.width / across, plot.length / along]
        const squares = squaresIn(sheet.cell(step).fields[step.field] ?? '', across * along) ?? []
        return squares.filter(Boolean).map((n) => {
          const at = n - 1
          return [plot.x + (at % across) * width, plot.y + Math.floor(at / across) * length, width, length]
        })
      }),
  )
}
