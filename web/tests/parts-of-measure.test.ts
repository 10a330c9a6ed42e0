import { describe, expect, it } from 'vitest'

import type { MeasureReading } from '@/api/queries'
import PartsTable from '@/stations/read/PartsTable.vue'

import { show } from './mounting'

describe('the parts of a measure', () => {
  it('stand by themselves, and what counts as none without an entry is said', () => {
    const means = (oat: number | null) => [
      { treatment: 'Bare', mean: 12.5, plots: 4 },
      { treatment: 'Oat', mean: oat, plots: oat === null ? 0 : 4 },
    ]
    const measure = {
      name: 'Weeds', unit: 'weeds/m²', decimals: 1,
      parts: [
        { name: 'Fat hen', group: 'annual broadleaf', means: means(3), unsaid: 0 },
        { name: 'Couch grass', group: '', means: means(null), unsaid: 5 },
      ],
    } as unknown as MeasureReading // prettier-ignore
    const page = show(PartsTable, { measure })
    const rows = page.findAll('tbody tr').map((row) => row.findAll('th, td').map((cell) => cell.text()))
    expect(rows).toEqual([
      ['Fat hen', 'annual broadleaf', '12.5', '3.0'],
      ['Couch grass', '', '12.5', '–'],
    ])
    expect(page.text()).toContain('Couch grass has no entry in 5 samples that have others')
    expect(page.text()).not.toContain('Fat hen has no entry')
  })
})
