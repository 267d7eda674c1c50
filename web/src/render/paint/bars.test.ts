import { describe, expect, it } from 'vitest'
import type { MarkBars, MarkLook } from '@/render/scene'
import { overBars } from './bars'
import { atOnce, rasterising } from './rasterise'

const WIDTH = 90
const HEIGHT = 60
const SCALE = 2
const look = (red: number): MarkLook => ({
  shape: 'disc',
  size: 0.01,
  colour: [red, 0, 0],
  opacity: 0,
  hollow: false,
  halo: 0,
  edge: null,
})

// Numbers that look like chance, and are the same each time.
let state = 11
const chance = (): number => (state = (state * 16_807) % 2_147_483_647) / 2_147_483_647

describe('very many error bars', () => {
  it.each(['x', 'y'] as const)(
    'cover what each of them covers, and nothing else, along %s',
    (side) => {
      const count = 120
      const [breadth, length] = side === 'x' ? [HEIGHT, WIDTH] : [WIDTH, HEIGHT]
      const places = Float32Array.from(
        { length: count },
        () => (chance() * 1.2 - 0.1) * (breadth / SCALE),
      )
      const low = Float32Array.from({ length: count }, (_, i) =>
        i === 5 ? -Infinity : (chance() * 1.2 - 0.1) * (length / SCALE),
      )
      const high = low.map((v, i) => (i % 10 ? v + chance() * 12 : i ? NaN : Infinity))
      const bars: MarkBars = {
        side,
        low,
        high,
        columns: { low: new Float64Array(), high: new Float64Array() },
        cap: 5,
        width: 1,
      }
      const item = {
        x: places,
        y: places,
        look: Uint16Array.from(places, (_, i) => i % 2),
        looks: [look(100), look(200)],
        paper: [255, 255, 255] as const,
        bars: [bars],
      }
      const made = atOnce(overBars(rasterising))(item as never, WIDTH, HEIGHT, SCALE)
      const covered = [new Set<number>(), new Set<number>()]
      const cover = (colour: number, column: number, row: number): void => {
        if (column >= 0 && row >= 0 && column < WIDTH && row < HEIGHT)
          covered[colour].add(row * WIDTH + column)
      }
      const put = (i: number, along: number, across: number): void =>
        side === 'x' ? cover(i % 2, along, across) : cover(i % 2, across, along)
      for (let i = 0; i < count; i++) {
        if (Number.isNaN(low[i]) || Number.isNaN(high[i])) continue
        const at = places[i] * SCALE
        const [from, to] = [Math.round(low[i] * SCALE), Math.round(high[i] * SCALE)]
        for (let pen = 0; pen < 2; pen++) {
          for (let k = Math.max(from, -9); k < Math.min(to, 999); k++)
            put(i, k, Math.round(at - 1) + pen)
          for (const end of [from, to])
            for (let k = Math.round(at - 5); k < Math.round(at + 5); k++) put(i, end - 1 + pen, k)
        }
      }
      for (let p = 0; p < made.data.length; p++) {
        const [first, second] = covered.map((one) => one.has(p))
        const [red, alpha] = [made.data[p] & 255, made.data[p] >>> 24]
        if (!first && !second) expect(alpha).toBe(0)
        else if (!second) expect([red, alpha]).toEqual([100, 217])
        else if (!first) expect([red, alpha]).toEqual([200, 217])
        else {
          // The second over what is left of the first: 0.85 of 200, 0.15 of 0.85 of 100.
          expect(alpha).toBe(249)
          expect(Math.abs(red - 187)).toBeLessThan(2)
        }
      }
      expect(covered[0].size).toBeGreaterThan(500)
    },
  )

  it('lie under their marks', () => {
    const bars: MarkBars = {
      side: 'y',
      low: Float32Array.of(2),
      high: Float32Array.of(28),
      columns: { low: new Float64Array(), high: new Float64Array() },
      cap: 0,
      width: 1,
    }
    const solid = { ...look(50), size: 8, opacity: 1 }
    const item = {
      x: Float32Array.of(20),
      y: Float32Array.of(15),
      look: Uint16Array.of(0),
      looks: [solid],
      paper: [255, 255, 255] as const,
      bars: [bars],
    }
    const { data } = atOnce(overBars(rasterising))(item as never, WIDTH, HEIGHT, SCALE)
    expect([
      data[30 * WIDTH + 40] >>> 24,
      data[8 * WIDTH + 40] >>> 24,
      data[30 * WIDTH + 60],
    ]).toEqual([255, 217, 0])
  })
})
