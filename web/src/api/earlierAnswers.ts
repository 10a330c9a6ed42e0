import type { Shapes } from './client'

/**
 * Without a network an answer may be one that an earlier release has kept on this device: what came since is filled in,
 * so that its sheet opens all the same.
 */
export const PLANLESS = {
  blind: false,
  guess_first: false,
  observers: [],
  why_so: '',
  past: [],
  expected: [],
  places: { said: '', corner: '', width: 0, length: 0, by_plot: {}, area: {}, why_none: '' },
}
const UNPLANNED = {
  observers: [],
  how: { placement: 'free', samples: {}, plots: [], observers: [], blind: false, guess_first: false },
} as const
export const ofNow = (visit: Shapes['VisitOut']): Shapes['VisitOut'] => ({
  ...PLANLESS,
  ...visit,
  measures: visit.measures.map((m) => ({
    ...m,
    samples_due: m.samples_due ?? m.samples,
    sample_name: m.sample_name ?? 'frame',
  })),
})
export const seasonOfNow = (season: Shapes['SeasonOut']): Shapes['SeasonOut'] => ({
  ...season,
  crew: season.crew ?? [],
  placements: season.placements ?? [],
  visits: season.visits.map((visit) => ({ ...UNPLANNED, ...visit })),
})
