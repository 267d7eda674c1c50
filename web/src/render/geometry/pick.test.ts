import { describe, expect, it } from 'vitest'
import { distanceToLine, indexMarks } from './pick'

const BOX = { x: 10, y: 20, width: 300, height: 200 }

/** A sequence that is the same every time. */
function places(count: number): { x: Float32Array; y: Float32Array } {
  let seed = 12345
  const next = () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648
  const x = Float32Array.from({ length: count }, () => 10 + 300 * next())
  const y = Float32Array.from({ length: count }, () => 20 + 200 * next())
  return { x, y }
}

describe('the mark under the pointer', () => {
  it('is the one that lies on top, where depth says which is seen', () => {
    // A large mark drawn last covers a small one behind it.
    const [x, y] = [Float32Array.of(100, 101, 200), Float32Array.of(100, 100, 100)]
    const radius = (i: number): number => [3, 8, 8][i]
    expect(indexMarks(x, y, BOX, radius).nearest(100, 100, 5)).toBe(0)
    expect(indexMarks(x, y, BOX, radius, true).nearest(100, 100, 5)).toBe(1)
    // Beside all marks the nearest edge counts, as ever.
    expect(indexMarks(x, y, BOX, radius, true).nearest(112, 100, 5)).toBe(1)
    expect(indexMarks(x, y, BOX, radius, true).nearest(150, 100, 5)).toBe(-1)
  })

  it('is the nearest one, as a look at every mark finds it', () => {
    const { x, y } = places(500)
    const index = indexMarks(x, y, BOX)
    for (let k = 0; k < 200; k++) {
      const [px, py] = [10 + ((k * 37) % 300), 20 + ((k * 53) % 200)]
      let least = Infinity
      for (let i = 0; i < x.length; i++) least = Math.min(least, Math.hypot(x[i] - px, y[i] - py))
      const found = index.nearest(px, py, 8)
      if (least > 8) expect(found).toBe(-1)
      else expect(Math.hypot(x[found] - px, y[found] - py)).toBeCloseTo(least, 4)
    }
  })

  it('is the one drawn last where several lie on one place', () => {
    const index = indexMarks(Float32Array.of(50, 50, 90), Float32Array.of(50, 50, 90), BOX)
    expect(index.nearest(51, 50, 5)).toBe(1)
  })

  it('is not one outside the box, and there may be none at all', () => {
    const index = indexMarks(Float32Array.of(5), Float32Array.of(50), BOX)
    expect(index.nearest(11, 50, 20)).toBe(-1)
    expect(indexMarks(new Float32Array(), new Float32Array(), BOX).nearest(50, 50, 9)).toBe(-1)
  })
})

describe('distance to a line', () => {
  const line = Float64Array.of(0, 0, 10, 0, 10, 10)
  it.each([
    [5, 3, 3],
    [13, 5, 3],
    [-3, -4, 5],
    [10, 14, 4],
  ])('from (%d, %d) is %d', (x, y, distance) => {
    expect(distanceToLine(line, x, y)).toBeCloseTo(distance)
  })
})
