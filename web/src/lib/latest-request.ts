/**
 * One question at a time: an answer that comes after another question was put counts for nothing.
 */

/** What a question that was superseded answers. */
export const SUPERSEDED = Symbol('superseded')

/**
 * Makes a place for one question. `ask` puts a question there and gives its answer, or `SUPERSEDED`
 * where another was put meanwhile; `drop` lets go of the one that is open. A failure of a question
 * that was superseded is none.
 */
export function latestRequest() {
  let open: AbortController | null = null

  async function ask<T>(
    question: (signal: AbortSignal) => Promise<T>,
  ): Promise<T | typeof SUPERSEDED> {
    open?.abort()
    const mine = (open = new AbortController())
    try {
      const answer = await question(mine.signal)
      return mine.signal.aborted ? SUPERSEDED : answer
    } catch (error) {
      if (mine.signal.aborted) return SUPERSEDED
      throw error
    } finally {
      if (open === mine) open = null
    }
  }

  function drop(): void {
    open?.abort()
    open = null
  }

  return { ask, drop, isOpen: () => open !== null }
}
