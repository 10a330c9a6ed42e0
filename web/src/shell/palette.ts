/** The colours of Apercu in its three modes. Each name becomes a CSS variable: `rgb(var(--v-theme-ink))`. */
export type Mode = 'light' | 'dark' | 'sunlight'

type Palette = Record<string, string>

export const palettes: Record<Mode, Palette> = {
  light: {
    band: '#20303A', 'on-band': '#FFFFFF', 'band-quiet': '#C9D2D6', text: '#20262B', quiet: '#555C63', paper: '#FCFBF8',
    ground: '#EFEDE5', edge: '#E7E4DA', rule: '#CFCABD', field: '#8A867A', accent: '#A8412A', 'on-accent': '#FFFFFF', link: '#1F5673',
    gain: '#2E6A4B', loss: '#A8412A', unsettled: '#805806', neutral: '#555C63', margin: '#E4E0D4', rain: '#8FB0C4',
  },
  dark: {
    band: '#10181D', 'on-band': '#F2F0EA', 'band-quiet': '#B4C0C6', text: '#ECE9E1', quiet: '#B3B5B2', paper: '#1B2328',
    ground: '#222C32', edge: '#182024', rule: '#45525A', field: '#7E8A91', accent: '#E8906F', 'on-accent': '#1B1410', link: '#8EC4E4',
    gain: '#7FCBA0', loss: '#F0997B', unsettled: '#E0B659', neutral: '#B3B5B2', margin: '#36434B', rain: '#52748A',
  },
  sunlight: {
    band: '#000000', 'on-band': '#FFFFFF', 'band-quiet': '#FFFFFF', text: '#000000', quiet: '#262626', paper: '#FFFFFF',
    ground: '#FFFFFF', edge: '#F2F2F2', rule: '#5C5C5C', field: '#000000', accent: '#8F1D00', 'on-accent': '#FFFFFF', link: '#003A66',
    gain: '#00502C', loss: '#8F1D00', unsettled: '#5A3D00', neutral: '#262626', margin: '#D2D2D2', rain: '#4A6E86',
  },
} // prettier-ignore

/** What a treatment wears: a colour that carries white text at 4.5:1, and a pattern for print and colour-blind eyes. */
export interface Wear {
  hue: string
  pattern: PatternName
}
export type PatternName =
  'plain' | 'rising' | 'dots' | 'upright' | 'lattice' | 'level' | 'falling' | 'rings' | 'bricks' | 'waves'

const WEARS: Wear[] = [
  { hue: '#6F6A61', pattern: 'plain' },
  { hue: '#96610F', pattern: 'rising' },
  { hue: '#4E7A3A', pattern: 'dots' },
  { hue: '#33608F', pattern: 'upright' },
  { hue: '#7C4A84', pattern: 'lattice' },
  { hue: '#A13F57', pattern: 'level' },
  { hue: '#20756F', pattern: 'falling' },
  { hue: '#8A4A2B', pattern: 'rings' },
  { hue: '#555C9E', pattern: 'bricks' },
  { hue: '#6E6C14', pattern: 'waves' },
]

/** The wear of the i-th treatment; after ten, colours come again with other patterns. */
export function wearOf(index: number): Wear {
  const turn = Math.floor(index / WEARS.length)
  const hue = WEARS[index % WEARS.length]!.hue
  return { hue, pattern: WEARS[(index + turn * 3) % WEARS.length]!.pattern }
}
