/** Numbers and dates as people read them: a real minus, a plus for differences, days and months in words. */

/** Below 0 decimals tens, hundreds and so on. */
function rounded(value: number, decimals: number): string {
  if (decimals >= 0) return value.toFixed(decimals)
  const step = 10 ** -decimals
  return (Math.sign(value) * Math.round(Math.abs(value) / step) * step).toFixed(0)
}

export function figure(value: number | null | undefined, decimals: number): string {
  if (value === null || value === undefined) return '–'
  const text = rounded(value, decimals)
  return (Number(text) === 0 ? text.replace('-', '') : text).replace('-', '−')
}

/** A value as it was found, which is never rounded to tens, however large the standard error of a mean. */
export const found = (value: number | null | undefined, decimals: number): string =>
  figure(value, Math.max(0, decimals))

/** Degrees of freedom; none are told where there are infinitely many. */
export const degrees = (df: number | null | undefined, decimals: number): string =>
  df === null || df === undefined ? '∞' : figure(df, decimals)

export function signed(value: number | null | undefined, decimals: number): string {
  const text = figure(value, decimals)
  return value && value > 0 && Number(rounded(value, decimals)) !== 0 ? `+${text}` : text
}

export function pValue(p: number | null | undefined): string {
  if (p === null || p === undefined) return '–'
  if (p < 0.001) return 'p < 0.001'
  return `p = ${p.toFixed(p < 0.1 ? 3 : 2)}`
}

/** The same without its name, under a heading that has it. */
export function pAlone(p: number | null | undefined): string {
  return pValue(p).replace(/^p (= )?/, '')
}

/** A margin as it was typed: no idle zeros. */
export function plain(value: number): string {
  return String(Number(value.toPrecision(6))).replace('-', '−')
}

/** A stored number in a field, in the reader’s unit: whole where it is short, else to four digits. As the server does. */
export function shownIn(factor: number, stored: number): string {
  const value = Number((stored * factor).toPrecision(9))
  const digits = Math.abs(value).toExponential(9).split('e')[0]!.replace('.', '').replace(/0+$/, '')
  if (digits.length <= 5 || factor === 1) return plain(value)
  return plain(Math.abs(value) < 10_000 ? Number(value.toPrecision(4)) : Math.round(value))
}

/** The same for reading rather than changing: three digits are enough in the unit that isn’t stored. */
export const saidIn = (factor: number, stored: number): string =>
  factor === 1 ? shownIn(factor, stored) : threeDigits(stored * factor)

/** Three digits at most, but never fewer than the whole number; as the server writes numbers in its messages. */
export function threeDigits(value: number): string {
  const size = Math.abs(value)
  const decimals = size === 0 ? 0 : Math.min(6, Math.max(0, 2 - Math.floor(Math.log10(size))))
  const text = figure(value, decimals)
  return text.includes('.') ? text.replace(/0+$/, '').replace(/\.$/, '') : text
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

/** A local date (`2026-10-06`) as `6 Oct 2026`. */
export function day(date: string): string {
  const [y, m, d] = date.split('-').map(Number)
  return `${d} ${MONTHS[m! - 1]} ${y}`
}

export function month(index: number): string {
  return MONTHS[index]!
}

/** A moment as the reader’s clock has it: `6 Oct 2026, 09:05`. */
export function moment(stamp: string): string {
  const at = new Date(stamp)
  const [hours, minutes] = [at.getHours(), at.getMinutes()].map((n) => String(n).padStart(2, '0'))
  return `${at.getDate()} ${month(at.getMonth())} ${at.getFullYear()}, ${hours}:${minutes}`
}
