import Papa from 'papaparse'

/** Saves it under a name in the reader’s downloads. */
export function download(name: string, content: Blob) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(content)
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}

/** A name for a file, made of what it shows: `covers-before-barley-means.csv`. */
export const fileName = (parts: (string | undefined)[], ending: string) =>
  `${
    parts
      .filter(Boolean)
      .join(' ')
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, '') || 'apercu'
  }.${ending}`

/** A cell as other programs read it: a plain minus, and nothing that is only meant for the eye. */
const plainCell = (text: string) => {
  const tidy = text.trim().replace(/\s+/g, ' ')
  return /^[−+-]?[\d.]+$/.test(tidy) ? tidy.replace('−', '-').replace(/^\+/, '') : tidy
}

/** Six digits at most: more is noise of the arithmetic. */
const tidy = (cell: string | number | null) => (typeof cell === 'number' ? Number(cell.toPrecision(6)) : cell)

/** Rows as CSV; text that a spreadsheet would run as a formula goes out harmless. */
export const csvOf = (rows: (string | number | null)[][]) =>
  Papa.unparse(
    rows.map((row) => row.map(tidy)),
    { escapeFormulae: /^[=+\-@\t\r](?![\d.]+$)/ },
  ) + '\r\n'

export const saveCsv = (name: string, rows: (string | number | null)[][]) =>
  download(name, new Blob(['\uFEFF', csvOf(rows)], { type: 'text/csv;charset=utf-8' }))

/** What a table shows, cell by cell; buttons in it are left out. */
export function rowsOf(table: HTMLTableElement): string[][] {
  return [...table.rows].map((row) =>
    [...row.cells].flatMap((cell) => {
      const typed = [...cell.querySelectorAll('input')].map((input) => input.value)
      if (typed.length) return [plainCell(typed.filter(Boolean).join(' '))]
      const shown = cell.cloneNode(true) as HTMLElement
      for (const act of shown.querySelectorAll('button, .seen-by-readers-only')) act.remove()
      return [plainCell(shown.textContent ?? ''), ...Array<string>(cell.colSpan - 1).fill('')]
    }),
  )
}

const DRAWN = [
  'fill', 'fill-opacity', 'stroke', 'stroke-width', 'stroke-opacity', 'stroke-dasharray', 'stroke-linecap', 'stroke-linejoin',
  'opacity', 'font-family', 'font-size', 'font-weight', 'font-variant-numeric', 'text-anchor', 'dominant-baseline', 'paint-order', 'visibility',
] // prettier-ignore
const SVG = 'http://www.w3.org/2000/svg'

/** The chart as a file of its own: its looks written into it, on the page’s paper, with its title. */
export async function standaloneSvg(chart: SVGSVGElement, title: string): Promise<string> {
  const copy = chart.cloneNode(true) as SVGSVGElement
  const originals = [chart, ...chart.querySelectorAll<SVGElement>('*')]
  const copies = [copy, ...copy.querySelectorAll<SVGElement>('*')]
  copies.forEach((one, i) => {
    const looks = getComputedStyle(originals[i]!)
    if (looks.display === 'none') return one.remove()
    for (const name of DRAWN) one.style.setProperty(name, looks.getPropertyValue(name))
    for (const name of [...one.attributes].map((a) => a.name))
      if (name.startsWith('data-v-') || name === 'class') one.removeAttribute(name)
  })
  const { width, height } = sizeOf(chart)
  copy.setAttribute('xmlns', SVG)
  copy.setAttribute('width', String(width))
  copy.setAttribute('height', String(height))
  const paper = document.createElementNS(SVG, 'rect')
  const box = chart.viewBox.baseVal
  for (const [name, value] of Object.entries({
    x: box?.x ?? 0,
    y: box?.y ?? 0,
    width: '100%',
    height: '100%',
  }))
    paper.setAttribute(name, String(value))
  paper.setAttribute(
    'fill',
    getComputedStyle(document.querySelector('.v-application') ?? document.body).backgroundColor,
  )
  const name = document.createElementNS(SVG, 'title')
  name.textContent = title
  const face = document.createElementNS(SVG, 'style')
  face.textContent = await fontFace()
  copy.prepend(name, face, paper)
  return new XMLSerializer().serializeToString(copy)
}

function sizeOf(chart: SVGSVGElement) {
  const box = chart.viewBox.baseVal
  return box?.width ? { width: box.width, height: box.height } : chart.getBoundingClientRect()
}

let face: Promise<string> | undefined
/** The page’s own fonts, so that the file looks the same where they aren’t installed. */
const fontFace = () => (face ??= embeddedFonts().catch(() => ''))
async function embeddedFonts(): Promise<string> {
  const rules = [...document.styleSheets]
    .flatMap((sheet) => [...sheet.cssRules])
    .filter((rule): rule is CSSFontFaceRule => rule instanceof CSSFontFaceRule)
  const used = rules.filter((rule) => /U\+(0-|30$)/i.test(rule.style.getPropertyValue('unicode-range')))
  return (await Promise.all(used.map(embedded))).join('')
}
async function embedded(rule: CSSFontFaceRule): Promise<string> {
  const address = rule.style.getPropertyValue('src').match(/url\("?([^")]+)"?\)/)?.[1]
  if (!address) return ''
  const bytes = new Uint8Array(await (await fetch(address)).arrayBuffer())
  const text = btoa(bytes.reduce((all, byte) => all + String.fromCharCode(byte), ''))
  return rule.cssText
    .replace(/font-display:[^;]*;/, '')
    .replace(/src:[^;]*;/, `src:url(data:font/woff2;base64,${text}) format('woff2');`)
}

export async function saveSvg(chart: SVGSVGElement, title: string, name: string) {
  download(name, new Blob([await standaloneSvg(chart, title)], { type: 'image/svg+xml' }))
}

async function loaded(address: string): Promise<HTMLImageElement> {
  const picture = new Image()
  picture.src = address
  await picture.decode()
  return picture
}
async function drawnOnce(picture: HTMLImageElement) {
  document.createElement('canvas').getContext('2d')!.drawImage(picture, 0, 0)
  for (let frame = 0; frame < 6; frame++) await new Promise(requestAnimationFrame)
}

/** Sharp enough for print: three times the size on screen. */
const SHARP = 3
export async function savePng(chart: SVGSVGElement, title: string, name: string) {
  const { width, height } = sizeOf(chart)
  const address = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(await standaloneSvg(chart, title))}`
  const picture = await loaded(address)
  await drawnOnce(picture) // its fonts are read when it is first drawn, and there when it is drawn again
  const canvas = Object.assign(document.createElement('canvas'), {
    width: width * SHARP,
    height: height * SHARP,
  })
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
  const made = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'))
  if (made) download(name, made)
}
