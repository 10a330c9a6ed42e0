import type { Season, Trial } from '@/api/queries'

/** A trouble or decision of the field log, with its words. */
export interface LogMark {
  id: string
  name: string
  day: string
}

/** Visits and operations as one kind of mark: where it stands, whether it is over, and where it leads. */
export function eventsOf(trial: Trial, season: Season | undefined, log: LogMark[] = []) {
  const visits = (season?.visits ?? []).map((v) => ({
    id: v.id, name: v.name, date: v.date ?? v.due, state: v.state, shape: 'visit' as const,
    to: { name: 'visit', params: { trial: trial.id, visit: v.id } },
  })) // prettier-ignore
  const operations = (season?.operations ?? []).map((o) => ({
    id: o.id, name: o.name, date: o.done ?? o.due, state: o.state, shape: 'operation' as const,
    to: { name: 'season', params: { trial: trial.id }, hash: `#${o.id}` },
  })) // prettier-ignore
  const logged = log.map((one) => ({
    id: one.id, name: one.name, date: one.day, state: 'done' as const, shape: 'log' as const,
    to: { name: 'log', params: { trial: trial.id }, hash: `#${one.id}` },
  })) // prettier-ignore
  return [...visits, ...operations, ...logged]
}
