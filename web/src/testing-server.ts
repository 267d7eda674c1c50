/** A server for tests that answers when it is told to: late, in another order, or with a refusal. */
import { vi } from 'vitest'

export interface Sent {
  method: string
  path: string
  body: unknown
  /** Answers; `problem` for a refusal. */
  answer: (body?: unknown, status?: number) => Promise<void>
  /** The way to the server breaks. */
  fail: () => Promise<void>
}

export const settled = async (): Promise<void> => {
  for (let i = 0; i < 20; i++) await Promise.resolve()
  await new Promise((resolve) => setTimeout(resolve))
  for (let i = 0; i < 20; i++) await Promise.resolve()
}

/** Takes the place of `fetch`; what was sent waits in `sent` until it is answered. */
export function fakeServer() {
  const sent: Sent[] = []
  vi.stubGlobal('fetch', async (input: RequestInfo | URL, init?: RequestInit) => {
    const request =
      input instanceof Request ? input : new Request(new URL(String(input), location.href), init)
    const text = await request.text()
    return new Promise<Response>((resolve, reject) => {
      const signal = init?.signal ?? request.signal
      signal?.addEventListener('abort', () => reject(new DOMException('aborted', 'AbortError')))
      sent.push({
        method: request.method,
        path: new URL(request.url).pathname,
        body: text ? (JSON.parse(text) as unknown) : null,
        async answer(body = null, status = 200) {
          const content = status === 204 ? null : JSON.stringify(body)
          resolve(
            new Response(content, { status, headers: { 'content-type': 'application/json' } }),
          )
          await settled()
        },
        async fail() {
          reject(new TypeError('no way there'))
          await settled()
        },
      })
    })
  })
  /** The one request that waits, or the one of a method and a path. */
  const next = (method: string, path: string | RegExp): Sent => {
    const found = sent.findIndex(
      (one) =>
        one.method === method &&
        (typeof path === 'string' ? one.path === path : path.test(one.path)),
    )
    if (found < 0)
      throw new Error(`Nothing sent ${method} ${String(path)}: ${sent.map((s) => s.path).join()}`)
    return sent.splice(found, 1)[0]
  }
  return { sent, next }
}
