import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { createMemoryHistory, createRouter, RouterView } from 'vue-router'

import type { Site, Trial } from '@/api/queries'
import { chooseSite, siteOf } from '@/api/site'
import TrialFrame from '@/shell/TrialFrame.vue'
import AskForm from '@/stations/ask/AskForm.vue'
import { draftOf, emptyDraft, siteDraftOf, type AskDraft, type SiteDraft } from '@/stations/ask/draft'
import SiteFields from '@/stations/ask/SiteFields.vue'
import GrownHere from '@/stations/plan/GrownHere.vue'
import VisitPage from '@/stations/walk/VisitPage.vue'
import FieldFiles from '@/stations/plan/FieldFiles.vue'

import { show } from './mounting'
import { trial } from './samples'
import { answers, sent } from './server'
import { openStation } from './station'

const site = (id: string, name: string) => ({ ...trial.site, id, name })
const SITES = [site('mill', 'Mill Ground'), site('cold', 'Cold Acre')]
const twoSites = { ...trial, site: SITES[0], sites: SITES } as unknown as Trial

describe('A trial at several sites', () => {
  beforeEach(() => {
    localStorage.clear()
    chooseSite('t', null)
  })

  const STATIONS = ['ask', 'plan', 'layout', 'sow', 'season', 'walk', 'tell', 'read', 'visit']
  async function frame(path: string) {
    answers['GET /api/v1/trials/t'] = [200, twoSites]
    const shown: string[] = []
    const Station = defineComponent({
      props: { trial: { type: Object, required: true } },
      setup: (props) => () =>
        h('p', { class: 'station' }, shown.push(props.trial.site.name) && props.trial.site.name),
    })
    const children = STATIONS.map((name) => ({ path: name, name, component: Station }))
    const routes = [
      { path: '/trials/:trial', component: TrialFrame, props: true, children },
      ...['today', 'sign-in', 'species', 'bring', 'new'].map((name) => ({
        path: `/${name}`,
        name,
        component: Station,
      })),
    ]
    const router = createRouter({ history: createMemoryHistory(), routes })
    await router.push(path)
    const page = show(RouterView, {}, {}, [router])
    await flushPromises()
    return { page, router }
  }
  const asked = () => sent.filter((one) => one.url === '/api/v1/trials/t').map((one) => one.query)

  it('shows its first until another is chosen, and asks for that one', async () => {
    const { page } = await frame('/trials/t/plan')
    const choice = page.find('.sites')
    expect(choice.findAll('button').map((b) => [b.text(), b.attributes('aria-pressed')])).toEqual([
      ['Mill Ground', 'true'],
      ['Cold Acre', 'false'],
    ])
    answers['GET /api/v1/trials/t'] = [200, { ...twoSites, site: SITES[1] }]
    await choice.findAll('button')[1]!.trigger('click')
    await flushPromises()
    expect(asked()).toEqual(['', '?site=cold'])
    expect(page.find('.station').text()).toBe('Cold Acre')
    expect(JSON.parse(localStorage.getItem('apercu.sites')!)).toEqual({ t: 'cold' })
  })
  it('is opened where a link says', async () => {
    await frame('/trials/t/walk?site=cold')
    expect(asked()[0]).toBe('?site=cold')
  })
  it('shows the first again where it left the site that was looked at', async () => {
    chooseSite('t', 'gone')
    answers['GET /api/v1/trials/t?site=gone'] = [404, { code: 'not-found', detail: 'The trial isn’t there.' }]
    const { page } = await frame('/trials/t/plan')
    await flushPromises()
    expect([asked()[0], siteOf('t'), page.find('.station').text()]).toEqual([
      '?site=gone',
      undefined,
      'Mill Ground',
    ])
  })
  it('is looked at where the visit lies that somebody opens', async () => {
    answers['GET /api/v1/session'] = [200, { name: 'Ada', email: 'a', units: 'metric', memberships: [] }]
    answers['GET /api/v1/visits/v'] = [
      200,
      {
        id: 'v', trial: 't', site: 'cold', name: 'Weeds in June', due: null, date: null, order: [], zones: {}, rows: [],
        conflicts: [], notes: [], measures: [], progress: { done: 0, begun: 0, of: 0, conflicts: 0 },
      },
    ] // prettier-ignore
    const { page } = await openStation(VisitPage, { trial: twoSites, visit: 'v' }, '/visit/t/v')
    expect([siteOf('t'), page.text()]).toEqual(['cold', 'Loading …']) // the frame brings the trial at that site
  })
  it('has files of the site that is looked at', async () => {
    chooseSite('t', 'cold')
    const { page } = await openStation(FieldFiles, { trial: twoSites })
    expect(page.find('a').attributes('href')).toBe('/api/v1/trials/t/stake-out.csv?site=cold')
    await page.find('.make button').trigger('click')
    await flushPromises()
    expect(sent.find((s) => s.url.endsWith('/files'))!.query).toBe('?site=cold')
  })
  it('leaves a treatment out at a site, never the control', async () => {
    const left: string[][] = []
    const props = { trial: twoSites, modelValue: [], 'onUpdate:modelValue': (to: string[]) => left.push(to) }
    const { page } = await openStation(GrownHere, props)
    const boxes = page.findAll('input')
    expect(boxes.map((box) => box.attributes('disabled') !== undefined)).toEqual([true, false, false])
    await boxes[2]!.setValue(false)
    expect(left).toEqual([['Vetch']])
  })
  it('offers each field once, and takes its figures over', async () => {
    const known = { ...site('far', 'Far Twelve'), place: 'Gull Farm', latitude: 52.7, slope_percent: 1.5 }
    answers['GET /api/v1/sites'] = [200, { count: 3, results: [...SITES, known] }]
    const draft = ref<SiteDraft>(siteDraftOf(SITES[0] as Site))
    const Page = defineComponent(() => () =>
      h(SiteFields, {
        taken: ['mill', 'cold'], at: 0, missing: () => [], faults: { 'sites.0.slope_percent': 'Not a number' }, earlier: [], mayPlan: true, alone: false, modelValue: draft.value,
        'onUpdate:modelValue': (to: SiteDraft) => (draft.value = to),
      }),
    ) // prettier-ignore
    const { page } = await openStation(Page)
    const choice = page.findComponent({ name: 'VSelect' })
    expect((choice.props('items') as { title: string }[]).map((one) => one.title)).toEqual([
      'a new site',
      'Mill Ground',
      'Far Twelve, Gull Farm',
    ])
    expect(page.text()).toContain('Slope%Not a number')
    choice.vm.$emit('update:modelValue', 'far')
    await flushPromises()
    expect(draft.value).toMatchObject({ latitude: '52.7', slope: '1.5', site: { id: 'far' } })
    choice.vm.$emit('update:modelValue', '')
    await flushPromises()
    expect([draft.value.site.name, draft.value.latitude, draft.value.site.id === 'far']).toEqual([
      '',
      '',
      false,
    ])
  })
  it('is asked for at as many sites as there are, each once', async () => {
    answers['GET /api/v1/sites'] = [200, { count: 3, results: [...SITES, site('far', 'Far Twelve')] }]
    const draft = ref<AskDraft>({ ...emptyDraft(), ...draftOf(twoSites) })
    const Page = defineComponent(
      () => () =>
        h(AskForm, {
          trial: 't',
          workspace: 'w',
          mayPlan: true,
          act: 'Save margin',
          modelValue: draft.value,
        }),
    )
    const { page } = await openStation(Page)
    await page
      .findAll('button')
      .find((b) => b.text() === 'Add site')!
      .trigger('click')
    await flushPromises()
    expect(page.findAll('.site')).toHaveLength(3)
    await page.findAll('.site').at(1)!.find('.which button').trigger('click')
    await page.findAll('.site').at(1)!.find('[data-where="sites.1.name"] input').setValue('Cold Drove')
    page.find('form').element.dispatchEvent(new Event('submit', { cancelable: true }))
    await vi.waitFor(() => expect(sent.some((one) => one.url.endsWith('/ask'))).toBe(true))
    const put = sent.find((one) => one.url.endsWith('/ask'))!.body as {
      sites: { id: string; name: string }[]
    }
    expect(put.sites.map((one) => one.name)).toEqual(['Mill Ground', 'Cold Drove'])
  })
})
