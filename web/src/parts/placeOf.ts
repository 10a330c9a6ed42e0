import { Problem } from '@/api/client'

/** What the server says is wrong with one field, to be shown at it. */
export function placeOf(problem: Error | null, where: string): string[] {
  return problem instanceof Problem
    ? problem.places.filter((place) => place.where === where).map((place) => place.what)
    : []
}
