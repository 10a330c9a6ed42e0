import { vi } from 'vitest'

import { queryClient } from '@/api/queries'

export interface Sent {
  url: string
  query: string
  method: string
  body: unknown
  /** `If-Match`: what the save was made from. */
  etag?: string
}
/** What the page sent, in order. */
export const sent: Sent[] = []
type Answer = [status: number, body: unknown]
/**
 * `METHOD /path`, with its query or for any, or `METHOD *` → status and body, or what makes them of what was sent;
 * anything else is answered with 404.
 */
export const answers: Record<string, Answer | ((sent: unknown) => Answer)> = {}

async function bodyOf(request: Request): Promise<unknown> {
  if (request.headers.get('Content-Type')?.startsWith('multipart/')) return request.formData()
  const text = await request.clone().text()
  return text ? JSON.parse(text) : null
}

/** A server that answers from a table, so that what the page sends can be looked at. */
export function serveAnew() {
  sent.length = 0
  for (const key of Object.keys(answers)) delete answers[key]
  queryClient.clear()
  vi.stubGlobal('fetch', async (given: Request | string, init?: RequestInit) => {
    const request = given instanceof Request ? given : new Request(new URL(given, location.origin), init)
    const { pathname: url, search: query } = new URL(request.url)
    const etag = request.headers.get('If-Match')
    const asked = await bodyOf(request)
    sent.push({ url, query, method: request.method, body: asked, ...(etag ? { etag } : {}) })
    const found = answers[`${request.method} ${url}${query}`] ??
      answers[`${request.method} ${url}`] ??
      answers[`${request.method} *`] ?? [404, { code: 'not-found', detail: 'Nothing here.' }]
    const [status, body] = typeof found === 'function' ? found(asked) : found
    return new Response(status === 204 ? null : JSON.stringify(body), {
      status,
      headers: { 'Content-Type': 'application/json' },
    })
  })
}
