import { describe, expect, it } from 'vitest'
import { MarkIndex } from './mark-index'

const IDENTITY = { from: 0, factor: 1, start: 0 }
const LAID = { from: 40, factor: 1.5, start: 12 }

/** A sequence that is the same every time. */
function random(seed: number): () => number {
  return () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648
}

describe('marks under a box', () => {
  it('are as many as there are by looking at each', () => {
    const next = random(11)
    const spread = (count: number, from: number, to: number) =>
      Float32Array.from({ length: count }, () => from + (to - from) * next())
    for (let trial = 0; trial < 60; trial++) {
      const [x, y, radius] = [spread(400, -80, 700), spread(400, -80, 500), spread(400, 0.5, 14)]
      x[7] = NaN
      y[9] = Infinity
      const box = () => ({
        x: 600 * next() - 40,
        y: 400 * next() - 40,
        width: 90 * next(),
        height: 20 * next(),
      })
      const near = Array.from({ length: 1 + (trial % 4) }, box)
      const marks = new MarkIndex(
        {
          u: x,
          v: y,
          across: LAID,
          down: LAID,
          radius: (i) => radius[i],
          widest: Math.max(...radius),
        },
        near,
      )
      const asked = near.flatMap((one) => [one, { ...one, width: one.width / 2, y: one.y + 1 }])
      for (const { height, ...one } of asked) {
        const within = { ...one, height: height / 2 }
        let count = 0
        for (let i = 0; i < x.length; i++) {
          const [px, py] = [12 + 1.5 * (x[i] - 40), 12 + 1.5 * (y[i] - 40)]
          const dx = Math.max(within.x - px, 0, px - within.x - within.width)
          const dy = Math.max(within.y - py, 0, py - within.y - within.height)
          if (Math.hypot(dx, dy) < radius[i]) count++
        }
        expect(marks.under(within)).toBe(count)
      }
    }
  })

  it('are none where nothing is asked about', () => {
    const round = { u: [1], v: [1], across: IDENTITY, down: IDENTITY, radius: () => 5, widest: 5 }
    expect(new MarkIndex(round, []).under({ x: 0, y: 0, width: 9, height: 9 })).toBe(0)
  })
})
