/** Runs async jobs one at a time; a job is skipped when its caller has aborted before its turn. */
export function serialQueue() {
  let last: Promise<unknown> = Promise.resolve()

  return <Result>(job: () => Promise<Result>, signal: AbortSignal): Promise<Result> => {
    const run = (): Promise<Result> => {
      signal.throwIfAborted()
      return job()
    }
    const result = last.then(run, run)
    last = result
    return result
  }
}
