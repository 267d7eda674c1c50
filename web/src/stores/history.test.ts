import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { blankDocument } from '@/figure-model/blank'
import { useHistory, type Step } from './history'
import { kept } from './testing'

const named = (name: string) => ({ ...blankDocument('t', 'x', 'y'), name })
const step = (id: string, before: string, after: string): Step => ({
  kind: 'figure',
  id,
  before: named(before),
  after: named(after),
})
const table = (before: number, after: number): Step => ({ kind: 'table', id: 't', before, after })

describe('the history of a study', () => {
  beforeEach(() => {
    vi.stubGlobal('sessionStorage', kept())
    vi.stubGlobal('localStorage', kept())
    vi.useFakeTimers()
    setActivePinia(createPinia())
    useHistory().open('study')
  })

  it('takes steps of every kind back in turn, and does them again', () => {
    const history = useHistory()
    history.record(step('f', 'a', 'b'))
    history.record(table(1, 2))
    expect([history.canUndo, history.canRedo]).toEqual([true, false])
    expect(history.move(-1)).toEqual(table(1, 2))
    expect(history.move(-1)).toEqual(step('f', 'a', 'b'))
    expect(history.move(-1)).toBeNull()
    expect(history.move(1)).toEqual(step('f', 'a', 'b'))
    expect([history.canUndo, history.canRedo]).toEqual([true, true])
  })

  it('forgets what was undone when something else is done', () => {
    const history = useHistory()
    history.record(table(1, 2))
    history.move(-1)
    history.record(table(1, 3))
    expect(history.canRedo).toBe(false)
    expect(history.move(-1)).toEqual(table(1, 3))
  })

  it('makes one step of quick changes of one control', () => {
    const history = useHistory()
    history.record(step('f', 'a', 'b'), 'size')
    vi.advanceTimersByTime(100)
    history.record(step('f', 'b', 'c'), 'size')
    expect(history.move(-1)).toEqual(step('f', 'a', 'c'))
    expect(history.canUndo).toBe(false)
  })

  it('makes one step of a press, however long it takes, and another of the next', () => {
    const history = useHistory()
    history.begins()
    history.record(step('f', 'a', 'b'), 'axis')
    vi.advanceTimersByTime(5000)
    history.record(step('f', 'b', 'c'), 'axis')
    vi.advanceTimersByTime(5000)
    history.begins()
    history.record(step('f', 'c', 'd'), 'axis')
    expect(history.move(-1)).toEqual(step('f', 'c', 'd'))
    expect(history.move(-1)).toEqual(step('f', 'a', 'c'))
    // What was undone is not gone on with, in the same press either.
    history.record(step('f', 'a', 'e'), 'axis')
    expect(history.move(-1)).toEqual(step('f', 'a', 'e'))
  })

  it('keeps changes apart that are slow, of another control, or of another figure', () => {
    const history = useHistory()
    history.record(step('f', 'a', 'b'), 'size')
    vi.advanceTimersByTime(700)
    history.record(step('f', 'b', 'c'), 'size')
    history.record(step('f', 'c', 'd'), 'opacity')
    history.record(step('g', 'd', 'e'), 'opacity')
    for (let k = 0; k < 4; k++) expect(history.move(-1)).not.toBeNull()
    expect(history.move(-1)).toBeNull()
  })

  it('is there again after the page was loaded anew, for its own study only', () => {
    useHistory().record(table(1, 2))
    setActivePinia(createPinia())
    const history = useHistory()
    history.open('another')
    expect(history.canUndo).toBe(false)
    history.open('study')
    expect(history.move(-1)).toEqual(table(1, 2))
  })

  it('holds two hundred steps, and fewer where the browser has no room', () => {
    const history = useHistory()
    for (let k = 0; k < 230; k++) history.record(table(k, k + 1))
    let count = 0
    while (history.move(-1)) count++
    expect(count).toBe(200)
    vi.stubGlobal('sessionStorage', kept(4000))
    setActivePinia(createPinia())
    useHistory().open('study')
    for (let k = 0; k < 150; k++) useHistory().record(table(k, k + 1))
    setActivePinia(createPinia())
    useHistory().open('study')
    // The newest are those that are kept.
    expect(useHistory().move(-1)).toEqual(table(149, 150))
  })

  it('writes a step and not all of them', () => {
    const held = kept()
    const writes: string[] = []
    vi.stubGlobal('sessionStorage', {
      ...held,
      setItem: (key: string, text: string) => {
        writes.push(text)
        held.setItem(key, text)
      },
    })
    const history = useHistory()
    history.open('written by steps')
    for (let k = 0; k < 50; k++) history.record(step('f', `name ${k}`, `name ${k + 1}`))
    writes.length = 0
    history.record(step('f', 'name 50', 'name 51'))
    // The step itself, and which steps there are.
    expect(writes).toHaveLength(2)
    expect(writes.join('')).not.toContain('name 49')
    history.move(-1)
    expect(writes).toHaveLength(3)
  })

  it('forgets what is no longer there', () => {
    const history = useHistory()
    history.record(step('gone', 'a', 'b'))
    history.record(table(1, 2))
    history.forget('figure', 'gone')
    expect(history.move(-1)).toEqual(table(1, 2))
    expect(history.canUndo).toBe(false)
  })
})
