import { describe, expect, it } from 'vitest'
import { flagged } from './flags'

describe('rows among some', () => {
  it('are told apart whatever their numbers are', () => {
    const rows = Uint32Array.of(7, 0, 3, 4_294_967_295, 3)
    expect([...flagged(rows, new Set([3, 7]))]).toEqual([1, 0, 1, 0, 1])
    expect([...flagged(rows, new Set([4_294_967_295]))]).toEqual([0, 0, 0, 1, 0])
    expect([...flagged(rows, new Set())]).toEqual([0, 0, 0, 0, 0])
    expect([...flagged(rows, new Set([0]))]).toEqual([0, 1, 0, 0, 0])
  })
})
