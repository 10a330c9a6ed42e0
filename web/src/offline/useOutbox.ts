import { shallowRef } from 'vue'

import { sendAs } from '@/api/client'
import { queryClient, type Session } from '@/api/queries'

import { entryOf } from './cells'
import { queuedDrafts } from './drafts'
import { keepFor } from './kept'
import { boxOnThisDevice } from './outbox'
import { outboxOf, type Outbox } from './sending'

const current = shallowRef<Outbox | null>(null)
let whose = ''

/** The outbox of who is signed in; it sends as long as the application is open, whatever page shows. */
export function outboxFor(session: Session): Outbox {
  if (!current.value || whose !== session.email) {
    current.value?.close()
    whose = session.email
    sendAs(whose)
    void keepFor(whose)
    current.value = outboxOf(session.email, session.name, boxOnThisDevice, () => {
      void queryClient.invalidateQueries({ queryKey: ['trials'] }) // pages show what the server has now
    })
    void begin(current.value, whose)
  }
  return current.value
}

/** A kill between an entry’s draft and its place in the outbox left it without one: it gets its place, then all goes. */
async function begin(outbox: Outbox, person: string) {
  await outbox.look()
  for (const { visit, key, cell } of await queuedDrafts(person)) {
    const there = outbox.items.some(
      ({ change }) =>
        change.kind === 'entry' &&
        change.visit === visit &&
        change.key === key &&
        (change.entry?.id ?? cell.id) === cell.id,
    )
    if (!there) await outbox.add({ kind: 'entry', visit, key, entry: entryOf(cell) }, '', '')
  }
  await outbox.send()
}

/** Signing out: what waits stays on the device, and nothing more is sent. */
export function closeOutbox() {
  current.value?.close()
  current.value = null
  whose = ''
  sendAs('')
  void keepFor('')
}

export const useOutbox = () => current
