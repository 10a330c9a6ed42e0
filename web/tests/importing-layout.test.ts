import { flushPromises } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import ImportLayout from '@/stations/plan/ImportLayout.vue'

import { show } from './mounting'
import { trial } from './samples'
import { answers, sent } from './server'

const FILE = 'POST /api/v1/trials/t/plan/file'
const size = { width: '3', length: '10', gap: '', alley: '' }

async function open() {
  const page = show(ImportLayout, { trial, size })
  const choose = async (value: string, list = 1) => {
    page.findAllComponents({ name: 'VSelect' })[list]!.vm.$emit('update:modelValue', value)
    await flushPromises()
  }
  const pick = async () => {
    const input = page.find<HTMLInputElement>('input[type=file]')
    const file = new File(['plot,treatment'], 'layout.csv')
    Object.defineProperty(input.element, 'files', { value: [file], configurable: true })
    await input.trigger('change')
    await flushPromises()
  }
  return { page, choose, pick }
}

describe('a layout that lies in the field already', () => {
  it('is asked first how treatments came to their plots', async () => {
    const { page, choose } = await open()
    expect(page.find('input[type=file]').exists()).toBe(false)
    await choose('systematic')
    expect(page.find('input[type=file]').exists()).toBe(true)
  })
  it('goes out with that and with the size that is typed, and says how many plots were taken', async () => {
    answers[FILE] = [200, trial]
    const { page, choose, pick } = await open()
    await choose('unknown')
    await choose('split_plot', 0)
    await pick()
    const form = sent[0]!.body as FormData
    expect([form.get('allocation'), form.get('design'), form.get('width'), (form.get('file') as File).name]).toEqual([
      'unknown', 'split_plot', '3', 'layout.csv',
    ]) // prettier-ignore
    expect(page.find('[role=status]').text()).toBe('6 plots imported.')
  })
  it('tells every wrong row, and takes the next file', async () => {
    answers[FILE] = [
      422,
      { code: 'bad-value', detail: 'Some rows can’t be imported. Nothing was saved.',
        errors: [{ where: 'line 3, treatment', what: '’Rye’ isn’t a treatment of this trial.' }] },
    ] // prettier-ignore
    const { page, choose, pick } = await open()
    await choose('drawn')
    await pick()
    expect(page.find('.problem li').text()).toContain('line 3, treatment: ’Rye’')
    answers[FILE] = [200, trial]
    await pick()
    expect(page.find('.problem').exists()).toBe(false)
    expect(sent).toHaveLength(2)
  })
})
