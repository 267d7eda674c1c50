import { describe, expect, it } from 'vitest'
import { shelfOf } from './ridgelines'

describe('distributions of several groups in one strip', () => {
  it('fill the strip alone, and are told apart by outlines while there are two or three', () => {
    expect(shelfOf(0, 1, 46)).toMatchObject({ ground: 0, tall: 46 })
    expect(shelfOf(0, 1, 46).tint).toBeGreaterThan(0)
    for (const groups of [2, 3])
      for (let i = 0; i < groups; i++)
        expect(shelfOf(i, groups, 46)).toEqual({ ground: 0, tall: 46, tint: 0, covers: false })
  })

  it.each([4, 8, 20])('stand each on a shelf of its own, %i of them within the strip', (groups) => {
    const shelves = Array.from({ length: groups }, (_, i) => shelfOf(i, groups, 72))
    expect(shelves[groups - 1].ground).toBe(0)
    expect(shelves[0].ground + shelves[0].tall).toBeCloseTo(72)
    for (let i = 1; i < groups; i++) {
      // What stands before covers what is behind it: no two fills mix.
      expect(shelves[i].ground).toBeLessThan(shelves[i - 1].ground)
      expect(shelves[i].covers).toBe(true)
    }
  })
})
