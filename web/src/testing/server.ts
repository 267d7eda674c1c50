/** A server for tests that answers when it is told to: late, in another order, or with a refusal. */
import { tableFromArrays, tableToIPC } from 'apache-arrow'
import { vi } from 'vitest'

export interface Sent {
  method: string
  path: string
  /** The revision or version over which it is written. */
  over: string | null
  body: unknown
  /** Answers; `problem` for a refusal. */
  answer: (body?: unknown, status?: number) => Promise<void>
  /** The way to the server breaks. */
  fail: () => Promise<void>
}

/** That of the machine, also where a test turns the clock itself. */
const waitTruly = globalThis.setTimeout

export const settled = async (): Promise<void> => {
  for (let i = 0; i < 20; i++) await Promise.resolve()
  await new Promise((resolve) => waitTruly(resolve))
  for (let i = 0; i < 20; i++) await Promise.resolve()
}

/** What is drawn of a document that was asked for: one mark, and what the test wants to be said. */
export function answerParts(answer: unknown): FormData {
  const mark = { row: [0], x: [1], y: [2], aside: [0] }
  const parts = new FormData()
  parts.set('answer', JSON.stringify(answer))
  const columns = Object.fromEntries(
    Object.entries(mark).map(([name, values]) => [name, Float64Array.from(values)]),
  )
  parts.set(
    'marks',
    new Blob([tableToIPC(tableFromArrays(columns), 'stream') as BlobPart]),
    'marks',
  )
  return parts
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
        over: request.headers.get('if-match'),
        body: text ? (JSON.parse(text) as unknown) : null,
        async answer(body = null, status = 200) {
          const content = status === 204 ? null : JSON.stringify(body)
          resolve(
            body instanceof FormData
              ? new Response(body)
              : new Response(content, { status, headers: { 'content-type': 'application/json' } }),
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
