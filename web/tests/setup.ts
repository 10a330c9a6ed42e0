/** Before each test of every file; the files share their modules, which are then loaded once. */
import { afterEach, beforeEach, vi } from 'vitest'

import { takeAway } from './mounting'
import { serveAnew } from './server'

beforeEach(serveAnew)
afterEach(() => {
  takeAway()
  vi.unstubAllGlobals()
  document.body.innerHTML = ''
})
