import { flushPromises } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import AskPage from '@/stations/ask/AskPage.vue'
import { draftOf, emptyTreatment, type AskDraft } from '@/stations/ask/draft'
import { mergeInto } from '@/stations/ask/merging'

import { trial } from './samples'
import { answers, sent } from './server'
import { openStation } from './station'

const started = () => draftOf(trial)
function changed(act: (draft: AskDraft) => void): AskDraft {
  const draft = started()
  act(draft)
  return draft
}
const names = (draft: AskDraft) => draft.treatments.map((one) => one.name)

describe('what two people changed at once', () => {
  it('is taken over where only the other one changed it', () => {
    const mine = changed((d) => (d.question = 'Mine?'))
    const theirs = changed((d) => {
      d.treatments.push({ ...emptyTreatment(), id: 'rye', name: 'Rye' })
      d.treatments[1]!.code = 'X'
      d.treatments.splice(2, 1)
    })
    const merged = mergeInto(mine, started(), theirs)
    expect(mine.question).toBe('Mine?')
    expect(names(mine)).toEqual(['Bare', 'Oat', 'Rye'])
    expect(mine.treatments[1]!.code).toBe('X')
    expect(merged.collisions).toEqual([])
    expect(merged.taken).toContainEqual(['treatments', 'Oat', 'code'])
  })
  it('stays one’s own where both changed the same, and is told with a way to take the other’s', () => {
    const mine = changed((d) => {
      d.name = 'My name'
      d.treatments[1]!.name = 'Black oat'
    })
    const theirs = changed((d) => {
      d.name = 'Their name'
      d.treatments.splice(1, 1)
    })
    const { collisions } = mergeInto(mine, started(), theirs)
    expect(mine.name).toBe('My name')
    expect(names(mine)).toEqual(['Bare', 'Black oat', 'Vetch'])
    expect(collisions.map((one) => one.where)).toEqual([['name'], ['treatments', 'Black oat']])
    for (const one of collisions) one.take()
    expect(mine.name).toBe('Their name')
    expect(names(mine)).toEqual(['Bare', 'Vetch'])
  })
  it('isn’t brought back where one has taken out what the other left alone', () => {
    const mine = changed((d) => d.treatments.splice(1, 1))
    const merged = mergeInto(mine, started(), started())
    expect(names(mine)).toEqual(['Bare', 'Vetch'])
    expect(merged).toEqual({ taken: [], collisions: [] })
  })
})

describe('the page of Ask', () => {
  it('shows the other’s changes beside one’s own, and keeps the two together under the new version', async () => {
    const now = { ...trial, name: 'Their name', starts: '2027-08-01', etags: { ...trial.etags, ask: 'a2' } }
    answers['PUT /api/v1/trials/t/ask'] = [412, { code: 'changed', detail: 'Changed.', current: now }]
    const { page } = await openStation(AskPage, { trial })
    await page.find('input[maxlength="160"]').setValue('My name')
    await page.find('form').trigger('submit')
    await flushPromises()
    const said = page.find('.changed').text()
    expect(said).toContain('saved this page after you opened it')
    expect(said).toContain('Their changes that don’t touch yours are included: season starts.')
    expect(said).toContain('name. Yours: My name. Theirs: Their name.')
    answers['PUT /api/v1/trials/t/ask'] = [200, now]
    await page.find('form').trigger('submit')
    await flushPromises()
    const saves = sent.filter((one) => one.url.endsWith('/ask'))
    expect(saves.at(-1)!.body).toMatchObject({ name: 'My name', starts: '2027-08-01' })
    expect(saves.map((one) => one.etag)).toEqual(['"a1"', '"a2"'])
  })
})
