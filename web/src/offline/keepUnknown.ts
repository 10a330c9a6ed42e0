import type { Trial } from '@/api/queries'
import { newId } from '@/parts/newId'

import { keepLogEntry, keepPhotographs } from './keepLogEntry'

/**
 * Photographs of a species that nobody could name yet: a note of its plot, so that it is kept without a signal too and
 * found in the field log by its name.
 */
export async function keepUnknown(trial: Trial, unit: string, name: string, text: string, files: File[]) {
  const id = newId()
  await keepLogEntry(trial, id, {
    kind: 'note', day: trial.today, text, trouble: '', decision: '', effect: 'none', rule: '', known: '', treatments: [], plots: [unit],
  }, name) // prettier-ignore
  await keepPhotographs(trial, id, files)
}
