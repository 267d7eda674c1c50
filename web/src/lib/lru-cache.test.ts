import { describe, expect, it } from 'vitest'
import { lruCache } from './lru-cache'

describe('things made lately', () => {
  it('are made once while they are used, and the one used longest ago is let go', () => {
    const made: string[] = []
    const kept = lruCache<string, string>(2)
    const of = (key: string) => kept.of(key, () => (made.push(key), key.toUpperCase()))
    expect([of('a'), of('b'), of('a'), of('c'), of('a'), of('b')]).toEqual([...'ABACAB'])
    expect(made).toEqual([...'abcb'])
  })

  it('never are more than so many', () => {
    const alive = new Set<number>()
    const kept = lruCache<number, number>(5)
    for (let i = 0; i < 1000; i++) alive.add(kept.of(i % 7, () => i))
    let again = 0
    for (let key = 0; key < 7; key++) kept.of(key, () => again++)
    expect(again).toBeGreaterThanOrEqual(2)
  })

  it('are made anew where they were dropped', () => {
    const kept = lruCache<string, object>(3)
    const first = kept.of('a', () => ({}))
    kept.drop('a')
    expect(kept.of('a', () => ({}))).not.toBe(first)
  })
})
