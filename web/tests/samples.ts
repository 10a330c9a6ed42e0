import type { Cell, Doubt, MeasureReading, PlotValue, Reading, Trial } from '@/api/queries'

/** A made-up trial of two covers and bare ground in two blocks, and its reading: just enough to draw a board. */

const TREATMENTS = ['Bare', 'Oat', 'Vetch']
const LABELS = ['101', '102', '103', '201', '202', '203']

export const trial = {
  id: 't',
  etags: { ask: 'a1', plan: 'p1', equipment: 'e1' },
  workspace: 'w',
  name: 'Covers',
  question: 'Does any cover lift yield?',
  allocation: 'drawn',
  design: 'rcbd',
  site: {
    id: 's',
    name: 'Long Piece',
    place: '',
    gradient: '',
    bearing_deg: 0,
    latitude: null,
    longitude: null,
  },
  sites: [{ id: 's', name: 'Long Piece' }],
  not_grown: [],
  earlier: {},
  starts: null,
  ends: null,
  today: '2026-10-20',
  schematic: false,
  treatments: TREATMENTS.map((name, i) => ({
    id: name,
    name,
    code: name.slice(0, 2),
    is_control: i === 0,
    levels: {},
    details: { seed_set: '' as const },
  })),
  measures: [],
  plan: null,
  factors: [],
  removed: [],
  moved: [],
  accepted: [],
  two_things: '',
  equipment: {
    drill: null,
    spreader: null,
    sprayer: null,
    mower: null,
    combine: null,
    row_spacing: null,
    roller: null,
    cultivator: null,
    sprayer_section: null,
    rows_caught: null,
  },
  proposal: {
    design: 'rcbd',
    whole_factor: '',
    column_factor: '',
    block_size: 0,
    why: 'Blocks across the slope.',
    size: { width: 6, length: 12, gap: 0.5, alley: 3, blocks: 4, least_blocks: 2, most_blocks: 40 },
  },
  recorded: false,
  length_unit: 'm',
  length_factor: 1,
  plots: LABELS.map((label, i) => ({
    id: label,
    label,
    block: i < 3 ? 'A' : 'B',
    treatment: TREATMENTS[i % 3]!,
    x: (i % 3) * 6,
    y: i < 3 ? 0 : 15,
    width: 6,
    length: 12,
  })),
  may: ['see', 'record', 'plan', 'answer'],
  follows: null,
  followed_by: [],
} as unknown as Trial

export const cell = (changes: Partial<Cell> = {}): Cell => ({
  treatment: 'Oat',
  verdict: 'clear-gain',
  estimate: 3,
  lower: 2.2,
  upper: 3.8,
  p: 0.001,
  reason: '',
  blocks: null,
  blocks_likely: null,
  more_than_40: false,
  stands_out: false,
  against: 'Bare',
  ...changes,
})

export const doubt = (changes: Partial<Doubt> = {}): Doubt => ({
  key: 'outlier|Yield|203',
  id: 'outlier',
  severity: 'weakens',
  title: 'A plot stands out',
  finding: 'Plot 203 has 88.',
  why: 'One odd plot can hide a difference.',
  what_to_do: 'Look at the notes.',
  subject: 'Yield',
  plots: ['203'],
  answer: null,
  ...changes,
})

export const plotValue = (
  label: string,
  value: number | null,
  changes: Partial<PlotValue> = {},
): PlotValue => {
  const i = LABELS.indexOf(label)
  return {
    label,
    block: i < 3 ? 'A' : 'B',
    treatment: TREATMENTS[i % 3]!,
    value,
    samples: [value],
    observations: [`observation of ${label}`],
    residual: value === null ? null : i < 3 ? 0.5 : -0.5,
    fitted: value,
    quantile: value === null ? null : 0.1,
    studentized: null,
    ...changes,
  }
}

export const measure = (changes: Partial<MeasureReading> = {}): MeasureReading => ({
  id: 'm',
  name: 'Yield',
  unit: 't/ha',
  difference_unit: 't/ha',
  group: 'Crop',
  occasion: null,
  counted: false,
  direction: 'higher',
  margin: 2,
  margin_kind: 'absolute',
  planned_kind: 'none',
  base: 'Bare',
  controls: ['Bare'],
  primary: false,
  decimals: 1,
  band: { low: -2, high: 2 },
  refusal: '',
  detectable: 1.8,
  cells: [cell(), cell({ treatment: 'Vetch', verdict: 'not-settled', lower: -1, upper: 4, blocks: 9 })],
  planned: [],
  letters_withheld: '',
  notes: [],
  doubts: [],
  plots: LABELS.map((label, i) => plotValue(label, i === 5 ? null : 40 + i)),
  full: {
    model: 'Treatment fixed, blocks random.',
    design: 'rcbd',
    method: 'dunnett',
    n_plots: 5,
    grand_mean: 42,
    cv_percent: 3.1,
    anova: [{ term: 'Treatments', label: 'Treatments', df_num: 2, df_den: 2, f: 9.5, p: 0.09 }],
    variance_components: [{ name: 'block', label: 'between blocks', variance: 0.4 }],
    means: TREATMENTS.map((treatment, i) => ({
      treatment, mean: 41 + i, se: 0.7, df: 2, lower: 39 + i, upper: 43 + i, letters: null,
    })), // prettier-ignore
    pairs: [{ a: 'Oat', b: 'Bare', estimate: 3, se: 0.3, df: 2, t: 9, p: 0.01, lower: 2.2, upper: 3.8 }],
    lsd: null,
    shapiro_p: 0.4,
    levene_p: null,
  },
  ...changes,
})

export const reading = (changes: Partial<Reading> = {}): Reading => ({
  identity: 'r',
  opened_at: '2026-10-20T09:00:00Z',
  opened_by: 'Ada',
  tried_after: false,
  against: '',
  base: 'Bare',
  how: {
    method: 'dunnett',
    alpha: 0.05,
    block_effect: 'random',
    df_method: 'kenward_roger',
    counts: 'estimated',
    scale: 'measured',
  },
  families: 1,
  core_version: '0',
  fingerprint: 'f',
  doubts: [],
  board_doubts: [],
  measures: [measure()],
  ...changes,
})

/** A plan that suits every machine. */
export const machines = { width: null, too_narrow: '', hints: [] as string[] }

/** Somebody's place in a workspace, with what that role may do there. */
export const member = (role: string, workspace = 'w', name = 'Fen') => ({
  workspace,
  name,
  role,
  may:
    role === 'reader'
      ? ['see']
      : role === 'technician'
        ? ['see', 'record']
        : ['see', 'record', 'plan', 'answer'],
})
