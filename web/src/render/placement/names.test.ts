import { describe, expect, it } from 'vitest'
import { placeNames, type Wanted } from './names'
import type { Box } from '@/render/scene'
import { Obstacles } from './obstacles'

const IDENTITY = { from: 0, factor: 1, start: 0 }
const PLOT: Box = { x: 0, y: 0, width: 600, height: 400 }

const name = (row: number, x: number, y: number, change: Partial<Wanted> = {}): Wanted => ({
  row,
  x,
  y,
  radius: 3,
  width: 40,
  height: 12,
  moved: null,
  ...change,
})

const place = (names: Wanted[], plot = PLOT, taken: Box[] = []) =>
  placeNames(
    names,
    {
      u: names.map(({ x }) => x),
      v: names.map(({ y }) => y),
      across: IDENTITY,
      down: IDENTITY,
      radius: () => 3,
      widest: 3,
    },
    obstaclesIn(plot, taken),
  )

function obstaclesIn(plot: Box, taken: Box[]): Obstacles {
  const obstacles = new Obstacles(plot)
  for (const box of taken) obstacles.addBox(box)
  return obstacles
}

const meet = (a: Box, b: Box) =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

/** A sequence that is the same every time. */
function random(seed: number): () => number {
  return () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648
}

describe('names on points', () => {
  it('stand to the right of a mark that is alone, without a line to it', () => {
    const [{ box, leader }] = place([name(0, 100, 100)])
    expect(box.x).toBe(105)
    expect(box.y).toBe(94)
    expect(leader).toBeNull()
  })

  it('turn to the other side at the edge of the plot', () => {
    const [{ box }] = place([name(0, 590, 100)])
    expect(box.x + box.width).toBeLessThan(590)
  })

  it('meet neither one another, nor what is there, nor the frame', () => {
    const next = random(7)
    const names = Array.from({ length: 120 }, (_, row) => name(row, 600 * next(), 400 * next()))
    const legend = { x: 450, y: 20, width: 120, height: 90 }
    const placed = place(names, PLOT, [legend])
    expect(placed.length).toBeGreaterThan(80)
    placed.forEach(({ box }, i) => {
      expect(meet(box, legend)).toBe(false)
      expect(box.x >= 0 && box.x + box.width <= 600).toBe(true)
      expect(box.y >= 0 && box.y + box.height <= 400).toBe(true)
      for (const other of placed.slice(0, i)) expect(meet(box, other.box)).toBe(false)
    })
  })

  it('get a line to their mark where they stand off', () => {
    const crowd = Array.from({ length: 9 }, (_, row) =>
      name(row, 300 + 4 * (row % 3), 200 + 4 * Math.floor(row / 3)),
    )
    const placed = place(crowd)
    expect(placed.length).toBeGreaterThan(4)
    const lines = placed.flatMap(({ leader }) => (leader ? [leader] : []))
    expect(lines.length).toBeGreaterThan(0)
    // By steps along each line: none comes upon another, or upon a name that is not its own.
    const along = ([x0, y0, x1, y1]: readonly number[]) =>
      Array.from({ length: 200 }, (_, i) => [
        x0 + ((x1 - x0) * i) / 199,
        y0 + ((y1 - y0) * i) / 199,
      ])
    for (const line of lines) {
      const others = placed.filter(({ leader }) => leader !== line)
      for (const [x, y] of along(line)) {
        for (const { box } of others)
          expect(x > box.x && x < box.x + box.width && y > box.y && y < box.y + box.height).toBe(
            false,
          )
        for (const other of lines)
          if (other !== line)
            expect(
              Math.min(...along(other).map(([u, v]) => Math.hypot(u - x, v - y))),
            ).toBeGreaterThan(0.05)
      }
    }
  })

  it('stay where they were dragged, whatever is there', () => {
    const [first] = place([name(0, 100, 100, { moved: [-60, 30] }), name(1, 60, 135)])
    expect([first.box.x, first.box.y]).toEqual([40, 130])
    expect(first.leader).not.toBeNull()
  })
})
