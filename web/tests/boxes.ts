import type { OutboxItem } from '@/offline/changes'
import type { Box } from '@/offline/outbox'
import type { PhotographKept } from '@/offline/shelf'

/** A box that outlives a page, as the one on a device does. */
export function boxInMemory(): Box & { kept: OutboxItem[] } {
  const kept: OutboxItem[] = []
  const photographs = new Map<string, PhotographKept>()
  let seq = 0
  const at = (wanted: number) => kept.findIndex((one) => one.seq === wanted)
  return {
    kept,
    of: async (person) => kept.filter((one) => one.person === person).map((one) => ({ ...one })),
    others: async (person) => kept.filter((one) => one.person !== person).length,
    async add(item) {
      kept.push({ ...item, seq: ++seq })
      return seq
    },
    change: async (item) => void kept.splice(at(item.seq!), 1, item),
    async remove(...wanted) {
      for (const one of wanted) if (at(one) >= 0) kept.splice(at(one), 1)
    },
    keepPhotograph: async (id, bytes) => void photographs.set(id, bytes),
    photograph: async (id) => photographs.get(id),
  }
}
