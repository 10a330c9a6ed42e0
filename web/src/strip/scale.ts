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

/** Labels that would run into each other go up and down by turns. `width`: of the strip, px. */
export function layMarks<T extends { name: string; x: number }>(
  events: T[],
  width: number,
): (T & { row: number })[] {
  const ends = [-Infinity, -Infinity]
  return [...events]
    .sort((a, b) => a.x - b.x)
    .map((event) => {
      const left = event.x * width
      const row = left > ends[0]! ? 0 : left > ends[1]! ? 1 : 0
      ends[row] = left + event.name.length * 7.5 + 14
      return { ...event, row }
    })
}
