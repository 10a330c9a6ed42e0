/** The layout page: what is half typed judges nothing, every change can be taken back, blocks are moved by keys. */
import { flushPromises } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'

import { draftOf, layoutOf, shownLayout } from '@/stations/layout/draft'
import LayoutPage from '@/stations/layout/LayoutPage.vue'
import { useUndo } from '@/stations/layout/useUndo'

import { trial } from './samples'
import { answers, sent } from './server'
import { openStation } from './station'

const FIELD = {
  outline: [[0, 0], [60, 0], [60, 60], [0, 60]], headland: 3, gradient: null, tracks: null, tree_rows: null,
  obstacles: [{ name: 'pole', points: [[5, 5], [7, 5], [7, 8], [5, 8]] }], harvest_width: null, guard: 0,
} // prettier-ignore
const checked = { field: FIELD, bearing: 10, fits: true, plots: [], advice: [], usable_area: 2916, usable_said: '0.29 ha', usable: [], shift: null } // prettier-ignore

describe('the draft of a layout', () => {
  it('is the layout in the unit of the person, and goes out as it is typed', () => {
    const draft = draftOf(checked as never, 3.28084)
    expect(draft.headland).toBe('9.843')
    Object.assign(draft, { headland: '3x', tracks: { first: '', spacing: '24', width: '' } })
    expect(layoutOf(draft).field).toMatchObject({
      headland: '3x',
      tracks: { first: '', spacing: '24', width: '' },
      obstacles: [{ name: 'pole', x: '16.4', y: '16.4', width: '6.562', length: '9.843' }],
    })
    expect(shownLayout(draft, checked as never).field.headland).toBe(3) // as the server read it last
  })
})

describe('undo', () => {
  it('takes back changes one by one and makes them again; typing in one field is one step', async () => {
    const draft = ref({ a: '', b: '', shifts: {} as Record<string, number> })
    const { undo, redo, canUndo, canRedo } = useUndo(draft)
    for (const text of ['1', '12', '12.']) draft.value.a = text
    draft.value.b = '7'
    draft.value.shifts = { A: 1 }
    await nextTick()
    undo()
    expect(draft.value).toEqual({ a: '12.', b: '7', shifts: {} })
    undo()
    undo()
    expect(draft.value).toEqual({ a: '', b: '', shifts: {} })
    expect(canUndo.value).toBe(false)
    redo()
    redo()
    expect(draft.value).toEqual({ a: '12.', b: '7', shifts: {} })
    draft.value.a = '5'
    expect(canRedo.value).toBe(false)
  })
})

describe('the layout page', () => {
  async function opened() {
    answers['GET /api/v1/trials/t/layout'] = [200, checked]
    answers['POST /api/v1/trials/t/layout/check'] = [200, { ...checked, fits: false, shift: [2, 0], plots: [{ label: '101', wrong: ['it meets pole'], tracks: 0, harvest: null, sample: null, zones: {} }] }] // prettier-ignore
    answers['PUT /api/v1/trials/t/layout'] = [200, checked]
    const { page } = await openStation(LayoutPage, { trial: { ...trial, id: 't', recorded: false } })
    await flushPromises()
    return page
  }
  const lastCheck = () => sent.filter((one) => one.url.endsWith('/check')).at(-1)?.body as { shifts: object }

  it('nudges a block by keys, takes it back, and moves all so that they fit', async () => {
    const page = await opened()
    expect(page.get('.verdict').text()).toContain('101 it meets pole')
    const block = page.findAll('[data-block]')[0]!
    const name = block.attributes('data-block')!
    await block.trigger('keydown', { key: 'ArrowRight' })
    await block.trigger('keydown', { key: 'ArrowUp', shiftKey: true })
    await flushPromises()
    expect(lastCheck().shifts).toEqual({ [name]: [0.5, 5] })
    await page.get('h1').trigger('keydown', { key: 'z', ctrlKey: true })
    await flushPromises()
    expect(lastCheck().shifts).toEqual({ [name]: [0.5, 0] })
    await page
      .findAll('.pill')
      .find((one) => one.text() === 'Move all plots')!
      .trigger('click')
    await page.get('form').trigger('submit')
    await flushPromises()
    const put = sent.find((one) => one.method === 'PUT')?.body as { shifts: Record<string, number[]> }
    expect(put.shifts[name]).toEqual([2.5, 0])
  })

  it('says that a file isn’t JSON, and keeps the field', async () => {
    const page = await opened()
    const input = page.get('input[type=file]')
    Object.defineProperty(input.element, 'files', { value: [new File(['<kml>'], 'field.kml')] })
    await input.trigger('change')
    await flushPromises()
    expect(page.get('form .problem').text()).toContain('field.kml isn’t JSON')
    expect(page.find('.field').exists()).toBe(true)
  })

  it('says what part of an orchard is sown, and what plots are made of where tracks run through them', async () => {
    const page = await opened()
    const plot = (label: string, zones: object) => ({
      label, wrong: [], tracks: 1, sample: { x: 0, y: 0, width: 2, length: 10 }, harvest: null, zones,
    }) // prettier-ignore
    const tracked = { 'wheel track': 0.08, between: 0.92 }
    answers['POST /api/v1/trials/t/layout/check'] = [
      200,
      {
        ...checked,
        planted_fraction: 0.25,
        plots: [plot('101', tracked), plot('102', {}), plot('103', tracked)],
      },
    ]
    const type = async (label: string, text: string, nth = 0) => {
      const fields = page.findAllComponents({ name: 'VTextField' }).filter((f) => f.props('label') === label)
      await fields[nth]!.find('input').setValue(text)
      await flushPromises()
    }
    await type('Spacing', '6', 1)
    await type('Width', '1.5', 1)
    await type('Sown width in an alley', '3')
    await type('Sown alleys: every …', '2')
    await vi.waitFor(() => expect(page.text()).toContain('25 % of the gross area is sown'))
    const body = sent.filter((one) => one.url.endsWith('/check')).at(-1)!.body as { field: object }
    expect(body.field).toMatchObject({
      tree_rows: { first: '', spacing: '6', width: '1.5' },
      sown_width: '3',
      sown_every: '2',
    })
    expect(page.text()).toContain('Plots 101, 103: wheel track 8 %, between 92 %.')
    expect(page.findAll('.sample')).toHaveLength(0) // nobody asked about harvest, guards or tracks
  })
})
