import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Problem } from '@/api/client'
import { useSaving } from './saving'

interface Sent {
  text: string
  revision: number
  keepalive: boolean
}

/** A server that answers when it is told to. */
function server() {
  const sent: Sent[] = []
  const waiting: { resolve: () => void; reject: (error: unknown) => void }[] = []
  const kept: number[] = []
  const saver = useSaving<string, { id: string; revision: number }>(
    (id, text, revision, keepalive) => {
      sent.push({ text, revision, keepalive })
      return new Promise((resolve, reject) =>
        waiting.push({ resolve: () => resolve({ id, revision: revision + 1 }), reject }),
      )
    },
    ({ revision }) => kept.push(revision),
  )
  return {
    saver,
    sent,
    kept,
    answer: async () => {
      waiting.shift()!.resolve()
      await vi.advanceTimersByTimeAsync(0)
    },
    refuse: async (error: unknown) => {
      waiting.shift()!.reject(error)
      await vi.advanceTimersByTimeAsync(0)
    },
  }
}

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

describe('saving as one edits', () => {
  it('waits until the hand rests, and sends the last of quick changes', async () => {
    const { saver, sent, answer, kept } = server()
    saver.begin('f', 'one', 3)
    saver.changed('two')
    await vi.advanceTimersByTimeAsync(100)
    saver.changed('three')
    expect(saver.state.value).toBe('saving')
    await vi.advanceTimersByTimeAsync(240)
    expect(sent).toEqual([])
    await vi.advanceTimersByTimeAsync(20)
    expect(sent).toEqual([{ text: 'three', revision: 3, keepalive: false }])
    await answer()
    expect(saver.state.value).toBe('saved')
    expect(kept).toEqual([4])
  })

  it('sends what changed meanwhile after the first answer, over its revision', async () => {
    const { saver, sent, answer } = server()
    saver.begin('f', 'one', 3)
    saver.changed('two')
    await vi.advanceTimersByTimeAsync(300)
    saver.changed('three')
    await vi.advanceTimersByTimeAsync(300)
    expect(sent).toHaveLength(1)
    await answer()
    expect(sent[1]).toEqual({ text: 'three', revision: 4, keepalive: false })
    expect(saver.state.value).toBe('saving')
    await answer()
    expect(saver.state.value).toBe('saved')
  })

  it('keeps to what was taken back while its save was under way, whatever is opened then', async () => {
    const { saver, sent, answer } = server()
    saver.begin('f', 'one', 3)
    saver.changed('two')
    await vi.advanceTimersByTimeAsync(300)
    saver.changed('one')
    saver.begin('g', 'other', 1)
    expect(saver.begin('f', 'one', 3)).toBe('one')
    await answer()
    expect(sent[1]).toEqual({ text: 'one', revision: 4, keepalive: false })
  })

  it('takes its own save, whose answer never came, for no conflict', async () => {
    const sent: number[] = []
    let revision = 3
    let text = 'one'
    const saver = useSaving<string, { id: string; revision: number }>(
      async (id, next, over) => {
        sent.push(over)
        if (over !== revision) throw new Problem(412, 'Changed.')
        text = next
        revision += 1
        if (sent.length === 1) throw new Problem(0, 'The answer is lost.')
        return { id, revision }
      },
      () => undefined,
      'documents',
      async (id) => ({ id, revision, document: text }),
    )
    saver.begin('f', 'one', 3)
    saver.changed('two')
    await vi.advanceTimersByTimeAsync(300)
    expect([text, saver.state.value]).toEqual(['two', 'failed'])
    // Also where it was changed back: the server does not have what is here.
    saver.changed('one')
    await vi.advanceTimersByTimeAsync(300)
    expect([text, saver.state.value, sent]).toEqual(['one', 'saved', [3, 3, 4]])
  })

  it('tries again where the server cannot be reached', async () => {
    const { saver, sent, refuse, answer } = server()
    saver.begin('f', 'one', 1)
    saver.changed('two')
    await vi.advanceTimersByTimeAsync(300)
    await refuse(new Problem(0, 'The server cannot be reached.'))
    expect(saver.state.value).toBe('failed')
    await vi.advanceTimersByTimeAsync(3000)
    expect(sent).toHaveLength(2)
    await answer()
    expect(saver.state.value).toBe('saved')
  })

  it('never goes over what someone else saved, unless it is told to', async () => {
    const { saver, sent, refuse, answer } = server()
    saver.begin('f', 'one', 1)
    saver.changed('mine')
    await vi.advanceTimersByTimeAsync(300)
    await refuse(new Problem(412, 'Saved elsewhere.'))
    expect(saver.state.value).toBe('outdated')
    saver.changed('mine still')
    await vi.advanceTimersByTimeAsync(5000)
    expect(sent).toHaveLength(1)
    expect(saver.state.value).toBe('outdated')
    void saver.insist(7)
    await vi.advanceTimersByTimeAsync(0)
    expect(sent[1]).toEqual({ text: 'mine still', revision: 7, keepalive: false })
    await answer()
    expect(saver.state.value).toBe('saved')
  })

  it('sends the last change on its way where the page goes away', async () => {
    const { saver, sent, answer } = server()
    saver.begin('f', 'one', 1)
    saver.leave()
    expect(sent).toEqual([])
    saver.changed('two')
    saver.leave()
    expect(sent).toEqual([{ text: 'two', revision: 1, keepalive: true }])
    await answer()
  })

  it('saves at once what waits, before another document is opened', async () => {
    const { saver, sent, answer } = server()
    saver.begin('f', 'one', 1)
    saver.changed('two')
    const flushed = saver.flush()
    await vi.advanceTimersByTimeAsync(0)
    expect(sent).toHaveLength(1)
    await answer()
    await flushed
    saver.begin('g', 'other', 5)
    await vi.advanceTimersByTimeAsync(1000)
    expect(sent).toHaveLength(1)
  })
})

describe('what cannot be saved', () => {
  it('is kept and tried again though another document is opened meanwhile', async () => {
    const { saver, sent, refuse, answer } = server()
    saver.begin('f', 'one', 1)
    saver.changed('two')
    await vi.advanceTimersByTimeAsync(300)
    await refuse(new Problem(0, 'The server cannot be reached.'))
    expect(saver.begin('g', 'other', 5)).toBe('other')
    expect(saver.state.value).toBe('failed')
    // Come back to, it is as it was left.
    expect(saver.begin('f', 'one', 1)).toBe('two')
    await vi.advanceTimersByTimeAsync(3000)
    expect(sent.at(-1)).toEqual({ text: 'two', revision: 1, keepalive: false })
    await answer()
    expect(saver.state.value).toBe('saved')
  })

  it('is not sent again as it is where the server will not take it', async () => {
    const { saver, sent, refuse, answer } = server()
    saver.begin('f', 'one', 1)
    saver.changed('odd')
    await vi.advanceTimersByTimeAsync(300)
    await refuse(new Problem(422, 'The request is not valid.'))
    expect(saver.state.value).toBe('refused')
    expect(saver.refusal.value).toBe('The request is not valid.')
    await vi.advanceTimersByTimeAsync(20_000)
    expect(sent).toHaveLength(1)
    saver.changed('better')
    await vi.advanceTimersByTimeAsync(300)
    await answer()
    expect(saver.state.value).toBe('saved')
    expect(saver.refusal.value).toBe('')
  })

  it('says of what was deleted elsewhere that it was, and not by which id', async () => {
    const { saver, refuse } = server()
    saver.begin('f', 'one', 3)
    saver.changed('two')
    await vi.advanceTimersByTimeAsync(300)
    await refuse(new Problem(404, "There is no figure 'f'; it may have been deleted."))
    expect(saver.state.value).toBe('refused')
    expect(saver.refusal.value).toBe('this was deleted in another tab or window.')
  })

  it('is nothing where a change was taken back before it was sent', async () => {
    const { saver, sent } = server()
    saver.begin('f', 'one', 1)
    saver.changed('two')
    saver.changed('one')
    await vi.advanceTimersByTimeAsync(5000)
    expect(sent).toEqual([])
    expect(saver.state.value).toBe('saved')
  })

  it('is said no more where a change was taken back just before another document is opened', async () => {
    const { saver, sent } = server()
    saver.begin('f', 'one', 1)
    saver.changed('two')
    saver.changed('one')
    // As a store leaves a document: what waits is sent, then it is closed.
    void saver.flush()
    saver.end()
    saver.begin('g', 'other', 1)
    await vi.advanceTimersByTimeAsync(1000)
    expect(sent).toEqual([])
    expect(saver.state.value).toBe('saved')
  })

  it('waits in the browser where it is too long for a page that goes away', async () => {
    const kept = new Map<string, string>()
    vi.stubGlobal('localStorage', {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, text: string) => kept.set(key, text),
      removeItem: (key: string) => kept.delete(key),
    })
    const long = 'x'.repeat(70_000)
    const first = server()
    first.saver.begin('f', 'one', 1)
    first.saver.changed(long)
    first.saver.leave()
    expect(first.sent).toEqual([])
    // Opened again: over the same revision it is restored, over another it is not.
    const again = server()
    expect(again.saver.begin('f', 'one', 1)).toBe(long)
    await vi.advanceTimersByTimeAsync(300)
    expect(again.sent[0].text).toBe(long)
    await again.answer()
    first.saver.leave()
    // Someone else saved meanwhile: what was left is not lost, and whoever opens it chooses.
    const late = server().saver
    expect(late.begin('f', 'theirs', 2)).toBe(long)
    expect(late.state.value).toBe('outdated')
    vi.unstubAllGlobals()
  })
})

/** A server that holds one document, and answers what is asked of it by hand. */
function holder(text = 'one') {
  const state = { text, revision: 1 }
  const waiting: (() => void)[] = []
  const sent: Sent[] = []
  const saver = useSaving<string, { id: string; revision: number; document: string }>(
    (id, document, revision, keepalive) => {
      sent.push({ text: document, revision, keepalive })
      return new Promise((resolve, reject) =>
        waiting.push(() => {
          if (revision !== state.revision) return reject(new Problem(412, 'elsewhere'))
          Object.assign(state, { text: document, revision: revision + 1 })
          resolve({ id, revision: state.revision, document })
        }),
      )
    },
    () => undefined,
    'figure',
    (id) => Promise.resolve({ id, revision: state.revision, document: state.text }),
  )
  const answer = async (): Promise<void> => {
    waiting.shift()?.()
    await vi.advanceTimersByTimeAsync(0)
  }
  return { saver, state, sent, answer }
}

describe('a page that goes away', () => {
  beforeEach(() => {
    const kept = new Map<string, string>()
    vi.stubGlobal('localStorage', {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, text: string) => kept.set(key, text),
      removeItem: (key: string) => kept.delete(key),
    })
  })
  afterEach(() => void vi.unstubAllGlobals())

  it('and comes back knows its own save, whether its answer came or not', async () => {
    for (const isAnswered of [true, false]) {
      const { saver, state, sent, answer } = holder()
      saver.begin('f', 'one', 1)
      saver.changed('two')
      saver.leave()
      if (isAnswered) await answer()
      else Object.assign(state, { text: 'two', revision: 2 })
      await saver.comeBack()
      await vi.advanceTimersByTimeAsync(1000)
      expect(sent).toEqual([{ text: 'two', revision: 1, keepalive: true }])
      expect(saver.state.value).toBe('saved')
      saver.changed('three')
      await vi.advanceTimersByTimeAsync(300)
      expect(sent.at(-1)).toEqual({ text: 'three', revision: 2, keepalive: false })
    }
  })

  it('and comes back sends what did not arrive', async () => {
    const { saver, sent } = holder()
    saver.begin('f', 'one', 1)
    saver.changed('two')
    saver.leave()
    await saver.comeBack()
    await vi.advanceTimersByTimeAsync(300)
    expect(sent.at(-1)).toEqual({ text: 'two', revision: 1, keepalive: false })
  })

  it('keeps what was undone while its save was on its way', async () => {
    const first = holder('A')
    first.saver.begin('f', 'A', 1)
    first.saver.changed('B')
    await vi.advanceTimersByTimeAsync(300)
    first.saver.changed('A')
    first.saver.leave()
    await first.answer()
    // The server has B by now; the one that opens the figure again finds A.
    const again = holder('B')
    Object.assign(again.state, { revision: 2 })
    expect(again.saver.begin('f', 'B', 2)).toBe('A')
    await vi.advanceTimersByTimeAsync(300)
    await again.answer()
    expect(again.state.text).toBe('A')
  })

  it('keeps what is in conflict with someone else, and is said to be at risk', async () => {
    const { saver, state, answer } = holder()
    saver.begin('f', 'one', 1)
    saver.changed('mine')
    Object.assign(state, { text: 'theirs', revision: 7 })
    await vi.advanceTimersByTimeAsync(300)
    await answer()
    expect([saver.state.value, saver.isAtRisk()]).toEqual(['outdated', true])
    saver.changed('mine, an hour later')
    saver.begin('g', 'other', 1)
    expect(saver.conflicts.value).toEqual(['f'])
    saver.leave()
    const again = holder()
    expect(again.saver.begin('f', 'theirs', 7)).toBe('mine, an hour later')
    expect(again.saver.state.value).toBe('outdated')
  })
})

describe('a document that is not open', () => {
  it('is changed and saved over its own revision', async () => {
    const { saver, sent } = holder()
    saver.begin('open', 'x', 4)
    saver.changeOther('f', 'one', 1, 'two')
    await vi.advanceTimersByTimeAsync(300)
    expect(sent).toEqual([{ text: 'two', revision: 1, keepalive: false }])
    expect(saver.unsaved('f')).toBe('two')
  })
})
