import { flushPromises } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { defineComponent, h, type Component } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'

import type { Reading } from '@/api/queries'
import { provideGround } from '@/shell/useGround'
import BoardPage from '@/stations/read/BoardPage.vue'
import FullReadingPage from '@/stations/read/FullReadingPage.vue'
import OpenResults from '@/stations/read/OpenResults.vue'

import { show } from './mounting'
import { cell, doubt, measure, plotValue, reading, trial } from './samples'
import { answers, sent } from './server'

const READINGS = 'POST /api/v1/trials/t/readings'

/** A page of the station inside a frame that owns the ground, with this reading as the server's answer. */
async function open(page: Component, given: Reading, props: object = {}, at = '/', status = 200) {
  answers[READINGS] = [status, given]
  const empty = { render: () => h('p') }
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/', name: 'read', component: empty },
      { path: '/:measure', name: 'full-reading', component: empty },
    ],
  })
  await router.push(at)
  let ground!: ReturnType<typeof provideGround>
  const Frame = defineComponent({
    setup() {
      ground = provideGround()
      return () => h(page, { trial, ...props })
    },
  })
  const shown = show(Frame, {}, {}, [router])
  await flushPromises()
  return { shown, ground, router }
}
const bodies = () => sent.filter((s) => `${s.method} ${s.url}` === READINGS).map((s) => s.body)
const button = (text: string) =>
  [...document.querySelectorAll<HTMLButtonElement>('button')].find((b) => b.textContent!.includes(text))!
const field = (label: string) =>
  [...document.querySelectorAll('.v-overlay .v-input')]
    .find((f) => f.textContent!.includes(label))!
    .querySelector('input')!
async function type(label: string, text: string) {
  const input = field(label)
  input.value = text
  input.dispatchEvent(new Event('input'))
  await flushPromises()
}
async function send() {
  document.querySelector('.v-overlay form')!.dispatchEvent(new Event('submit', { cancelable: true }))
  await flushPromises()
}

describe('results that nobody has opened', () => {
  const unopened = async (may: string[]) => {
    const { shown } = await open(
      BoardPage,
      { code: 'results-not-opened', detail: 'No.' } as never,
      {},
      '/',
      409,
    )
    expect(shown.text()).toContain('The results have not been opened yet')
    return show(OpenResults, { trial: { ...trial, may } })
  }
  it('are opened by who may, with what that means said first', async () => {
    const page = await unopened(['see', 'answer'])
    expect(page.text()).toContain('Your name and the time are recorded')
    answers['POST *'] = [204, null]
    await page.find('button').trigger('click')
    await flushPromises()
    expect(sent.at(-1)!.url).toMatch(/^\/api\/v1\/trials\/[^/]+\/results$/)
  })
  it('say to others who opens them', async () => {
    const page = await unopened(['see'])
    expect(page.find('button').exists()).toBe(false)
    expect(page.text()).toContain('Only an owner or a researcher of the workspace can open the results.')
  })
})

describe('the board', () => {
  it('names the control of a measure that has its own, and gives the others’ control a row', async () => {
    const own = measure({
      id: 'd',
      name: 'Depth',
      base: 'Oat',
      controls: ['Oat'],
      primary: true,
      cells: [cell({ treatment: 'Bare' })],
    })
    const { shown } = await open(BoardPage, reading({ measures: [measure(), own] }))
    const heads = shown.findAll('.board thead th').map((th) => th.text())
    expect(heads[2]).toContain('Oat')
    expect(heads[2]).toContain('decides the question')
    expect(heads[1]).not.toContain('decides')
    const rows = shown.findAll('.board tbody tr')
    expect(rows.map((row) => row.find('th').text()).join()).toContain('Bare')
    expect(rows[0]!.findAll('td').map((td) => td.text().includes('compared with'))).toEqual([true, false])
  })
  it('has a row for each treatment but the base, and says what it compares with', async () => {
    const { shown } = await open(BoardPage, reading())
    expect(shown.findAll('tbody th').map((th) => th.text())).toEqual(['OaOat', 'VeVetch'])
    expect(shown.find('.corner').text()).toBe('Compared with Bare')
    expect(shown.find('.board').text()).toContain('9 blocks settle it if the estimate stays')
  })
  it('says the doubts of the board in the server’s order, and counts them', async () => {
    const lost = doubt({ id: 'lost-plots', title: 'Lost plot', subject: 'Yield, Weeds' })
    const { shown, ground } = await open(BoardPage, reading({ board_doubts: [doubt(), lost] }))
    expect(shown.findAll('h3').map((h3) => h3.text())).toEqual(['A plot stands out', 'Lost plot'])
    expect(shown.text()).toContain('Yield, Weeds')
    expect(ground.doubts.value).toBe(2)
  })
  it('shows the measure under the pointer on the ground, its lost and doubtful plots marked', async () => {
    const weeds = measure({ id: 'n', name: 'Weeds', unit: '1/m²', decimals: 0 })
    const { shown, ground } = await open(
      BoardPage,
      reading({ measures: [measure({ doubts: [doubt({ plots: ['101'] })] }), weeds] }),
    )
    expect(ground.view.value.title).toBe('Weeds')
    await shown.findAll('thead th')[1]!.trigger('mouseenter')
    expect([ground.view.value.title, ground.view.value.unit]).toEqual(['Yield', 't/ha'])
    expect(ground.view.value.faces['101']).toEqual({ figure: '40.0', shade: undefined, state: 'doubtful' })
    expect(ground.view.value.faces['203']).toEqual({ state: 'lost' })
  })
  it('puts the method into the address, asks again with it, and says that it was tried after', async () => {
    const { shown, router } = await open(BoardPage, reading())
    answers[READINGS] = [200, reading({ tried_after: true, how: { ...reading().how, method: 'lsd' } })]
    shown.findAllComponents({ name: 'VSelect' })[0]!.vm.$emit('update:modelValue', 'lsd')
    await vi.waitFor(() => expect(shown.find('.tried').text()).toContain('This method was tried after'))
    expect(router.currentRoute.value.query).toEqual({ method: 'lsd' })
    expect(bodies()).toEqual([{}, { method: 'lsd' }])
  })
  it('says when each measure was taken, and at which visit unless both are called alike', async () => {
    const at = (visit: string, date: string | null) =>
      measure({ id: visit, name: 'Yield', occasion: { visit, date } })
    const measures = [at('Harvest', '2026-09-18'), at('Yield', '2026-09-18'), at('Autumn', null)]
    const { shown } = await open(BoardPage, reading({ measures }))
    const heads = shown
      .findAll('.board thead th')
      .slice(1)
      .map((head) => head.text())
    expect(heads[0]).toContain('Harvest, 18 Sep 2026')
    expect(heads[1]).toMatch(/t\/ha\s*18 Sep 2026/)
    expect(heads[2]).toContain('Autumn')
  })
  it('reads a link as its sender saw it', async () => {
    await open(BoardPage, reading(), {}, '/?method=tukey&alpha=0.1&block_effect=fixed&scale=log')
    expect(bodies()).toEqual([{ method: 'tukey', alpha: 0.1, block_effect: 'fixed', scale: 'log' }])
  })
  it('says why a measure can’t be read, beside those that can', async () => {
    const refused = measure({
      id: 'n', name: 'Weeds', refusal: 'All values are the same.', full: null,
      cells: [cell({ verdict: 'no-answer', estimate: null, reason: 'All values are the same.' })],
    }) // prettier-ignore
    const { shown } = await open(BoardPage, reading({ measures: [measure(), refused] }))
    expect(shown.find('.refusal').text()).toBe(
      'Weeds: This measure can’t be analysed. All values are the same.',
    )
    expect(shown.find('.board').text()).toContain('Clear gain')
  })
  it('says that it can’t be fetched, and fetches it on the second try', async () => {
    const { shown } = await open(BoardPage, reading(), {}, '/', 500)
    expect(shown.find('.problem').text()).toContain('Something went wrong')
    answers[READINGS] = [200, reading()]
    await shown.find('.problem button').trigger('click')
    await flushPromises()
    expect(shown.find('.board').exists()).toBe(true)
  })
})

describe('the margin', () => {
  async function openMargin() {
    const opened = await open(BoardPage, reading())
    button('margin 2 t/ha').click()
    await flushPromises()
    return opened
  }
  it('opens as it stands, takes a decimal comma and is read again', async () => {
    await openMargin()
    expect(field('Smallest difference that matters').value).toBe('2')
    await type('Smallest difference that matters', '1,5')
    await type('Reason for the change', 'price fell')
    answers['PATCH /api/v1/measures/m'] = [200, {}]
    const before = bodies().length
    await send()
    expect(sent.find((s) => s.method === 'PATCH')!.body).toEqual({
      margin: '1,5', margin_kind: 'absolute', direction: 'higher', planned: 'none', reason: 'price fell',
    }) // prettier-ignore
    expect(bodies().length).toBe(before + 1)
  })
  it('keeps what was typed when the server refuses it', async () => {
    await openMargin()
    await type('Smallest difference that matters', '-3')
    const errors = [{ where: 'margin', what: 'The margin must be a number above 0, or empty.' }]
    answers['PATCH /api/v1/measures/m'] = [
      400,
      { code: 'invalid', detail: 'Some entries can’t be used.', errors },
    ]
    await send()
    expect(document.querySelector('.v-overlay .problem')!.textContent).toContain('above 0, or empty')
    expect(field('Smallest difference that matters').value).toBe('-3')
  })
})

describe('the full reading', () => {
  const openFull = (changes: Partial<Reading['measures'][0]> = {}) =>
    open(FullReadingPage, reading({ measures: [measure(changes)] }), { measure: 'm' })

  const openTable = (shown: Awaited<ReturnType<typeof openFull>>['shown']) =>
    shown.find('button[aria-label="Show table: Plot values by block"]').trigger('click')

  it('prints the model, the figures with their units, and what wasn’t tested', async () => {
    const { shown } = await openFull()
    for (const words of [
      'Treatment fixed, blocks random.',
      'Coefficient of variation: 3.1 %. Overall mean: 42.0 t/ha. 5 plots.',
      'Smallest difference that this trial had an 80 % chance to detect: 1.8 t/ha.',
      'Normality (Shapiro–Wilk): p = 0.40. Equal variance (Brown–Forsythe): not tested.',
    ])
      expect(shown.text()).toContain(words)
  })
  it('describes what may not be tested: means, plots and their range, and no interval', async () => {
    const described = [
      { treatment: 'Bare', plots: 2, mean: 40.5, low: 40, high: 41 },
      { treatment: 'Oat', plots: 1, mean: 42, low: 42, high: 42 },
    ]
    const { shown } = await openFull({ full: null, refusal: 'In a fixed order.', described })
    expect(shown.find('.refusal').text()).toBe('Described, not tested. In a fixed order.')
    expect(shown.findAll('table.seen tbody tr').map((row) => row.text().replace(/\s+/g, ' '))).toEqual([
      'Bare240.540.0 – 41.0',
      'Oat142.042.0 – 42.0',
    ])
    expect(shown.findAllComponents({ name: 'IntervalRows' })).toHaveLength(0)
  })
  it('sorts means from the highest, and draws no residual for a lost plot', async () => {
    const { shown } = await openFull()
    const means = shown.findAllComponents({ name: 'IntervalRows' })[0]!.props('rows') as { key: string }[]
    expect(means.map((row) => row.key)).toEqual(['Vetch', 'Oat', 'Bare'])
    const points = shown.findAllComponents({ name: 'ScatterFigure' })[0]!.props('points') as object[]
    expect(points.length).toBe(5)
  })
  it('shades the ground by value or residual', async () => {
    const { shown, ground } = await openFull()
    expect(ground.view.value.faces['101']!.figure).toBe('40.0')
    await shown.findAll('.showing button')[2]!.trigger('click')
    expect(ground.view.value.faces['101']!.figure).toBe('+0.5')
    expect(ground.view.value.faces['101']!.shade).not.toBe(ground.view.value.faces['201']!.shade)
  })
  it('says of a planned test what was shown, and why it parts from the board', async () => {
    const { shown } = await openFull({
      planned_kind: 'non-inferiority',
      planned: [
        { treatment: 'Oat', kind: 'non-inferiority', margin: 2, estimate: -0.4, lower: -1.4, upper: 0.6, p: 0.02,
          shown: true, parts: 'The planned test looks at one side.', chosen_after: false },
      ],
    }) // prettier-ignore
    expect(shown.find('.planned li').text().replace(/\s+/g, ' ')).toBe(
      'Oat − Bare: −0.4 (−1.4 to 0.6) t/ha, margin 2 t/ha, p = 0.020. ' +
        'Shown not to be worse by the margin. The planned test looks at one side.',
    )
  })
  it('corrects a value with its reason under one id, however often it is sent', async () => {
    const { shown } = await openFull()
    answers['GET /api/v1/observations/observation%20of%20102/sheet'] = [
      200,
      { id: 'x', fields: [{ key: 'value', name: 'Value', unit: 't/ha', typed: '41' }] },
    ]
    await openTable(shown)
    await shown.find('button[aria-label="41: Correct plot 102"]').trigger('click')
    await flushPromises()
    expect(field('Value (t/ha)').value).toBe('41')
    await type('Value (t/ha)', '14')
    await send()
    expect(sent.filter((s) => s.method === 'PUT')).toEqual([])
    expect(document.querySelector('.v-overlay .aside')!.textContent).toContain('Reason (required)')
    await type('Reason (required)', 'read again')
    await send()
    expect(document.querySelector('.v-overlay .problem')!.textContent).toContain('Nothing here.')
    expect(field('Value (t/ha)').value).toBe('14')
    await send()
    const puts = sent.filter((s) => s.method === 'PUT')
    expect(puts.map((put) => put.body)).toEqual(
      Array(2).fill({
        replaces: 'observation of 102',
        fields: { value: '14' },
        why: 'read again',
        confirmed: false,
      }),
    )
    expect(puts[0]!.url).toBe(puts[1]!.url)
  })
  it('offers each sample of a plot for correction', async () => {
    const plots = [plotValue('101', 40, { samples: [39, 41], observations: ['a', 'b'] })]
    const { shown } = await openFull({ plots })
    answers['GET /api/v1/observations/b/sheet'] = [
      200,
      { id: 'b', fields: [{ key: 'mass', name: 'Mass', unit: 'kg', typed: '41' }] },
    ]
    await openTable(shown)
    await shown.find('button[aria-label="41: Correct sample 2 of plot 101"]').trigger('click')
    await flushPromises()
    expect(field('Mass (kg)').value).toBe('41')
    await type('Reason (required)', 'read again')
    await send()
    expect((sent.at(-1)!.body as { replaces: string }).replaces).toBe('b')
  })
  it('asks about an unusual value before it is corrected, and sends it as confirmed', async () => {
    const plots = [plotValue('101', 40, { samples: [41], observations: ['a'] })]
    const { shown } = await openFull({ plots })
    answers['GET /api/v1/observations/a/sheet'] = [
      200,
      { id: 'a', fields: [{ key: 'value', name: 'Value', unit: '', typed: '400' }] },
    ]
    await openTable(shown)
    await shown.find('button[aria-label="41: Correct plot 101"]').trigger('click')
    await flushPromises()
    const put = () => sent.filter((s) => s.method === 'PUT').at(-1)!
    answers['PUT *'] = [200, { id: 'n', state: 'question', value: 400, message: '400 is unusual.' }]
    await type('Reason (required)', 'weighed twice')
    await send()
    expect(document.querySelector('.v-overlay .asked')!.textContent).toBe('400 is unusual.')
    document.querySelector<HTMLInputElement>('.v-overlay input[type=checkbox]')!.click()
    await send()
    expect(put().body).toMatchObject({ fields: { value: '400' }, confirmed: true })
  })
})
