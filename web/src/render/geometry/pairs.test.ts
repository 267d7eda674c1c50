import { describe, expect, it } from 'vitest'
import { around, sorted, type Between } from './pairs'

// Numbers that look like chance, and are the same each time.
let state = 29
const chance = (): number => (state = (state * 16_807) % 2_147_483_647) / 2_147_483_647

const within = (value: number, [a, b]: Between): boolean =>
  value >= Math.min(a, b) && value <= Math.max(a, b)

const LARGE = 1e308

describe('pairs by the cells of a grid', () => {
  it.each([
    ['chance', chance],
    ['steps', () => Math.round(10 * chance())],
    ['one value', () => 4],
    ['very far apart', () => (chance() - 0.5) * 1e300],
    ['further apart than a number is large', () => (chance() < 0.5 ? -LARGE : LARGE)],
    ['very near', () => 1 + chance() * 1e-15],
  ])('around boxes are all that lie in them, each once: %s', (_name, make) => {
    const u = Float64Array.from({ length: 900 }, make)
    const v = Float64Array.from({ length: 900 }, make)
    u[3] = NaN
    v[4] = -Infinity
    const grid = sorted(u, v)
    const pick = (values: Float64Array): number => values[Math.floor(chance() * values.length)]
    for (let trial = 0; trial < 40; trial++) {
      const boxes = Array.from({ length: 1 + (trial % 3) }, (): [Between, Between] => [
        [pick(u), trial % 5 ? pick(u) : Infinity],
        [pick(v), pick(v)],
      ])
      const found = [...around(grid, boxes)]
      const once = new Set(found)
      expect(once.size).toBe(found.length)
      const lies = (i: number): boolean =>
        Number.isFinite(v[i]) && boxes.some(([a, b]) => within(u[i], a) && within(v[i], b))
      const missed = [...u.keys()].filter((i) => lies(i) && !once.has(i))
      expect(missed).toEqual([])
    }
  })

  it('leave out most of those that lie elsewhere', () => {
    const u = Float64Array.from({ length: 10_000 }, chance)
    const v = Float64Array.from({ length: 10_000 }, chance)
    const found = around(sorted(u, v), [
      [
        [0.2, 0.3],
        [0.5, 0.6],
      ],
    ])
    expect(found.length).toBeLessThan(200)
  })
})
