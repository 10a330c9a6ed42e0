import { flushPromises } from '@vue/test-utils'
import { defineComponent, h, type Component } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'

import { provideGround } from '@/shell/useGround'

import { show } from './mounting'

const NAMES = [
  'today',
  'day-list',
  'new',
  'bring',
  'sign-in',
  'species',
  'ask',
  'plan',
  'layout',
  'sow',
  'season',
  'stages',
  'log',
  'kill',
  'weather',
  'walk',
  'read',
  'tell',
]

/** A station inside a frame that owns the ground, with every address that a station may lead to. */
export async function openStation(station: Component, props: object = {}, at = '/today') {
  const empty = { render: () => h('p') }
  const routes = [
    ...NAMES.map((name) => ({ path: `/${name}/:trial?`, name, component: empty })),
    { path: '/visit/:trial?/:visit', name: 'visit', component: empty },
    { path: '/photographs/:visit', name: 'photo-sheet', component: empty },
  ]
  const router = createRouter({ history: createMemoryHistory(), routes })
  await router.push(at)
  let ground!: ReturnType<typeof provideGround>
  const Frame = defineComponent({
    setup() {
      ground = provideGround()
      return () => h(station, props)
    },
  })
  const page = show(Frame, {}, {}, [router])
  await flushPromises()
  return { page, ground, router }
}

/** Types into the field of an open dialog. */
export async function typeInDialog(label: string, text: string) {
  const field = [...document.querySelectorAll('.v-overlay .v-input')].find((f) =>
    f.textContent!.includes(label),
  )!
  const input = field.querySelector<HTMLInputElement | HTMLTextAreaElement>(
    'input, textarea:not([aria-hidden])',
  )!
  input.value = text
  input.dispatchEvent(new Event('input'))
  await flushPromises()
}
export async function sendDialog() {
  document.querySelector('.v-overlay form')!.dispatchEvent(new Event('submit', { cancelable: true }))
  await flushPromises()
}
export const dialogText = () => document.querySelector('.v-overlay')?.textContent ?? ''
