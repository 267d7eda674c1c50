import { describe, expect, it } from 'vitest'
import { inTurn } from './in-turn'

/** Questions whose answers are given by hand. */
function questions() {
  const asked: string[] = []
  const answers = new Map<string, (answer: string) => void>()
  const ask = (name: string) => () => {
    asked.push(name)
    return new Promise<string>((answer) => answers.set(name, answer))
  }
  return { asked, ask, answer: (name: string) => answers.get(name)!(`${name}!`) }
}

const settled = () => new Promise((then) => setTimeout(then))

describe('questions in turn', () => {
  it('are asked one after another, also after one that failed', async () => {
    const { asked, ask, answer } = questions()
    const put = inTurn()
    const { signal } = new AbortController()
    const a = put(ask('a')).wait(signal)
    const failing = put(() => Promise.reject(new Error('no'))).wait(signal)
    const b = put(ask('b')).wait(signal)
    const refused = expect(failing).rejects.toThrow('no')
    await settled()
    expect(asked).toEqual(['a'])
    answer('a')
    expect(await a).toBe('a!')
    await refused
    await settled()
    expect(asked).toEqual(['a', 'b'])
    answer('b')
    expect(await b).toBe('b!')
  })

  it('are not asked where nobody waits any more, and asked where somebody else still does', async () => {
    const { asked, ask, answer } = questions()
    const put = inTurn()
    const [gone, here] = [new AbortController(), new AbortController()]
    const first = put(ask('first')).wait(here.signal)
    const left = put(ask('left')).wait(gone.signal)
    const shared = put(ask('shared'))
    const both = [shared.wait(gone.signal), shared.wait(here.signal)]
    const refused = expect(left).rejects.toMatchObject({ name: 'AbortError' })
    await settled()
    gone.abort()
    answer('first')
    await first
    await refused
    await settled()
    expect(asked).toEqual(['first', 'shared'])
    answer('shared')
    expect(await Promise.all(both)).toEqual(['shared!', 'shared!'])
  })
})
