import { VueQueryPlugin, QueryClient } from '@tanstack/vue-query'
import { mount, type VueWrapper } from '@vue/test-utils'
import { createPinia } from 'pinia'
import type { Component, Plugin } from 'vue'
import { createVuetify } from 'vuetify'

import { palettes } from '@/shell/palette'
import { texts } from '@/texts'

globalThis.ResizeObserver = class {
  observe() {}
  unobserve() {}
  disconnect() {}
}
Object.defineProperty(globalThis, 'visualViewport', { value: new EventTarget() })
globalThis.matchMedia ??= (() => ({
  matches: false,
  addEventListener() {},
  removeEventListener() {},
})) as never

const shown: VueWrapper[] = []
/** Takes every page of a test away, so that none asks the server of the next one. */
export function takeAway() {
  for (const page of shown.splice(0)) page.unmount()
}

/** Mounts a component with the texts, the theme and a query cache of its own. */
export function show(
  component: Component,
  props: Record<string, unknown>,
  slots: Record<string, string> = {},
  plugins: Plugin[] = [],
) {
  const vuetify = createVuetify({ theme: { themes: { light: { colors: palettes.light } } } })
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const page = mount(component, {
    props,
    slots,
    attachTo: document.body,
    global: {
      plugins: [texts, vuetify, createPinia(), [VueQueryPlugin, { queryClient }], ...plugins],
      stubs: plugins.length ? {} : { RouterLink: true },
    },
  })
  shown.push(page)
  return page
}
