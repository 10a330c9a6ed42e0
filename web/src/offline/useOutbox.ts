import { shallowRef } from 'vue'

import { sendAs } from '@/api/client'
import type { Session } from '@/api/queries'

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
    current.value = outboxOf(session.email, session.name, boxOnThisDevice)
    void current.value.send()
  }
  return current.value
}

/** Signing out: what waits stays on the device, and nothing more is sent. */
export function closeOutbox() {
  current.value?.close()
  current.value = null
  whose = ''
  sendAs('')
}

export const useOutbox = () => current
