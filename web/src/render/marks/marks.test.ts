import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { blankSize } from '@/figure-model/blank'
import type { SizeAnswer } from '@/api/types'
import { diameterOf, largestFirst, roomyLargest, roundValues, SMALLEST } from './bubbles'
import { through } from '@/render/parts/connect'
import { shade } from '@/render/paint/density'
import { jittered, offsetOf, smallestGap } from '@/render/geometry/jitter'
import { indexMarks } from '@/render/geometry/pick'
import type { MarksItem } from '@/render/scene'
import { logTicks } from '@/render/geometry/ticks'

const number = fc.double({ min: 0.001, max: 1e6, noNaN: true })
const answer = (low: number, high: number): SizeAnswer => ({
  variable: { name: 'v', label: 'V', in_sentence: 'v', unit: '', kind: 'number' },
  low,
  high,
  non_positive: 0,
  missing: 0,
})

describe('sizes of bubbles', () => {
  it('follow the value by area, from zero', () => {
    const diameter = diameterOf({ ...blankSize('v'), largest: 40 }, answer(1, 100))
    expect([100, 25, 1].map(diameter)).toEqual([40, 20, 4])
  })

  it('follow it by diameter, or from the smallest value, by choice', () => {
    const byWidth = diameterOf(
      { ...blankSize('v'), largest: 40, measure: 'diameter' },
      answer(1, 100),
    )
    expect(byWidth(50)).toBe(20)
    const fromLeast = diameterOf(
      { ...blankSize('v'), largest: 40, start: 'smallest' },
      answer(50, 100),
    )
    expect([fromLeast(100), fromLeast(62.5), fromLeast(50)]).toEqual([40, 20, SMALLEST])
  })

  it('are the smallest where a value has no size', () => {
    const diameter = diameterOf(blankSize('v'), answer(1, 100))
    expect([0, -4, NaN].map(diameter)).toEqual([SMALLEST, SMALLEST, SMALLEST])
  })

  it('are told by circles at round values that are there', () => {
    expect(roundValues(answer(3, 237))).toEqual([200, 50])
    expect(roundValues(answer(0.1, 9.4))).toEqual([8, 2])
    expect(roundValues(answer(440, 490))).toEqual([490, 440])
    fc.assert(
      fc.property(fc.tuple(number, number), (ends) => {
        const [low, high] = [Math.min(...ends), Math.max(...ends)]
        const shown = roundValues(answer(low, high))
        expect(shown.length).toBeGreaterThan(0)
        expect(shown).toEqual([...new Set(shown)].sort((a, b) => b - a))
        for (const value of shown) {
          expect(value).toBeLessThanOrEqual(high * (1 + 1e-9))
          expect(value).toBeGreaterThanOrEqual(Math.min(low, high) * (1 - 1e-9))
        }
      }),
    )
  })

  it('are drawn the largest first', () => {
    expect([...largestFirst(Float32Array.of(5, 9, 5, 12))]).toEqual([3, 1, 0, 2])
  })

  it('have room where under a fifth of the ink overlaps', () => {
    const x = Float32Array.of(100, 130, 400)
    const y = Float32Array.of(100, 100, 100)
    const all = Float32Array.of(1, 1, 1)
    const largest = roomyLargest(x, y, all, 120)
    // Two discs of radius r, 30 apart, share 2 r² acos(15 / r) − 15 √(4 r² − 900).
    const shared = (r: number) => 2 * r * r * Math.acos(15 / r) - 15 * Math.sqrt(4 * r * r - 900)
    const overlap = (d: number) => shared(d / 2) / (3 * Math.PI * (d / 2) ** 2)
    expect(overlap(largest - 2)).toBeLessThan(0.2)
    expect(overlap(largest + 2)).toBeGreaterThan(0.2)
    expect(roomyLargest(x, y, all, 20)).toBe(20)
  })
})

describe('jitter', () => {
  it('belongs to a row, spreads evenly, and leaves no trace where it is off', () => {
    expect(offsetOf(17, 1)).toBe(offsetOf(17, 1))
    expect(offsetOf(17, 1)).not.toBe(offsetOf(17, 2))
    const many = Array.from({ length: 20_000 }, (_, row) => offsetOf(row, 1))
    const mean = many.reduce((sum, v) => sum + v, 0) / many.length
    expect(Math.abs(mean)).toBeLessThan(0.02)
    expect(Math.min(...many)).toBeGreaterThanOrEqual(-1)
    expect(Math.max(...many)).toBeLessThanOrEqual(1)
    const values = Float64Array.of(1, 2, 2)
    expect(jittered(values, Uint32Array.of(0, 1, 2), 0, 1)).toBe(values)
  })

  it('stays within its share of the smallest gap', () => {
    const values = Float64Array.of(0, 3, 3, 5, 8)
    expect(smallestGap(values)).toBe(2)
    const moved = jittered(values, Uint32Array.of(0, 1, 2, 3, 4), 0.4, 1)
    moved.forEach((v, i) => expect(Math.abs(v - values[i])).toBeLessThanOrEqual(0.8))
    expect(moved[1]).not.toBe(moved[2])
    expect(smallestGap(Float64Array.of(0, 1.5, 200))).toBe(2)
  })
})

describe('connecting lines', () => {
  it('go straight, or in steps', () => {
    expect([...through([0, 10, 20], [5, 7, 1], 'straight')]).toEqual([0, 5, 10, 7, 20, 1])
    expect([...through([0, 10], [5, 7], 'steps')]).toEqual([0, 5, 10, 5, 10, 7])
  })

  it('pass through every point and never overshoot where they are smooth', () => {
    const [xs, ys] = [
      [0, 10, 20, 30],
      [0, 0, 100, 100],
    ]
    const line = through(xs, ys, 'smooth')
    const at = new Map<number, number>()
    for (let i = 0; i < line.length; i += 2) at.set(Math.round(line[i] * 1e6) / 1e6, line[i + 1])
    xs.forEach((x, i) => expect(at.get(x)).toBeCloseTo(ys[i], 9))
    for (const y of at.values()) {
      expect(y).toBeGreaterThanOrEqual(-1e-9)
      expect(y).toBeLessThanOrEqual(100 + 1e-9)
    }
  })
})

describe('marks inside an outline', () => {
  it('are those that a test of every mark finds', () => {
    let seed = 3
    const next = () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648
    const x = Float32Array.from({ length: 3000 }, () => 300 * next())
    const y = Float32Array.from({ length: 3000 }, () => 200 * next())
    const star = Array.from({ length: 10 }, (_, i) => {
      const angle = (i * Math.PI) / 5
      const radius = i % 2 ? 40 : 95
      return [150 + radius * Math.cos(angle), 100 + radius * Math.sin(angle)]
    }).flat()
    const expected: number[] = []
    for (let i = 0; i < x.length; i++) {
      let inside = false
      for (let a = 0; a < star.length; a += 2) {
        const b = (a + 2) % star.length
        const [x0, y0, x1, y1] = [star[a], star[a + 1], star[b], star[b + 1]]
        if (y0 > y[i] !== y1 > y[i] && x[i] < ((x1 - x0) * (y[i] - y0)) / (y1 - y0) + x0)
          inside = !inside
      }
      if (inside) expected.push(i)
    }
    const index = indexMarks(x, y, { x: 0, y: 0, width: 300, height: 200 })
    expect([...index.inside(star)]).toEqual(expected)
    expect(expected.length).toBeGreaterThan(300)
  })

  it('prefer the smaller of two bubbles that hold the pointer', () => {
    const radius = Float32Array.of(40, 6)
    const index = indexMarks(
      Float32Array.of(100, 120),
      Float32Array.of(100, 100),
      { x: 0, y: 0, width: 300, height: 200 },
      (i) => radius[i],
    )
    expect(index.nearest(118, 101, 5)).toBe(1)
    expect(index.nearest(90, 100, 5)).toBe(0)
    expect(index.nearest(200, 100, 5)).toBe(-1)
  })
})

describe('density shading', () => {
  const item: MarksItem = {
    kind: 'marks',
    part: 'marks',
    x: Float32Array.of(1.5, 1.5, 1.5, 3.5, -9),
    y: Float32Array.of(0.5, 0.5, 0.5, 0.5, 0.5),
    look: Uint16Array.of(0, 0, 0, 0, 0),
    looks: [
      { shape: 'disc', size: 6, colour: [0, 0, 0], opacity: 1, hollow: false, halo: 0, edge: null },
    ],
    paper: [255, 255, 255],
    clip: { x: 0, y: 0, width: 5, height: 1 },
    density: true,
  }

  it('is deeper where more marks share a place, and clear where there is none', () => {
    const { data } = shade(item, 5, 1, 1)
    const green = (p: number) => (data[p] >>> 8) & 255
    expect(data[0]).toBe(0)
    expect(data[1] >>> 24).toBe(255)
    expect(green(1)).toBeLessThan(green(3))
  })
})

describe('ticks of a logarithmic axis', () => {
  const labels = (low: number, high: number, base = 10) =>
    logTicks([low, high], base, 6).map(({ label }) => label)

  it('are powers of the base, and 2 and 5 times them where they are few', () => {
    expect(labels(1, 100_000)).toEqual(['1', '10', '100', '1000', '10\u202f000', '100\u202f000'])
    expect(labels(8, 120)).toEqual(['10', '20', '50', '100'])
    expect(labels(1, 64, 2)).toContain('16')
    const wide = labels(1e-9, 1e9)
    expect(wide.length).toBeLessThanOrEqual(7)
    // One notation for all of them.
    expect(wide).toContain('10^{−8}')
    expect(wide).toContain('10^{0}')
  })

  describe('of cells', () => {
    const cells = (
      places: [x: number, y: number, count: number, look?: number][],
      side: number,
      colours: [number, number, number][] = [[0, 106, 100]],
    ) =>
      shade(
        {
          kind: 'marks',
          part: 'marks',
          x: Float32Array.from(places, ([x]) => x),
          y: Float32Array.from(places, ([, y]) => y),
          look: Uint16Array.from(places, ([, , , kind]) => kind ?? 0),
          looks: colours.map((colour) => ({
            shape: 'disc' as const,
            size: 4,
            colour,
            opacity: 1,
            hollow: false,
            halo: 0,
            edge: null,
          })),
          paper: [255, 255, 255] as [number, number, number],
          clip: { x: 0, y: 0, width: 4, height: 4 },
          density: true,
          cells: { counts: Float64Array.from(places, ([, , n]) => n), width: side, height: side },
        } as MarksItem,
        4,
        4,
        1,
      ).data

    it('fills a cell wider than a pixel evenly, and nothing beside it', () => {
      const data = cells([[1, 1, 7]], 2)
      const own = data[0]
      expect(own).not.toBe(0)
      expect([data[1], data[4], data[5]]).toEqual([own, own, own])
      expect([data[2], data[6], data[8], data[15]]).toEqual([0, 0, 0, 0])
    })

    it('shades a row of cells of one count alike, wherever pixels cut them', () => {
      const side = 0.8
      const middles = Array.from({ length: 5 }, (_, i) => (i + 0.5) * side)
      const data = cells(
        middles.flatMap((y) => middles.map((x) => [x, y, 9] as [number, number, number])),
        side,
      )
      expect(new Set(data).size).toBe(1)
    })

    it('shows a single row in a cell far smaller than a pixel', () => {
      expect(cells([[2.4, 1.4, 1]], 0.05)[1 * 4 + 2]).not.toBe(0)
    })

    it('takes the colour of the most rows, and is deeper where there are more', () => {
      const [green, red] = [
        [0, 128, 0],
        [200, 0, 0],
      ] as [number, number, number][]
      const data = cells(
        [
          [0.5, 0.5, 3, 0],
          [0.5, 0.5, 5, 1],
          [2.5, 0.5, 1, 1],
        ],
        1,
        [green, red],
      )
      expect(data[0] & 0xff).toBe(200)
      expect(data[0] >>> 24).toBeGreaterThan(data[2] >>> 24)
    })
  })
})
