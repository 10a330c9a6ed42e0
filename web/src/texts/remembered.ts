const MOST = 4_000

/** `say`, which answers at once what it was asked before: a screen asks for the same texts at every step. */
export function remembered<Say extends (...asked: never[]) => string>(say: Say): Say {
  const known = new Map<string, string>()
  return ((...asked: Parameters<Say>) => {
    const key = JSON.stringify(asked)
    const before = known.get(key)
    if (before !== undefined) return before
    if (known.size >= MOST) known.clear()
    const said = say(...asked)
    known.set(key, said)
    return said
  }) as Say
}
