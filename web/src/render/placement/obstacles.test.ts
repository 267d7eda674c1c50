import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Box, MarksItem, TextItem } from '@/render/scene'
import { measure } from '@/render/testing'
import { clearestCorner, freePlace } from './free-place'
import { Obstacles, textBox } from './obstacles'

const AREA: Box = { x: 10, y: 20, width: 300, height: 200 }
const INK = [0, 0, 0] as const

const across = fc.double({ min: 0, max: 320, noNaN: true })
const down = fc.double({ min: 0, max: 240, noNaN: true })
const boxes = fc.record({
  x: across,
  y: down,
  width: fc.double({ min: 1, max: 90, noNaN: true }),
  height: fc.double({ min: 1, max: 40, noNaN: true }),
})

const marksAt = (places: [number, number][], size: number): MarksItem => ({
  kind: 'marks',
  part: 'marks',
  x: Float32Array.from(places, ([x]) => x),
  y: Float32Array.from(places, ([, y]) => y),
  look: new Uint16Array(places.length),
  looks: [{ shape: 'disc', size, colour: INK, opacity: 1, hollow: false, halo: 0, edge: null }],
  paper: [255, 255, 255],
  clip: AREA,
  density: false,
})

const apart = ({ x, y, width, height }: Box, px: number, py: number): number =>
  Math.hypot(Math.max(x - px, 0, px - x - width), Math.max(y - py, 0, py - y - height))

describe('what must not be covered', () => {
  it('is in no box that is said to be free', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(across, down), { maxLength: 40 }),
        fc.double({ min: 0.5, max: 40, noNaN: true }),
        fc.array(fc.tuple(across, down), { minLength: 2, maxLength: 6 }),
        boxes,
        (places, size, corners, box) => {
          const obstacles = new Obstacles(AREA).add([marksAt(places, size)], measure)
          obstacles.addLine(Float64Array.from(corners.flat()), 1)
          if (!obstacles.isFree(box)) return
          for (const [x, y] of places)
            expect(apart(box, x, y)).toBeGreaterThanOrEqual(size / 2 - 1e-3)
          for (let i = 0; i + 1 < corners.length; i++)
            for (let k = 0; k <= 400; k++) {
              const [[x0, y0], [x1, y1]] = [corners[i], corners[i + 1]]
              const at = [x0 + ((x1 - x0) * k) / 400, y0 + ((y1 - y0) * k) / 400]
              expect(apart(box, at[0], at[1])).toBeGreaterThan(0)
            }
        },
      ),
      { numRuns: 300, seed: 20310401 },
    )
  })

  it('leaves free what lies a cell and a half away', () => {
    const obstacles = new Obstacles(AREA).add([marksAt([[100, 100]], 20)], measure)
    expect(obstacles.isFree({ x: 113, y: 90, width: 20, height: 20 })).toBe(true)
    expect(obstacles.isFree({ x: 109, y: 90, width: 20, height: 20 })).toBe(false)
  })

  it('lies about the edges of a band, and not on its ground', () => {
    const band = {
      kind: 'path' as const,
      part: 'trend-0' as const,
      points: Float64Array.of(20, 60, 300, 60, 300, 140, 20, 140),
      closed: true,
      fill: INK,
    }
    const obstacles = new Obstacles(AREA).add([band], measure)
    expect(obstacles.isFree({ x: 40, y: 80, width: 60, height: 30 })).toBe(true)
    expect(obstacles.isFree({ x: 40, y: 50, width: 60, height: 30 })).toBe(false)
    // The side on which the outline closes.
    expect(obstacles.isFree({ x: 12, y: 90, width: 20, height: 10 })).toBe(false)
  })

  it('counts words, turned ones too', () => {
    const item: TextItem = {
      kind: 'text',
      part: 'note-0',
      x: 100,
      y: 100,
      runs: [{ text: 'twelve signs', place: 'line' }],
      size: 10,
      weight: 400,
      face: 'sans',
      colour: INK,
      anchor: 'start',
      turn: -90,
    }
    const box = textBox(item, measure)
    expect(box.height).toBeCloseTo(60)
    expect(box.y).toBeCloseTo(40)
    const obstacles = new Obstacles(AREA).add([item], measure)
    expect(obstacles.isFree({ x: 92, y: 50, width: 5, height: 5 })).toBe(false)
    expect(obstacles.isFree({ x: 120, y: 50, width: 5, height: 5 })).toBe(true)
  })

  it('tells two arrangements apart', () => {
    const [one, other] = [new Obstacles(AREA), new Obstacles(AREA)]
    expect(one.digest).toBe(other.digest)
    one.addLine(Float64Array.of(20, 30, 80, 90), 1)
    expect(one.digest).not.toBe(other.digest)
  })
})

describe('the free place of a block', () => {
  const block = { width: 80, height: 40 }

  it('is the first corner of an empty plot', () => {
    expect(freePlace(block, AREA, new Obstacles(AREA))).toMatchObject({ x: 12, y: 22 })
  })

  it('is another corner where words stand in the first', () => {
    const obstacles = new Obstacles(AREA)
    obstacles.addBox({ x: 12, y: 22, ...block })
    const box = freePlace(block, AREA, obstacles)!
    expect([box.x + box.width, box.y + box.height]).toEqual([308, 218])
  })

  it('is none where marks are everywhere, and the clearest corner then covers least', () => {
    const places = Array.from({ length: 600 }, (_, i): [number, number] => [
      10 + (i % 30) * 10,
      20 + Math.floor(i / 30) * 10,
    ])
    const obstacles = new Obstacles(AREA).add([marksAt(places, 4)], measure)
    expect(freePlace(block, AREA, obstacles)).toBeNull()
    const rest = places.filter(([x, y]) => x < 200 || y < 150)
    const others = new Obstacles(AREA).add([marksAt(rest, 4)], measure)
    const box = clearestCorner(block, AREA, others)
    expect([box.x + box.width, box.y + box.height]).toEqual([308, 218])
  })

  it('is none in a plot that is smaller than the block', () => {
    const plot = { ...AREA, width: 60 }
    expect(freePlace(block, plot, new Obstacles(plot))).toBeNull()
  })
})
