import type { Cell } from '@/api/queries'

export type Tone = 'gain' | 'loss' | 'unsettled' | 'neutral'

const TONES: Record<Cell['verdict'], Tone> = {
  'clear-gain': 'gain',
  'clear-loss': 'loss',
  'clear-more': 'gain',
  'clear-less': 'gain',
  'real-size-unsettled': 'gain',
  'real-but-small': 'neutral',
  'no-difference-worth-having': 'neutral',
  'not-settled': 'unsettled',
  'no-margin': 'neutral',
  'no-answer': 'neutral',
}

/** The colour of a verdict; it never stands without its words. */
export function toneOf(verdict: Cell['verdict']): Tone {
  return TONES[verdict]
}

/** The colour of a cell: real differences that go the unwanted way aren't shown as a gain. */
export function toneOfCell(cell: Pick<Cell, 'verdict' | 'estimate'>, direction: string): Tone {
  const tone = toneOf(cell.verdict)
  if (cell.verdict !== 'real-size-unsettled' || cell.estimate === null) return tone
  if (direction === 'none') return 'neutral'
  return cell.estimate > 0 === (direction === 'higher') ? 'gain' : 'loss'
}
