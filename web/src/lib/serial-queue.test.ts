import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { serialQueue } from './serial-queue'

describe('a serial queue', () => {
  it('runs jobs one at a time in their order, skips aborted ones, and outlives failures', async () => {
    const kinds = fc.array(fc.constantFrom('done', 'fails', 'aborted'), { maxLength: 12 })
    await fc.assert(
      fc.asyncProperty(kinds, async (jobs) => {
        const queue = serialQueue()
        const log: string[] = []
        let running = 0
        const results = jobs.map((kind, i) => {
          const caller = new AbortController()
          const result = queue(async () => {
            running += 1
            expect(running).toBe(1)
            await Promise.resolve()
            running -= 1
            log.push(`${kind} ${i}`)
            if (kind === 'fails') throw new Error('no')
            return i
          }, caller.signal)
          if (kind === 'aborted') caller.abort()
          return result
        })
        const settled = await Promise.allSettled(results)
        expect(settled.map(({ status }) => status)).toEqual(
          jobs.map((kind) => (kind === 'done' ? 'fulfilled' : 'rejected')),
        )
        expect(log).toEqual(jobs.flatMap((kind, i) => (kind === 'aborted' ? [] : [`${kind} ${i}`])))
      }),
    )
  })
})
