import { computed, type Ref } from 'vue'

import type { MeasureReading } from '@/api/queries'
import type { PlotFace } from '@/ground/GroundMap.vue'
import { useStationGround } from '@/shell/useGround'
import { found, signed } from '@/texts/format'

export type Showing = 'treatment' | 'value' | 'residual'

function mix(share: number, from: [number, number, number], to: [number, number, number]): string {
  const part = from.map((c, i) => Math.round(c + (to[i]! - c) * share))
  return `rgb(${part.join(' ')})`
}

/** Shades: paper to slate for values, blue through paper to rust for residuals. */
function shadeOf(value: number, low: number, high: number, showing: Showing): string {
  if (showing === 'value') return mix((value - low) / (high - low || 1), [226, 222, 208], [62, 92, 104])
  const reach = Math.max(Math.abs(low), Math.abs(high)) || 1
  return value < 0
    ? mix(-value / reach, [236, 232, 222], [51, 96, 143])
    : mix(value / reach, [236, 232, 222], [168, 65, 42])
}

/** Shows a measure on the ground: its values, or its residuals; lost plots and plots in doubt are marked. */
export function useFaces(measure: Ref<MeasureReading | undefined>, showing: Ref<Showing>) {
  const faces = computed<Record<string, PlotFace>>(() => {
    const m = measure.value
    if (!m) return {}
    const doubtful = new Set(
      m.doubts.filter((d) => d.severity !== 'worth-knowing' && !d.answer).flatMap((d) => d.plots),
    )
    const of = (p: MeasureReading['plots'][number]) => (showing.value === 'residual' ? p.residual : p.value)
    const numbers = m.plots.map(of).filter((v): v is number => v !== null)
    if (!m.plots.some((plot) => plot.value !== null)) return {} // not taken yet: nothing is lost
    const [low, high] = [Math.min(...numbers), Math.max(...numbers)]
    return Object.fromEntries(
      m.plots.map((plot): [string, PlotFace] => {
        const value = of(plot)
        if (plot.value === null) return [plot.label, { state: 'lost' }]
        const text = showing.value === 'residual' ? signed(value, m.decimals) : found(value, m.decimals)
        return [
          plot.label,
          {
            figure: text,
            shade:
              showing.value === 'treatment' || value === null
                ? undefined
                : shadeOf(value, low, high, showing.value),
            state: doubtful.has(plot.label) ? 'doubtful' : undefined,
          },
        ]
      }),
    )
  })
  useStationGround(() => ({
    title: measure.value?.name ?? '',
    unit: measure.value?.unit ?? '',
    faces: faces.value,
  }))
}
