/** What a label’s code says: its plot, and the trial that it belongs to; null where only a number was typed. */
export interface LabelCode {
  trial: string | null
  plot: string
}

/** A stake’s or a bag’s QR code holds an address of this application; anything else is taken for a plot’s number. */
export function labelCode(text: string): LabelCode {
  const said = text.trim()
  const url = URL.canParse(said) ? new URL(said) : null
  const trial = url?.pathname.match(/^\/trials\/([0-9a-f-]{36})\//)?.[1]
  const plot = url?.searchParams.get('bag') ?? url?.searchParams.get('plot')
  return trial && plot ? { trial, plot } : { trial: null, plot: said }
}
