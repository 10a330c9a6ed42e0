/** The season strip's arithmetic: dates to places along the strip. */

const DAY = 86_400_000

export function dayNumber(date: string): number {
  return Date.parse(`${date}T00:00:00Z`) / DAY
}

/** Places from 0 to 1 along the season, with some days' air at both ends; today is always on the strip. */
export function stripScale(starts: string, ends: string, today: string) {
  const air = 12
  const first = dayNumber(starts) - air
  const last = Math.max(dayNumber(ends), Math.min(dayNumber(today), dayNumber(ends) + 90)) + air
  const place = (date: string) => (dayNumber(date) - first) / (last - first)
  const months: { x: number; month: number; year: number }[] = []
  const start = new Date(first * DAY)
  for (let m = 1; ; m++) {
    const date = new Date(Date.UTC(start.getUTCFullYear(), start.getUTCMonth() + m, 1))
    const x = (date.getTime() / DAY - first) / (last - first)
    if (x >= 1) return { place, months, days: last - first }
    months.push({ x, month: date.getUTCMonth(), year: date.getUTCFullYear() })
  }
}

/** Past this share of the strip a label stands to the left of its mark, so that it doesn't run off the end. */
export const TURNS_AT = 0.86
const ROWS = 3

/** Labels that would run into each other go to another row; one that fits in none keeps its mark and loses its words. */
export function layMarks<T extends { name: string; x: number }>(
  events: T[],
  width: number,
): (T & { row: number; left: boolean; silent: boolean })[] {
  const taken: [number, number][][] = Array.from({ length: ROWS }, () => [])
  return [...events]
    .sort((a, b) => a.x - b.x)
    .map((event) => {
      const at = event.x * width
      const long = event.name.length * 7.2 + 12
      const left = event.x > TURNS_AT
      const [from, to] = left ? [at - long, at] : [at, at + long]
      const row = taken.findIndex((spans) => spans.every(([start, end]) => to <= start || from >= end))
      if (row >= 0) taken[row]!.push([from, to])
      return { ...event, row: Math.max(0, row), left, silent: row < 0 }
    })
}
