import { computed, watch } from 'vue'
import { createVuetify, useTheme } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'

import { palettes, type Mode } from './palette'

const KEPT = 'apercu.mode'
export const MODES: Mode[] = ['light', 'dark', 'sunlight']

function startingMode(): Mode {
  const kept = localStorage.getItem(KEPT)
  if (kept === 'field') return 'sunlight' // its former name
  if (MODES.includes(kept as Mode)) return kept as Mode
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

function vuetifyTheme(mode: Mode) {
  const p = palettes[mode]
  return {
    dark: mode === 'dark',
    colors: {
      ...p,
      background: p.paper!,
      surface: p.paper!,
      primary: p.accent!,
      'on-primary': p['on-accent']!,
      error: p.loss!,
      success: p.gain!,
      warning: p.unsettled!,
      info: p.link!,
    },
    variables: { 'medium-emphasis-opacity': 0.85, 'border-opacity': 0.3, 'disabled-opacity': 0.7 },
  }
}

/** Vuetify in Apercu's own colours, radii and density. The nonce lets its style sheet past the content policy. */
export function makeTheme() {
  const nonce = document.querySelector<HTMLElement>('script[nonce], link[nonce], meta[nonce]')?.nonce
  return createVuetify({
    theme: {
      cspNonce: nonce || undefined,
      defaultTheme: startingMode(),
      themes: {
        light: vuetifyTheme('light'),
        dark: vuetifyTheme('dark'),
        sunlight: vuetifyTheme('sunlight'),
      },
    },
    icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
    defaults: {
      VBtn: { variant: 'flat', rounded: 'lg', height: 44, ripple: false },
      VTextField: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
      VTextarea: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
      VCombobox: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
      VSelect: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
      VAutocomplete: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
      VCheckbox: { density: 'compact', hideDetails: true },
    },
  })
}

/** The mode in force and how to choose another; kept on this machine. */
export function useMode() {
  const theme = useTheme()
  const mode = computed(() => theme.name.value as Mode)
  watch(mode, (value) => (document.documentElement.dataset.mode = value), { immediate: true })
  function choose(next: Mode) {
    theme.change(next)
    localStorage.setItem(KEPT, next)
  }
  return { mode, choose }
}
