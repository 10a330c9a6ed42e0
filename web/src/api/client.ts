import createClient, { type Middleware } from 'openapi-fetch'

import { noteAge } from '@/offline/kept'

import type { components, paths } from './schema'

export type Shapes = components['schemas']

/** What the server says is wrong: a stable code, a sentence, and places where it applies. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly places: { where: string; what: string }[] = [],
    /** What stands there now, where somebody else changed it meanwhile. */
    readonly current: unknown = undefined,
  ) {
    super(message)
  }
}

function cookie(name: string): string {
  return document.cookie.match(new RegExp(`(?:^|; )${name}=([^;]*)`))?.[1] ?? ''
}

let meant = ''
/** Whose changes are sent from now on; the server takes none under another person’s session. */
export function sendAs(email: string) {
  meant = email
}

let units = ''
/** In which units pages show and take numbers from now on: requests say it. Returns whether they changed. */
export function showIn(system: string): boolean {
  const changed = units !== '' && units !== system
  units = system
  return changed
}

const problems: Middleware = {
  onRequest({ request }) {
    if (units) request.headers.set('X-Units', units)
    if (request.method === 'GET') return request
    request.headers.set('X-CSRFToken', cookie('csrftoken'))
    if (meant) request.headers.set('X-Person', encodeURIComponent(meant))
    return request
  },
  async onResponse({ response }) {
    noteAge(response)
    if (response.ok) return response
    throw await problemOf(response)
  },
  onError() {
    return new Problem(0, 'offline', 'The server can’t be reached. Check the connection, then try again.')
  },
}

async function problemOf(response: Response): Promise<Problem> {
  const body = await response.json().catch(() => null)
  const fallback =
    response.status === 413 ? 'That is too large to send.' : 'Something went wrong on the server.'
  return new Problem(
    response.status,
    body?.code ?? 'error',
    body?.detail ?? fallback,
    body?.errors ?? [],
    body?.current,
  )
}

/** A weak signal leaves requests without an end; what waits on the device would wait behind them. */
const ANSWER_WITHIN = 60_000

export const client = createClient<paths>({
  baseUrl: location.origin,
  fetch: (request) => globalThis.fetch(request, { signal: AbortSignal.timeout(ANSWER_WITHIN) }),
})
client.use(problems)

/** Says from what a save was made, so that nobody's change is written over unseen; none for what is new. */
export const madeFrom = (etag?: string) => (etag ? { headers: { 'If-Match': `"${etag}"` } } : {})

/** Whether the map stays as it is because somebody has printed or exported it: a person may go on although. */
export const isTakenOut = (problem: unknown): boolean =>
  problem instanceof Problem && problem.code === 'map-taken-out'

/** What stands there now, if the save was refused because somebody else changed it. */
export function changedMeanwhile<T>(problem: unknown): T | null {
  return problem instanceof Problem && problem.code === 'changed' ? (problem.current as T) : null
}

/** The body of a good answer; a bad one has already been thrown as a `Problem`. */
export async function answer<T>(call: Promise<{ data?: T }>): Promise<T> {
  return (await call).data as T
}

/** A photograph over a weak signal takes its time. */
const FILE_SENT_WITHIN = 300_000

/** Send a file; the generated client only speaks JSON. */
export async function sendFile(
  path: string,
  form: FormData,
  method: 'POST' | 'PUT' = 'POST',
): Promise<unknown> {
  const headers = {
    'X-CSRFToken': cookie('csrftoken'),
    ...(units ? { 'X-Units': units } : {}),
    ...(meant ? { 'X-Person': encodeURIComponent(meant) } : {}),
  }
  const signal = AbortSignal.timeout(FILE_SENT_WITHIN)
  let response: Response
  try {
    response = await fetch(path, { method, body: form, headers, signal })
  } catch {
    throw new Problem(0, 'offline', 'The server can’t be reached. Check the connection, then try again.')
  }
  if (!response.ok) throw await problemOf(response)
  return response.json()
}
