/** Questions that are put one after another, and only while somebody waits for the answer. */

/** A question in its turn. */
export interface Turn<Answer> {
  answered: Promise<Answer>
  /** Waits for the answer too, until the signal says that it is not wanted any more. */
  wait: (signal: AbortSignal) => Promise<Answer>
}

/**
 * Makes a row of questions. What is put there is asked when all before it are answered; a question
 * that nobody waits for then is not asked: it fails with an `AbortError`.
 */
export function inTurn() {
  let before: Promise<unknown> = Promise.resolve()

  return <Answer>(ask: () => Promise<Answer>): Turn<Answer> => {
    const waiting: AbortSignal[] = []
    const go = (): Promise<Answer> => {
      if (waiting.every(({ aborted }) => aborted))
        throw new DOMException('nobody waits for it', 'AbortError')
      return ask()
    }
    const answered = before.then(go, go)
    before = answered
    return {
      answered,
      wait(signal) {
        waiting.push(signal)
        return answered
      },
    }
  }
}
