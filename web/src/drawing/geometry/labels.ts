/** Names on points: placed so that they meet neither one another, nor marks, nor the frame. */
import type { Box } from '@/drawing/scene'

export interface Wanted {
  row: number
  /** Place of the mark on the page, and its radius. */
  x: number
  y: number
  radius: number
  width: number
  height: number
  /** How far the name was dragged from its mark; null where it is placed by itself. */
  moved: readonly [number, number] | null
}

export interface PlacedName {
  row: number
  box: Box
  /** Where a line leads to the mark from, where the name stands off. */
  leader: Leader | null
}

type Leader = readonly [x0: number, y0: number, x1: number, y1: number]

const GAP = 2
const CELL = 16
/** How far from its mark a name may stand, in heights of a name, when there is no room beside it. */
const RINGS = [1.1, 1.8, 2.7, 3.8, 5]
const ANGLES = Array.from({ length: 12 }, (_, i) => (i * Math.PI) / 6)
/** A name that stands so far off gets a line to its mark. */
const STANDS_OFF = 7

/** Marks by cells of the page, so that those under a box are found without looking at all. */
export class Marks {
  private readonly cells = new Map<number, number[]>()
  private most = 0

  constructor(
    private readonly x: ArrayLike<number>,
    private readonly y: ArrayLike<number>,
    private readonly radius: (i: number) => number,
  ) {
    for (let i = 0; i < x.length; i++) {
      if (!Number.isFinite(x[i]) || !Number.isFinite(y[i])) continue
      this.most = Math.max(this.most, radius(i))
      const key = keyOf(Math.floor(x[i] / CELL), Math.floor(y[i] / CELL))
      const cell = this.cells.get(key)
      if (cell) cell.push(i)
      else this.cells.set(key, [i])
    }
  }

  /** How many marks a box touches. */
  under({ x, y, width, height }: Box): number {
    let count = 0
    for (let r = cellOf(y - this.most); r <= cellOf(y + height + this.most); r++)
      for (let c = cellOf(x - this.most); c <= cellOf(x + width + this.most); c++)
        for (const i of this.cells.get(keyOf(c, r)) ?? []) {
          const dx = Math.max(x - this.x[i], 0, this.x[i] - x - width)
          const dy = Math.max(y - this.y[i], 0, this.y[i] - y - height)
          if (dx * dx + dy * dy < this.radius(i) ** 2) count++
        }
    return count
  }
}

const cellOf = (place: number): number => Math.floor(place / CELL)
const keyOf = (column: number, row: number): number => row * 65_536 + column

/**
 * Places names, those first in the list with the first choice. One that has no room is left out,
 * unless it was dragged.
 *
 * @param x places of all marks across
 * @param y places of all marks down
 * @param radius of each mark
 */
export function placeNames(
  names: readonly Wanted[],
  plot: Box,
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  radius: (i: number) => number,
  taken: readonly Box[],
): PlacedName[] {
  const marks = new Marks(x, y, radius)
  const placed: PlacedName[] = []
  const boxes: Box[] = [...taken]
  const leaders: Leader[] = []
  const add = (name: Wanted, box: Box): void => {
    const leader = leaderOf(name, box)
    placed.push({ row: name.row, box, leader })
    boxes.push(box)
    if (leader) leaders.push(leader)
  }
  for (const name of names)
    if (name.moved) add(name, boxAt(name, name.x + name.moved[0], name.y + name.moved[1]))
  for (const name of names) {
    if (name.moved) continue
    let best: Box | null = null
    let least = Infinity
    for (const [box, cost] of candidates(name)) {
      if (cost >= least) break
      if (!inside(box, plot) || boxes.some((other) => meet(box, other))) continue
      const leader = leaderOf(name, box)
      // Lines that cross one another, or run through a name, lead nowhere.
      if (
        leader &&
        (leaders.some((other) => cross(leader, other)) ||
          boxes.some((other) => through(leader, other)))
      )
        continue
      if (leaders.some((other) => through(other, box))) continue
      const total = cost + marks.under(box) * 40
      if (total < least) {
        least = total
        best = box
      }
    }
    if (best) add(name, best)
  }
  return placed
}

/** Boxes round a mark, the best first: beside it, then further and further off. */
function* candidates(name: Wanted): Generator<[Box, number]> {
  const { x, y, radius: r, width: w, height: h } = name
  const d = r + GAP
  const o = r * Math.SQRT1_2 + GAP / 2
  const near: [number, number][] = [
    [x + d, y - h / 2],
    [x - d - w, y - h / 2],
    [x - w / 2, y - d - h],
    [x - w / 2, y + d],
    [x + o, y - o - h],
    [x + o, y + o],
    [x - o - w, y - o - h],
    [x - o - w, y + o],
  ]
  for (const [i, [bx, by]] of near.entries()) yield [{ x: bx, y: by, width: w, height: h }, i]
  for (const [i, ring] of RINGS.entries())
    for (const angle of ANGLES) {
      const [dx, dy] = [Math.cos(angle), Math.sin(angle)]
      const off = r + ring * h
      const middle = [x + dx * (off + w / 2), y + dy * (off + h / 2)]
      yield [boxAt(name, middle[0] - w / 2, middle[1] - h / 2), 20 + i * 20]
    }
}

const boxAt = ({ width, height }: Wanted, x: number, y: number): Box => ({ x, y, width, height })

function leaderOf(name: Wanted, box: Box): PlacedName['leader'] {
  const nearX = Math.max(box.x, Math.min(name.x, box.x + box.width))
  const nearY = Math.max(box.y, Math.min(name.y, box.y + box.height))
  const distance = Math.hypot(nearX - name.x, nearY - name.y)
  if (distance - name.radius < STANDS_OFF) return null
  const share = name.radius / distance
  return [nearX, nearY, name.x + (nearX - name.x) * share, name.y + (nearY - name.y) * share]
}

/** Whether two lines cross. */
function cross([ax, ay, bx, by]: Leader, [cx, cy, dx, dy]: Leader): boolean {
  const side = (x: number, y: number, ux: number, uy: number, vx: number, vy: number): number =>
    Math.sign((ux - x) * (vy - y) - (uy - y) * (vx - x))
  return (
    side(ax, ay, bx, by, cx, cy) !== side(ax, ay, bx, by, dx, dy) &&
    side(cx, cy, dx, dy, ax, ay) !== side(cx, cy, dx, dy, bx, by)
  )
}

/** Whether a line runs through a box: across one of its diagonals, or into it. */
const through = (line: Leader, { x, y, width, height }: Box): boolean =>
  cross(line, [x, y, x + width, y + height]) || cross(line, [x + width, y, x, y + height])

const inside = (box: Box, plot: Box): boolean =>
  box.x >= plot.x &&
  box.y >= plot.y &&
  box.x + box.width <= plot.x + plot.width &&
  box.y + box.height <= plot.y + plot.height

const meet = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width + 1 && b.x < a.x + a.width + 1 && a.y < b.y + b.height && b.y < a.y + a.height
