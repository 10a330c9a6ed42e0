/*
 * Opens the application without a network: its files by their version, and the answers that this device got last.
 * The server fills in VERSION and FILES (`config.pages`). Changes never pass through here: they wait in the outbox.
 */
const VERSION = '__VERSION__'
const FILES = '__FILES__'
const APP = `apercu-app-${VERSION}`
const DATA = 'apercu-data'
const PAGE = '/'
/** After so long a kept answer is shown, if there is one; the true one is kept when it comes. */
const WAIT_MS = 6000
const UNREACHED = [502, 503, 504]
/** What is too large or too short-lived to be kept. */
const PASSED = /\/(jobs|photographs|health|schema)(\/|$)/

self.addEventListener('install', (event) => event.waitUntil(keepApp()))
self.addEventListener('activate', (event) => event.waitUntil(takeOver()))
self.addEventListener('fetch', (event) => {
  const { request } = event
  const address = new URL(request.url)
  if (request.method !== 'GET' || address.origin !== location.origin) return
  if (request.mode === 'navigate') event.respondWith(page(request))
  else if (FILES.includes(address.pathname)) event.respondWith(file(request))
  else if (address.pathname.startsWith('/api/v1/') && !PASSED.test(address.pathname))
    event.respondWith(answer(event, request))
})

async function keepApp() {
  const cache = await caches.open(APP)
  await cache.addAll(FILES)
  const answered = await fetch(PAGE, { cache: 'reload' })
  if (!answered.ok) throw new Error('The page could not be kept.')
  await cache.put(PAGE, answered)
}

/** The answers stay: what waits on the device belongs to them, whatever the version. */
async function takeOver() {
  for (const name of await caches.keys())
    if (name.startsWith('apercu-app-') && name !== APP) await caches.delete(name)
  await self.clients.claim()
}

async function file(request) {
  return (await caches.match(request)) ?? fetch(request)
}

/** The newest page while there is a network; without one the kept page of this version, with its own nonce. */
async function page(request) {
  try {
    const answered = await within(fetch(request), WAIT_MS)
    if (!UNREACHED.includes(answered.status)) return answered
  } catch {
    // no network
  }
  return (await caches.match(PAGE, { cacheName: APP })) ?? fetch(request)
}

async function answer(event, request) {
  const cache = await caches.open(DATA)
  const asked = fetch(request).then(async (answered) => {
    if (answered.ok && isData(answered)) event.waitUntil(keep(cache, request, answered.clone()))
    return answered
  })
  const kept = await cache.match(request, { ignoreVary: true })
  if (!kept) return asked
  try {
    const answered = await within(asked, WAIT_MS)
    return UNREACHED.includes(answered.status) ? kept : answered
  } catch {
    asked.catch(() => undefined)
    return kept
  }
}

const isData = (answered) => (answered.headers.get('Content-Type') ?? '').startsWith('application/json')

/** Keeps when it was answered, so that a page can say how old it is. */
async function keep(cache, request, answered) {
  const headers = new Headers(answered.headers)
  headers.set('X-Kept-At', new Date().toISOString())
  const { status, statusText } = answered
  await cache.put(request, new Response(await answered.blob(), { status, statusText, headers }))
}

function within(promise, milliseconds) {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(() => reject(new Error('too slow')), milliseconds)
    promise.then(resolve, reject).finally(() => clearTimeout(timer))
  })
}
