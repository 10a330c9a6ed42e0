import { flushPromises } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'

import type { TrialLine } from '@/api/queries'
import TrialList from '@/today/TrialList.vue'

import { member } from './samples'
import { answers, sent } from './server'
import { openStation } from './station'

const line = (n: number, changes: Partial<TrialLine> = {}): TrialLine => ({
  id: `t${n}`, workspace: 'w', name: `Trial ${n}`, question: 'Which cover?', created_at: `2026-0${1 + (n % 9)}-03T08:00:00Z`, archived_at: null,
  site: 'Mill Ground', years: '2026', plots: 20, stage: 'walk', ...changes,
}) // prettier-ignore
const list = (lines: TrialLine[]) => [200, { count: lines.length, results: lines }] as [number, unknown]

describe('the list of trials', () => {
  async function open(lines: TrialLine[]) {
    answers['GET /api/v1/session'] = [200, { name: 'Ada', email: 'a@b.c', units: 'metric', memberships: [{ ...member('owner'), workspace: 'w' }] }] // prettier-ignore
    answers['GET /api/v1/trials'] = list(lines)
    const { page } = await openStation(TrialList, { search: '' })
    const names = () => page.findAll('li strong').map((one) => one.text())
    const press = async (name: string) => {
      await page
        .findAll('button')
        .find((one) => one.text().startsWith(name))!
        .trigger('click')
      await flushPromises()
    }
    return { page, names, press }
  }
  it('parts thirty trials by stage, and says of two with one name when each was made', async () => {
    const lines = Array.from({ length: 30 }, (_, n) => line(n, n < 3 ? { stage: 'plan' } : {}))
    lines[5] = line(5, { name: 'Trial 4' })
    const { page, names, press } = await open(lines)
    expect(names()).toHaveLength(30)
    await press('being planned')
    expect(names()).toEqual(['Trial 0', 'Trial 1', 'Trial 2'])
    await press('being planned')
    const same = page.findAll('li').filter((one) => one.find('strong').text() === 'Trial 4')
    expect(same.map((one) => one.text().match(/made on (\d+ \w+)/)![1])).toEqual(['3 May', '3 Jun'])
  })
  it('keeps archived ones apart, and restores them', async () => {
    const { names, press } = await open([line(1)])
    answers['GET /api/v1/trials?page_size=200&search=&archived=true'] = list([
      line(9, { archived_at: '2026-06-01T08:00:00Z' }),
    ])
    answers['PUT /api/v1/trials/t9/archive'] = [204, null]
    await press('Show archived')
    await vi.waitFor(() => expect(names()).toEqual(['Trial 9']))
    await press('Restore trial')
    expect(sent.filter((one) => one.method === 'PUT').map((one) => one.body)).toEqual([{ archived: false }])
  })
})
