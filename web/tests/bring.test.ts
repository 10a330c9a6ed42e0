import { flushPromises } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { describe, expect, it, vi } from 'vitest'
import { h } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'

import type { Assembled, Upload } from '@/api/queries'
import BringPage from '@/stations/bring/BringPage.vue'

import { show } from './mounting'
import { answers, sent } from './server'
import { member } from './samples'

const made: Assembled = {
  refusal: '', design: 'rcbd', plots: 12, blocks: ['1', '2', '3', '4'], treatments: ['Oat', 'Bare', 'Vetch'],
  likely_control: 'Bare', most_samples: 1, gaps: 1,
  measures: [{ key: 'Yield', label: 'Yield', unit: 't/ha', direction: 'higher' }], settled: true, questions: [],
  read: [{ name: 'Yield', unit: 't/ha', more: 0, cells: [{ line: 7, text: '40,5', value: 40.5 },
                                                         { line: 8, text: 'about 40', value: null }] }],
  odd: [{ line: 8, column: 'Yield', text: 'about 40', why: 'this isn’t a number' }],
} // prettier-ignore
const column = (name: string, role: Upload['columns'][0]['role'], direction: 'higher' | 'none' = 'none') => ({
  name, role, label: name, unit: role === 'value' ? 't/ha' : '', direction, examples: ['1', '2'], distinct: 4, empty: 0,
  numeric: role === 'value',
}) // prettier-ignore
const upload: Upload = {
  id: 'u', name: 'fen_2025.csv', encoding: 'Windows-1252', separator: 'semicolon', rows: 12,
  columns: [column('Rep', 'block'), column('Cover', 'treatment'), column('Yield', 'value', 'higher'),
            column('Notes', 'ignore')],
  proposed: made, described: null,
} // prettier-ignore

async function drop() {
  setActivePinia(createPinia())
  answers['GET /api/v1/session'] = [200, {
    name: 'Ada', email: 'a@b.c',
    memberships: [
      member('reader', 'read-only', 'Elsewhere'),
      member('researcher', 'own'),
    ],
  }] // prettier-ignore
  const empty = { render: () => h('p') }
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/', name: 'today', component: empty },
      { path: '/sign-in', name: 'sign-in', component: empty },
      { path: '/trials/:trial/read', name: 'read', component: empty },
    ],
  })
  await router.push('/')
  const page = show(BringPage, {}, {}, [router])
  await flushPromises()
  page.findComponent({ name: 'DropZone' }).vm.$emit('file', new File(['Rep;Cover'], 'fen_2025.csv'))
  await flushPromises()
  return { page, router }
}
type Page = Awaited<ReturnType<typeof drop>>['page']
const field = (page: Page, label: string) =>
  page.findAllComponents({ name: 'VTextField' }).find((f) => f.props('label') === label)!
const list = (page: Page, label: string) =>
  page.findAllComponents({ name: 'VSelect' }).find((s) => s.props('label') === label)!
const accept = async (page: Page) => {
  await page.find('form').trigger('submit')
  await flushPromises()
}

describe('bringing a table', () => {
  it('sends the file to a workspace where one may plan, and says how it was read', async () => {
    answers['POST /api/v1/uploads'] = [201, upload]
    const { page } = await drop()
    const form = sent.find((s) => s.url === '/api/v1/uploads')!.body as FormData
    expect(form.get('workspace')).toBe('own')
    expect(page.text()).toContain('12 rows, Windows-1252, semicolon-separated.')
    expect(page.text()).toContain('12 plots: 3 treatments, 4 blocks. 1 value is missing.')
    expect(page.text()).toContain('this isn’t a number')
    const read = page.findAll('.read tbody tr').map((row) => row.text())
    expect(read).toEqual(['740,540.5', '8about 40missing'])
  })
  it('says how many values of a data package lie beyond what was measured', async () => {
    const said = {
      name: 'Fen',
      question: '',
      control: 'Bare',
      allocation: 'drawn' as const,
      measures: [],
      beyond: 1,
    }
    answers['POST /api/v1/uploads'] = [
      201,
      { ...upload, described: said, proposed: { ...made, most_samples: 3 } },
    ]
    const { page } = await drop()
    expect(page.text()).toContain(
      '1 value is missing. The value of 1 plot lies beyond what was measured. It is imported as missing',
    )
    expect(page.text()).toContain('reason. There are up to 3 samples per plot.')
  })
  it('proposes the likely control, a name from the file, and each measure with its direction', async () => {
    answers['POST /api/v1/uploads'] = [201, upload]
    const { page } = await drop()
    expect(list(page, 'Control').props('modelValue')).toBe('Bare')
    expect(field(page, 'Name of the trial').props('modelValue')).toBe('fen 2025')
    expect(list(page, 'Better').props('modelValue')).toBe('higher')
  })
  it('says in one message what isn’t a table, and takes the next file', async () => {
    answers['POST /api/v1/uploads'] = [422, { code: 'not-a-table', detail: 'This isn’t a table.' }]
    const { page } = await drop()
    expect(page.find('.problem').text()).toBe('This isn’t a table.')
    answers['POST /api/v1/uploads'] = [201, upload]
    page.findComponent({ name: 'DropZone' }).vm.$emit('file', new File(['x'], 'next.csv'))
    await flushPromises()
    expect(page.find('.problem').exists()).toBe(false)
    expect(page.find('form').exists()).toBe(true)
  })
  it('asks what the table becomes after each change of roles, and can’t be accepted while refused', async () => {
    answers['POST /api/v1/uploads'] = [201, upload]
    const { page } = await drop()
    answers['POST /api/v1/uploads/u/check'] = [
      200,
      { ...made, refusal: 'No column says which treatment a plot has.' },
    ]
    list(page, 'Meaning of Cover').vm.$emit('update:modelValue', 'ignore')
    await flushPromises()
    const asked = sent.at(-1)!.body as { roles: Record<string, string>; answers: object }
    expect(asked).toEqual({
      roles: { Rep: 'block', Cover: 'ignore', Yield: 'value', Notes: 'ignore' },
      answers: {},
    })
    expect(page.find('.refusal').text()).toContain('No column says')
    expect(page.find('button[type=submit]').attributes('disabled')).toBeDefined()
  })
  it('accepts with the margin as typed, once under one id, and goes on to the board', async () => {
    answers['POST /api/v1/uploads'] = [201, upload]
    const { page, router } = await drop()
    await field(page, 'Margin').find('input').setValue('2,5')
    await accept(page)
    expect(page.find('.problem').text()).toBe('Nothing here.')
    answers['POST /api/v1/uploads/u/trial'] = [201, { trial: 't' }]
    answers['POST *'] = [204, null] // whoever brings the values opens the results
    await accept(page)
    const tries = sent.filter((s) => s.url === '/api/v1/uploads/u/trial').map((s) => s.body as { id: string })
    expect(tries[0]).toEqual(tries[1])
    expect(tries[0]).toMatchObject({
      name: 'fen 2025', control: 'Bare', allocation: 'unknown',
      measures: [{ column: 'Yield', name: 'Yield', unit: 't/ha', margin: '2,5', margin_kind: 'absolute', direction: 'higher' }],
    }) // prettier-ignore
    const board = `/trials/${tries[0]!.id}/read`
    await vi.waitFor(() => expect(router.currentRoute.value.fullPath).toBe(board))
  })
  it('shows at its field a margin that the server can’t read', async () => {
    answers['POST /api/v1/uploads'] = [201, upload]
    const { page } = await drop()
    await field(page, 'Margin').find('input').setValue('2 t')
    answers['POST /api/v1/uploads/u/trial'] = [
      400,
      {
        code: 'invalid',
        detail: 'No.',
        errors: [{ where: 'measures.0.margin', what: '“2 t” isn’t a number.' }],
      },
    ]
    await accept(page)
    expect(field(page, 'Margin').text()).toContain('“2 t” isn’t a number.')
  })
  it('waits with the import until each question is answered, and sends the answers', async () => {
    const question = {
      id: 'decimal_mark:Yield', about: 'decimal_mark', column: 'Yield', lines: [7], why: '1,025 can be two numbers.',
      choices: [{ key: 'comma', text: 'The comma is the decimal mark.' }, { key: 'stop', text: 'Correct the table.' }],
      cells: [{ line: 7, text: '1,025', readings: ['1.025', '1025'] }], answer: '',
    } // prettier-ignore
    const open = { ...made, settled: false, questions: [question] }
    answers['POST /api/v1/uploads'] = [201, { ...upload, proposed: open }]
    const { page } = await drop()
    expect(page.find('.questions').text()).toContain('1,025 can be two numbers.')
    expect(page.find('.questions tbody').text()).toBe('71,0251.0251025')
    expect(page.find('button[type=submit]').attributes('disabled')).toBeDefined()
    answers['POST /api/v1/uploads/u/check'] = [
      200,
      { ...open, settled: true, questions: [{ ...question, answer: 'comma' }] },
    ]
    page.findComponent({ name: 'VRadioGroup' }).vm.$emit('update:modelValue', 'comma')
    await flushPromises()
    expect(sent.at(-1)!.body).toMatchObject({ answers: { 'decimal_mark:Yield': 'comma' } })
    expect(page.find('button[type=submit]').attributes('disabled')).toBeUndefined()
  })
  it('keeps in force, and on the page, an answer that takes its own question away', async () => {
    const question = {
      id: 'last_line', about: 'last_line', column: null, lines: [13], why: 'The last line may be cut off.',
      choices: [{ key: 'leave_out', text: 'Leave the last line out.' }, { key: 'stop', text: 'Correct the table.' }],
      cells: [], answer: '',
    } // prettier-ignore
    answers['POST /api/v1/uploads'] = [
      201,
      { ...upload, proposed: { ...made, settled: false, questions: [question] } },
    ]
    const { page } = await drop()
    answers['POST /api/v1/uploads/u/check'] = [200, { ...made, plots: 11 }]
    page.findComponent({ name: 'VRadioGroup' }).vm.$emit('update:modelValue', 'leave_out')
    await flushPromises()
    expect(page.findComponent({ name: 'VRadioGroup' }).props('modelValue')).toBe('leave_out')
    list(page, 'Meaning of Notes').vm.$emit('update:modelValue', 'value')
    await flushPromises()
    expect(sent.at(-1)!.body).toMatchObject({ answers: { last_line: 'leave_out' } })
    await accept(page)
    const body = sent.find((s) => s.url === '/api/v1/uploads/u/trial')!.body
    expect(body).toMatchObject({ answers: { last_line: 'leave_out' } })
  })
  it('asks again about a column that was given another role', async () => {
    const question = {
      id: 'differs_within_plot:Notes', about: 'differs_within_plot', column: 'Notes', lines: [2],
      why: 'Notes differs within a plot.', choices: [{ key: 'visits', text: 'These are visits.' }],
      cells: [], answer: '',
    } // prettier-ignore
    answers['POST /api/v1/uploads'] = [
      201,
      { ...upload, proposed: { ...made, settled: false, questions: [question] } },
    ]
    const { page } = await drop()
    answers['POST /api/v1/uploads/u/check'] = [200, made]
    page.findComponent({ name: 'VRadioGroup' }).vm.$emit('update:modelValue', 'visits')
    await flushPromises()
    list(page, 'Meaning of Notes').vm.$emit('update:modelValue', 'value')
    await flushPromises()
    expect(page.findComponent({ name: 'VRadioGroup' }).exists()).toBe(false)
    await accept(page)
    expect(sent.find((s) => s.url === '/api/v1/uploads/u/trial')!.body).toMatchObject({ answers: {} })
  })
})
