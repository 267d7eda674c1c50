/**
 * One question at a time: an answer that comes after another question was put counts for nothing.
 */

/** What a question that was overtaken answers. */
export const OVERTAKEN = Symbol('overtaken')

/**
 * Makes a place for one question. `ask` puts a question there and gives its answer, or `OVERTAKEN`
 * where another was put meanwhile; `drop` lets go of the one that is open. A failure of a question
 * that was overtaken is none.
 */
export function latest() {
  let open: AbortController | null = null

  async function ask<T>(
    question: (signal: AbortSignal) => Promise<T>,
  ): Promise<T | typeof OVERTAKEN> {
    open?.abort()
    const mine = (open = new AbortController())
    try {
      const answer = await question(mine.signal)
      return mine.signal.aborted ? OVERTAKEN : answer
    } catch (error) {
      if (mine.signal.aborted) return OVERTAKEN
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
