import { extent } from 'd3-array'
import { scaleLinear } from 'd3-scale'

/** A linear scale that holds all values with a little air, and round ticks. */
export function airyScale(values: (number | null)[], range: [number, number], ticks = 5) {
  const [low = 0, high = 1] = extent(values.filter((v): v is number => v !== null))
  const air = (high - low) * 0.06 || Math.abs(high) * 0.1 || 1
  const scale = scaleLinear()
    .domain([low! - air, high! + air])
    .range(range)
  return { at: (v: number) => scale(v), ticks: scale.ticks(ticks), format: scale.tickFormat(ticks) }
}

/** One scale for all cells of a measure: every interval, zero and the margin fit. */
export function differenceScale(
  cells: { lower: number | null; upper: number | null }[],
  band: { low: number; high: number } | null,
  width: number,
) {
  const values = cells.flatMap((c) => [c.lower, c.upper]).filter((v): v is number => v !== null)
  if (band) values.push(band.low, band.high)
  values.push(0)
  const low = Math.min(...values)
  const high = Math.max(...values)
  const air = (high - low) * 0.04 || 1
  return scaleLinear()
    .domain([low - air, high + air])
    .range([2, width - 2])
}
