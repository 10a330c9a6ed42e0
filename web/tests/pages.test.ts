import { flushPromises } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'

import { client, Problem } from '@/api/client'
import { api, fetchSession, queryClient } from '@/api/queries'
import type { Doubt, Trial } from '@/api/queries'
import { watchPages } from '@/shell/failedPage'
import FailedPage from '@/shell/FailedPage.vue'
import { provideGround } from '@/shell/useGround'
import SignInPage from '@/shell/SignInPage.vue'
import ThumbIndex from '@/shell/ThumbIndex.vue'
import DoubtList from '@/stations/read/DoubtList.vue'
import MeasureRows from '@/stations/bring/MeasureRows.vue'
import MethodChoice from '@/stations/read/MethodChoice.vue'

import { show } from './mounting'
import { answers, sent } from './server'

describe('talking with the server', () => {
  it('makes a problem of every bad answer, with its code, sentence and places', async () => {
    const errors = [{ where: 'margin', what: 'too small' }]
    answers['PATCH /api/v1/measures/m'] = [400, { code: 'invalid', detail: 'Some entries.', errors }]
    const problem = await api.changeMeasure('m', { margin: '-1' }).catch((error) => error)
    expect(problem).toBeInstanceOf(Problem)
    expect([problem.status, problem.code, problem.message, problem.places]).toEqual([
      400,
      'invalid',
      'Some entries.',
      errors,
    ])
  })
  it('says in words that the server can’t be reached', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('down')))
    await expect(client.GET('/api/v1/session')).rejects.toThrow('can’t be reached')
  })
  it('sends the token that guards writing, and only then', async () => {
    document.cookie = 'csrftoken=t0ken'
    const tokens: (string | null)[] = []
    vi.stubGlobal('fetch', async (request: Request) => {
      tokens.push(request.headers.get('X-CSRFToken'))
      return new Response('{}', { status: 200 })
    })
    await client.GET('/api/v1/session')
    await api.signOut()
    expect(tokens).toEqual([null, 't0ken'])
  })
  it('knows nobody from somebody, and a broken server from both', async () => {
    answers['GET /api/v1/session'] = [401, { code: 'not-authenticated', detail: 'Sign in.' }]
    expect(await fetchSession()).toBeNull()
    answers['GET /api/v1/session'] = [200, { name: 'Ada', email: 'a@b.c', memberships: [] }]
    expect((await fetchSession())!.name).toBe('Ada')
    queryClient.clear()
    answers['GET /api/v1/session'] = [500, {}]
    await expect(fetchSession()).rejects.toThrow('went wrong')
  })
})

async function withRouter(start: string) {
  const page = { render: () => h('p') }
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/', name: 'today', component: page },
      { path: '/sign-in', name: 'sign-in', component: page },
      ...['ask', 'plan', 'sow', 'season', 'walk', 'read', 'tell'].map((name) => ({
        path: `/trials/:trial/${name}`,
        name,
        component: page,
      })),
    ],
  })
  await router.push(start)
  return router
}

describe('signing in', () => {
  async function signIn(start: string) {
    const router = await withRouter(start)
    const page = show(SignInPage, {}, {}, [router])
    await page.find('input[type=email]').setValue('ada@fen.example')
    await page.find('input[type=password]').setValue(' spaces kept ')
    await page.find('form').trigger('submit')
    await flushPromises()
    return { page, router }
  }
  it('goes on to where one wanted to go', async () => {
    answers['POST /api/v1/session'] = [200, { name: 'Ada', email: 'ada@fen.example', memberships: [] }]
    const { router } = await signIn('/sign-in?then=/trials/7/read')
    expect(sent.at(-1)!.body).toEqual({ email: 'ada@fen.example', password: ' spaces kept ' })
    await vi.waitFor(() => expect(router.currentRoute.value.fullPath).toBe('/trials/7/read'))
  })
  it('never goes on to another site', async () => {
    answers['POST /api/v1/session'] = [200, { name: 'Ada', email: 'ada@fen.example', memberships: [] }]
    const { router } = await signIn('/sign-in?then=//elsewhere.example')
    await vi.waitFor(() => expect(router.currentRoute.value.fullPath).toBe('/'))
  })
  it('says what is wrong and keeps what was typed', async () => {
    answers['POST /api/v1/session'] = [
      401,
      { code: 'wrong-password', detail: 'E-mail and password don’t match.' },
    ]
    const { page } = await signIn('/sign-in')
    expect(page.find('.problem').text()).toContain('don’t match')
    expect((page.find('input[type=email]').element as HTMLInputElement).value).toBe('ada@fen.example')
  })
})

const doubt: Doubt = {
  key: 'outlier|Yield|204',
  id: 'outlier',
  severity: 'weakens',
  title: 'A plot stands out',
  finding: 'Plot 204 has 88.',
  why: 'One odd plot can hide a difference.',
  what_to_do: 'Look at the notes.',
  subject: 'Yield',
  plots: ['204'],
  answer: null,
}

describe('doubts', () => {
  const list = (doubts: Doubt[], mayAnswer = true) => {
    const ground: { chosen?: { value: string[] } } = {}
    const Frame = defineComponent({
      setup() {
        ground.chosen = provideGround().chosen
        return () => h(DoubtList, { trial: 't', doubts, mayAnswer, showSubject: true })
      },
    })
    return { page: show(Frame, {}), ground }
  }
  it('are answered where they stand', async () => {
    answers['POST /api/v1/trials/t/answers'] = [204, null]
    const { page } = list([doubt])
    await page.find('button[aria-label="Answer: A plot stands out"]').trigger('click')
    await page.find('textarea').setValue('Slipped key.')
    await page.find('form').trigger('submit')
    await flushPromises()
    expect(sent.at(-1)).toEqual({
      url: '/api/v1/trials/t/answers',
      query: '',
      method: 'POST',
      body: { doubt: doubt.key, note: 'Slipped key.' },
    })
    expect(page.find('form').exists()).toBe(false)
  })
  it('keep the note that couldn’t be sent', async () => {
    answers['POST /api/v1/trials/t/answers'] = [403, { code: 'not-allowed', detail: 'You may not.' }]
    const { page } = list([doubt])
    await page.find('button[aria-label="Answer: A plot stands out"]').trigger('click')
    await page.find('textarea').setValue('Slipped key.')
    await page.find('form').trigger('submit')
    await flushPromises()
    expect(page.find('.problem').text()).toContain('You may not.')
    expect((page.find('textarea').element as HTMLTextAreaElement).value).toBe('Slipped key.')
  })
  it('show their plots on the ground', async () => {
    const { page, ground } = list([doubt])
    await page.find('button[aria-label="◎ 204: A plot stands out"]').trigger('click')
    expect(ground.chosen!.value).toEqual(['204'])
  })
  it('show the answer with its author, and offer nothing to those who may not answer', () => {
    const answered = { ...doubt, answer: { note: 'Slipped key.', by: 'Ada', at: '2026-10-20T09:00:00Z' } }
    const { page } = list([answered], false)
    expect(page.text()).toContain('Ada answered: Slipped key.')
    expect(page.find('button[aria-label^="Change"]').exists()).toBe(false)
  })
  it('say so when there are none', () => {
    expect(list([]).page.text()).toContain('There are no doubts')
  })
})

describe('the method', () => {
  const how = { method: 'dunnett', alpha: 0.05, block_effect: 'random', df_method: 'kenward_roger' } as const
  const names = (props: object) =>
    show(MethodChoice, { how, design: 'rcbd', ...props })
      .findAllComponents({ name: 'VSelect' })
      .map((select) => select.props('label'))

  it('offers degrees of freedom only where blocks are random, and blocks only where there are any', () => {
    expect(names({})).toEqual(['Method', 'Error rate α', 'Block effects', 'Degrees of freedom'])
    expect(names({ how: { ...how, block_effect: 'fixed' } })).toEqual([
      'Method',
      'Error rate α',
      'Block effects',
    ])
    expect(names({ design: 'crd' })).toEqual(['Method', 'Error rate α'])
    expect(names({ design: 'crd', measured: true })).toEqual(['Method', 'Error rate α', 'Scale'])
  })
  it('sends only what was changed', () => {
    const page = show(MethodChoice, { how, design: 'rcbd' })
    page.findAllComponents({ name: 'VSelect' })[0]!.vm.$emit('update:modelValue', 'lsd')
    expect(page.emitted('choose')).toEqual([[{ method: 'lsd' }]])
  })
})

describe('the index of stations', () => {
  const trial = {
    question: 'Does it?',
    plots: [{ block: 'A' }, { block: 'B' }],
    treatments: [{}, {}, {}],
  } as unknown as Trial
  const season = {
    visits: [
      { state: 'done', progress: { done: 20, of: 20, conflicts: 0 } },
      { state: 'begun', progress: { done: 8, of: 20, conflicts: 0 } },
    ],
    operations: [{ state: 'overdue' }, { state: 'later' }],
  }
  const states = async (props: object) => {
    const page = show(ThumbIndex, { trial, doubts: 2, ...props }, {}, [await withRouter('/trials/7/read')])
    return page.findAll('small').map((s) => s.text())
  }

  it('gives each station’s state in few words', async () => {
    expect(await states({ season })).toEqual([
      '1 question', '3 × 2 blocks', 'seed sheet', '1 due', '8 of 20 plots', 'not yet', '2 doubts', 'reports',
    ]) // prettier-ignore
    expect((await states({ season: { visits: season.visits.slice(0, 1), operations: [] } })).slice(3, 5)).toEqual([
      'nothing due', '1 of 1 done',
    ]) // prettier-ignore
    const conflict = { state: 'conflict', progress: { done: 20, of: 20, conflicts: 1 } }
    expect((await states({ season: { visits: [conflict], operations: [] } }))[4]).toBe('1 conflict')
  })
  it('says of a new trial what it still lacks, and leads only where something is built', async () => {
    const empty = { ...trial, question: '', plots: [] }
    const page = show(ThumbIndex, { trial: empty, doubts: null }, {}, [await withRouter('/trials/7/read')])
    expect(page.findAll('small').map((s) => s.text()).slice(0, 5)).toEqual([
      'no question', 'no plot map', 'seed sheet', 'nothing due', 'no visits',
    ]) // prettier-ignore
    expect(page.findAll('a').length).toBe(7)
  })
})

describe('margins of a brought table', () => {
  it('show the measure’s own unit as the choice, and what is wrong at its place', () => {
    const draft = { name: 'Yield', unit: 't/ha', margin: '-1', kind: 'absolute', direction: 'higher' }
    const page = show(MeasureRows, {
      columns: ['y'],
      wrong: { y: 'Type a number above 0.' },
      modelValue: { y: draft },
    })
    expect(page.find('[role=group]').attributes('aria-label')).toBe('Yield')
    const kinds = page.findAllComponents({ name: 'VSelect' })[0]!.props('items') as { title: string }[]
    expect(kinds.map((kind) => kind.title)).toEqual(['t/ha', '% of the control'])
    expect(page.text()).toContain('Type a number above 0.')
  })
})

describe('a page that doesn’t come', () => {
  const made = async (start: string, page: () => Promise<{ render: () => unknown }>) => {
    const router = createRouter({
      history: createMemoryHistory(),
      routes: [
        { path: '/', component: { render: () => h('p') } },
        { path: '/new', component: page as never },
      ],
    })
    watchPages(router)
    await router.push(start).catch(() => undefined)
    return { router, shown: show(FailedPage, {}) }
  }
  it('is said where another page stands, until one comes', async () => {
    const page = vi
      .fn()
      .mockRejectedValueOnce(new TypeError('gone'))
      .mockRejectedValueOnce(new TypeError('gone'))
      .mockResolvedValue({ render: () => h('p') })
    const { router, shown } = await made('/', page)
    expect(shown.text()).toBe('')
    await router.push('/new').catch(() => undefined)
    await flushPromises()
    expect(shown.get('[role=alert]').text()).toContain('couldn’t be loaded')
    expect(shown.findAll('button').map((one) => one.text())).toEqual(['Open page', 'Close message'])
    expect(shown.find('h1').exists()).toBe(false)
    await shown.findAll('button')[1]!.trigger('click')
    expect(shown.find('[role=alert]').exists()).toBe(false)
    await router.push('/new').catch(() => undefined)
    expect(shown.find('[role=alert]').exists()).toBe(true)
    await router.push('/new')
    await flushPromises()
    expect(shown.find('[role=alert]').exists()).toBe(false)
  })
  it('is tried again by itself where nothing else is shown, and says why it isn’t there', async () => {
    vi.useFakeTimers()
    const away = new Problem(503, 'unavailable', 'The database is starting.')
    const page = vi.fn().mockRejectedValueOnce(away).mockRejectedValueOnce(away)
    const { router, shown } = await made('/new', page.mockResolvedValue({ render: () => h('p') }))
    expect(shown.findAll('[role=alert] p').map((one) => one.text())).toEqual([
      'The database is starting.',
      'Apercu tries again every 5 s.',
    ])
    await vi.advanceTimersByTimeAsync(5_000)
    expect([page.mock.calls.length, shown.find('[role=alert]').exists()]).toEqual([2, true])
    await vi.advanceTimersByTimeAsync(5_000)
    expect([router.currentRoute.value.path, shown.find('[role=alert]').exists()]).toEqual(['/new', false])
    vi.useRealTimers()
  })
})
