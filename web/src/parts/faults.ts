import { Problem } from '@/api/client'

/** What is wrong with what was typed, by the place that the server names (`field.headland`). */
export function faultsIn(problem: Error | null | undefined): Record<string, string> {
  const places = problem instanceof Problem ? problem.places : []
  return Object.fromEntries(places.map((place) => [place.where, place.what]))
}
