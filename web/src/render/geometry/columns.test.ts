import { describe, expect, it } from 'vitest'
import { inOrder, inTurn, mapped } from './columns'

describe('columns', () => {
  it('are put in order by counting as by comparing', () => {
    for (let turn = 0; turn < 40; turn++) {
      const count = 1 + (turn % 7)
      const ranks = Array.from({ length: turn * 3 }, (_, i) => (i * i + turn * 5) % count)
      const compared = [...ranks.keys()].sort((a, b) => ranks[a] - ranks[b] || a - b)
      expect([...inOrder(ranks, count)]).toEqual(compared)
    }
  })

  it('are made of other columns', () => {
    expect([...mapped(Float64Array.of(1, NaN, 3), (v) => 2 * v)]).toEqual([2, NaN, 6])
    expect([...inTurn(3)]).toEqual([0, 1, 2])
  })
})
