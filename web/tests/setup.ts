/** Before each test of every file; the files share their modules, which are then loaded once. */
import 'fake-indexeddb/auto'
import { afterEach, beforeEach, vi } from 'vitest'

import { closeOutbox } from '@/offline/useOutbox'

import { takeAway } from './mounting'
import { serveAnew } from './server'

beforeEach(serveAnew)
afterEach(() => {
  takeAway()
  closeOutbox()
  vi.unstubAllGlobals()
  document.body.innerHTML = ''
})
