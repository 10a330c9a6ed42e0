/** Squares of the grid that an area is drawn on: `3-8 14` is those from 3 to 8 and 14; 0 is none. */

/** Their numbers in order, each once; null where the text says something else, or a square beyond `most`. */
export function squaresIn(text: string, most: number): number[] | null {
  const found = new Set<number>()
  for (const one of text.trim().split(/[\s;,]+/)) {
    const [, from, to = from] = /^(\d{1,4})(?:[-–](\d{1,4}))?$/.exec(one) ?? []
    if (from === undefined || Number(from) > Number(to) || Number(to) > most) return null
    for (let at = Number(from); at <= Number(to); at++) found.add(at)
  }
  return [...found].sort((a, b) => a - b)
}

/** As they are kept: runs of three or more in short. */
export function squaresSaid(squares: Iterable<number>): string {
  const runs: [number, number][] = []
  for (const one of [...squares].sort((a, b) => a - b)) {
    const last = runs.at(-1)
    if (last && one === last[1] + 1) last[1] = one
    else runs.push([one, one])
  }
  return runs
    .map(([from, to]) => (from === to ? `${from}` : to === from + 1 ? `${from} ${to}` : `${from}-${to}`))
    .join(' ')
}
