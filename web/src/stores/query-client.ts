/** One cache of what the server answers, and a place where stores ask for what is open. */
import { CancelledError, QueryClient } from '@tanstack/vue-query'
import { Problem } from '@/api/client'

export type Key = readonly unknown[]

const A_MINUTE = 60_000
const TRIES = 2

/** Whether the same request may succeed a little later. */
const isPassing = (error: unknown): boolean =>
  error instanceof Problem && (error.status === 0 || error.status === 503)

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: Infinity,
      gcTime: 5 * A_MINUTE,
      networkMode: 'always',
      refetchOnWindowFocus: false,
      retry: (failures, error) => failures < TRIES && isPassing(error),
    },
  },
})

/** Whether a question was given up, because another took its place. */
export const isSuperseded = (error: unknown): boolean =>
  error instanceof CancelledError || (error instanceof DOMException && error.name === 'AbortError')

export interface Question<T> {
  key: Key
  ask: (signal: AbortSignal) => Promise<T>
}

/**
 * Makes a place where a store asks for what is open: answers that come after others were asked for
 * count for nothing, and what is wanted no more is stopped.
 *
 * @param keptFor how long an answer is kept that nobody wants just now, in milliseconds
 */
export function latestQuestions(keptFor = 0) {
  let open: Key[] = []
  let turn = 0

  /** @returns how each ended; null where others were asked meanwhile */
  async function ask<T>(questions: Question<T>[]): Promise<PromiseSettledResult<T>[] | null> {
    const mine = ++turn
    const wanted = new Set(questions.map(({ key }) => JSON.stringify(key)))
    stop(open.filter((key) => !wanted.has(JSON.stringify(key))))
    open = questions.map(({ key }) => key)
    const ended = await Promise.allSettled(
      questions.map(({ key, ask }) =>
        queryClient.fetchQuery({
          queryKey: key,
          queryFn: ({ signal }) => ask(signal),
          gcTime: keptFor,
        }),
      ),
    )
    if (turn !== mine) return null
    open = []
    for (const one of ended) {
      if (one.status === 'fulfilled' || one.reason instanceof Problem) continue
      if (isSuperseded(one.reason)) return null
      throw one.reason
    }
    return ended
  }

  /** @returns the answer to one question; null where another was asked meanwhile */
  async function askOne<T>(question: Question<T>): Promise<T | null> {
    const [ended] = (await ask([question])) ?? []
    if (!ended) return null
    if (ended.status === 'rejected') throw ended.reason
    return ended.value
  }

  /** Wants nothing any more. */
  function drop(): void {
    turn++
    stop(open)
    open = []
  }

  return { ask, askOne, drop, isOpen: () => open.length > 0 }
}

function stop(keys: readonly Key[]): void {
  for (const queryKey of keys) void queryClient.cancelQueries({ queryKey, exact: true })
}
