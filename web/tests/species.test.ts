/** The species guide: what is typed is read by the server, and what is put together goes on to a trial. */
import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'

import GuidePage from '@/species/GuidePage.vue'
import { emptyGuide, mixOf, wishOf } from '@/species/wish'

import { show } from './mounting'
import { answers, sent } from './server'
import { member } from './samples'

const guide = '/api/v1/workspaces/w/species'
const fact = {
  field: 'drilled',
  text: '67 to 135',
  lines: ['67 to 135'],
  source: 'clark',
  cited: 'Clark 2007',
}
const rye = { key: 'rye', name: 'Cereal rye', own: false, facts: [fact] }
const vetch = { key: 'hairy-vetch', name: 'Hairy vetch', own: true, facts: [] }
const judged = { costs: [], notes: [], unknown: [], out: [], partners: ['hairy-vetch'], why: [], own: false }

async function opened() {
  const Page = { template: '<span />' }
  const routes = [
    { path: '/species', name: 'species', component: GuidePage },
    ...['today', 'new', 'sign-in'].map((name) => ({ path: `/${name}`, name, component: Page })),
  ]
  const router = createRouter({ history: createMemoryHistory(), routes })
  await router.push('/species')
  const page = show(GuidePage, {}, {}, [router])
  await flushPromises()
  return { page, router }
}

describe('the species guide', () => {
  beforeEach(() => {
    localStorage.clear()
    answers['GET /api/v1/session'] = [
      200,
      { name: 'Ada', email: 'a@b.c', units: 'metric', memberships: [member('owner')] },
    ] // prettier-ignore
    answers['GET /api/v1/sites'] = [200, { count: 0, results: [] }]
    answers[`GET ${guide}`] = [
      200,
      {
        fields: [
          { key: 'drilled', label: 'Full rate drilled', group: 'Sowing', kind: 'range', unit: 'kg/ha', choices: [] },
          { key: 'tkw', label: 'Thousand-kernel weight', group: 'Sowing', kind: 'range', unit: 'g', choices: [] },
        ],
        purposes: [{ key: 'weeds', label: 'Weed suppression' }],
        crops: ['cereals'],
        sources: [],
        species: [rye, vetch],
      },
    ] // prettier-ignore
    answers[`POST ${guide}/fit`] = [
      200,
      [
        {
          ...judged,
          key: 'rye',
          name: 'Cereal rye',
          score: 80,
          costs: [{ points: 15, text: 'It may live.' }],
        },
        { ...judged, key: 'oat', name: 'Oat', score: null, unknown: ['Its winter hardiness isn’t known.'] },
        { ...judged, key: 'hairy-vetch', name: 'Hairy vetch', score: null, out: ['Sown too late.'] },
      ],
    ]
    const part = { of_full: 50, of_mass: 100, of_seeds: 100, seeds: 202, full: 101, tkw: 25, brings: [] }
    answers[`POST ${guide}/mix`] = [
      200,
      {
        components: [
          { ...part, key: 'rye', name: 'Cereal rye', rate: 50.5 },
          { ...part, key: 'hairy-vetch', name: 'Hairy vetch', rate: 9.75, full: 19.5 },
        ],
        total: 60.25, rate_unit: 'kg/ha', seeds_unit: 'seeds/m²', sum_of_full: 100, separation: '', carbon_nitrogen: null, carbon_nitrogen_note: 'Not known.',
        services: [], notes: ['Cereal rye can carry Hairy vetch.'], enough: [], replacement: [], additive: [],
      },
    ] // prettier-ignore
  })

  it('sends numbers as they are typed, and no half-typed day', () => {
    const { wish, mix } = emptyGuide()
    Object.assign(wish, { first_frost: '10-', mild_winter: '-1x', sown: '2026-09-10', soil: '12,5' })
    expect(wishOf(wish)).toMatchObject({
      first_frost: '',
      mild_winter: '-1x',
      sown: '2026-09-10',
      soil: '12,5',
    })
    mix.parts.push({ key: 'rye', share: '40,5', full: '', tkw: '31' })
    expect(mixOf(mix, {}).parts).toEqual([{ key: 'rye', share: '40,5', full: '', tkw: '31' }])
  })

  it('ranks what fits, sets apart what can’t be judged and what can’t work, and asks again when a weight is moved', async () => {
    const { page } = await opened()
    expect(page.get('li[aria-label="Cereal rye"]').text()).toContain('80 of 100')
    expect(page.get('li[aria-label="Cereal rye"]').text()).toContain('−15 points It may live.')
    expect(page.get('ul[aria-label="Can’t be judged"]').text()).toBe('OatIts winter hardiness isn’t known.')
    expect(page.get('ul[aria-label="Don’t fit here"]').text()).toContain('Sown too late.')
    const slider = page.get('input[type=range]')
    ;(slider.element as HTMLInputElement).value = '3'
    await slider.trigger('input')
    await flushPromises()
    const asked = sent.filter((one) => one.url === `${guide}/fit`).at(-1)
    expect(asked?.body).toMatchObject({ weights: { weeds: 3 } })
  })

  it('makes a mix, tells what it is, keeps it on the device and starts a trial from it', async () => {
    const { page, router } = await opened()
    await page.get('li[aria-label="Cereal rye"] .pill').trigger('click')
    await flushPromises()
    expect(page.text()).toContain('Total: 60.3 kg/ha; shares of full rates add up to 100 %')
    expect(page.text()).toContain('Cereal rye can carry Hairy vetch.')
    expect(localStorage.getItem('apercu.draft.species')).toContain('"key":"rye"')
    await page
      .findAll('.pill')
      .find((one) => one.text().startsWith('Start trial'))!
      .trigger('click')
    await flushPromises()
    await vi.waitFor(() => expect(router.currentRoute.value.name).toBe('new'))
    expect(router.currentRoute.value.query.treatments).toEqual([
      '51 kg/ha Cereal rye + 9.8 kg/ha Hairy vetch',
      '101 kg/ha Cereal rye',
      '20 kg/ha Hairy vetch',
    ])
    const covers = JSON.parse(router.options.history.state.covers as string) as { parts: object[] }[]
    expect(covers[0]!.parts).toEqual([
      { species: 'rye', name: 'Cereal rye', rate: '50.5 kg/ha' },
      { species: 'hairy-vetch', name: 'Hairy vetch', rate: '9.75 kg/ha' },
    ])
  })

  it('takes in a table, and shows every cell that is wrong', async () => {
    const { page } = await opened()
    const errors = [{ where: 'line 3, Weed suppression', what: "'many' is not a number." }]
    answers[`POST ${guide}/table.csv`] = [422, { code: 'bad-value', detail: 'Nothing was taken in.', errors }]
    const input = page.get('input[type=file]')
    const file = new File(['common,weeds\n'], 'species.csv')
    Object.defineProperty(input.element, 'files', { value: [file] })
    await input.trigger('change')
    await flushPromises()
    expect(page.get('[role=alert]').text()).toContain("line 3, Weed suppression: 'many' is not a number.")
  })
})
