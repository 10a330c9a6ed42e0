import { Problem } from '@/api/client'

/** Whether nobody has opened the results yet: not a fault, but an act that is still to come. */
export function notOpened(error: Error | null): boolean {
  return error instanceof Problem && error.code === 'results-not-opened'
}
