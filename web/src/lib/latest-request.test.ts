import { describe, expect, it } from 'vitest'
import { latestRequest, SUPERSEDED } from './latest-request'

/** A question whose answer is given by hand. */
function question<T>() {
  let give!: (answer: T) => void
  let fail!: (error: unknown) => void
  const promise = new Promise<T>((resolve, reject) => ([give, fail] = [resolve, reject]))
  return { ask: () => promise, give, fail }
}

describe('one question at a time', () => {
  it('counts the answer to the last one only, in whatever order answers come', async () => {
    const place = latestRequest()
    const [first, second] = [question<string>(), question<string>()]
    const early = place.ask(first.ask)
    const late = place.ask(second.ask)
    second.give('second')
    expect(await late).toBe('second')
    first.give('first')
    expect(await early).toBe(SUPERSEDED)
    expect(place.isOpen()).toBe(false)
  })

  it('tells a question that was superseded, and passes over its failure', async () => {
    const place = latestRequest()
    const first = question<string>()
    let told = false
    const early = place.ask((signal) => {
      signal.addEventListener('abort', () => (told = true))
      return first.ask()
    })
    place.drop()
    expect(told).toBe(true)
    first.fail(new Error('lost'))
    expect(await early).toBe(SUPERSEDED)
    const other = question<string>()
    const asked = place.ask(other.ask)
    other.fail(new Error('refused'))
    await expect(asked).rejects.toThrow('refused')
  })
})
