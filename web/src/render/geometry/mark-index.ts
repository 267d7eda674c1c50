/** Marks by cells of the page, so that those that a word would cover are found without looking at all. */
import type { Box } from '@/render/scene'
import type { Between } from './pairs'
import type { AffineMap } from './scale'

const CELL = 16
/** A place may be found so far from where it is. */
const ROUNDED = 0.01

/** Marks that stand round words. */
export interface Round {
  /** Where they lie, and how that is laid on the page. */
  u: ArrayLike<number>
  v: ArrayLike<number>
  across: AffineMap
  down: AffineMap
  /** Those that may lie in some boxes of values; where it is missing, all are looked at. */
  among?: (boxes: readonly [Between, Between][]) => Uint32Array
  radius: (i: number) => number
  /** The largest radius of any. */
  widest: number
}

/** Marks by cells of the page, so that those under a box are found without looking at all. */
export class MarkIndex {
  private readonly left: number
  private readonly top: number
  private readonly columns: number
  private readonly rows: number
  /** Where the marks of each cell begin, and the end of the last. */
  private readonly start: Uint32Array
  private readonly marks: Uint32Array

  /** @param near what is asked about lies in these: of very many marks few are near a word */
  constructor(
    private readonly round: Round,
    near: readonly Box[],
  ) {
    const { widest } = round
    const cells = near.map((box) => cellsOf(box, widest + ROUNDED))
    this.left = Math.min(...cells.map(({ left }) => left))
    this.top = Math.min(...cells.map(({ top }) => top))
    this.columns = near.length ? Math.max(...cells.map(({ right }) => right)) - this.left + 1 : 0
    this.rows = near.length ? Math.max(...cells.map(({ bottom }) => bottom)) - this.top + 1 : 0
    const isNear = new Uint8Array(this.columns * this.rows)
    for (const { left, right, top, bottom } of cells)
      for (let row = top; row <= bottom; row++)
        isNear.fill(1, this.cell(left, row), this.cell(right, row) + 1)
    const { left, top, columns, rows } = this
    const { u, v } = round
    const among = near.length
      ? round.among?.(near.map((box) => valuesIn(box, widest + ROUNDED, round)))
      : NONE
    const count = among ? among.length : u.length
    const [x, stretched] = inCells(round.across)
    const [y, lengthened] = inCells(round.down)
    const marks: number[] = []
    const cellOfMark: number[] = []
    // A counting sort by cell of those that are near.
    const start = new Uint32Array(isNear.length + 1)
    for (let k = 0; k < count; k++) {
      const i = among ? among[k] : k
      const column = Math.floor(x + u[i] * stretched) - left
      const row = Math.floor(y + v[i] * lengthened) - top
      if (!(column >= 0 && row >= 0 && column < columns && row < rows)) continue
      const cell = row * columns + column
      if (!isNear[cell]) continue
      start[cell + 1]++
      marks.push(i)
      cellOfMark.push(cell)
    }
    for (let cell = 0; cell < isNear.length; cell++) start[cell + 1] += start[cell]
    const next = start.slice(0, -1)
    this.marks = new Uint32Array(marks.length)
    marks.forEach((i, k) => (this.marks[next[cellOfMark[k]]++] = i))
    this.start = start
  }

  /** How many marks a box touches. */
  under(box: Box): number {
    const { u, v, across, down, radius, widest } = this.round
    const { x, y, width, height } = box
    const { left, right, top, bottom } = cellsOf(box, widest + ROUNDED)
    let count = 0
    const last = Math.min(bottom, this.top + this.rows - 1)
    for (let row = Math.max(top, this.top); row <= last; row++) {
      const from = this.cell(Math.max(left, this.left), row)
      const to = this.cell(Math.min(right, this.left + this.columns - 1), row)
      if (to < from) continue
      for (let k = this.start[from]; k < this.start[to + 1]; k++) {
        const i = this.marks[k]
        const [px, py] = [placeOf(u[i], across), placeOf(v[i], down)]
        const dx = Math.max(x - px, 0, px - x - width)
        const dy = Math.max(y - py, 0, py - y - height)
        if (dx * dx + dy * dy < radius(i) ** 2) count++
      }
    }
    return count
  }

  private cell(column: number, row: number): number {
    return (row - this.top) * this.columns + column - this.left
  }
}

/** Where a value lies on the page. */
export const placeOf = (value: number, { from, factor, start }: AffineMap): number =>
  start + (value - from) * factor

/** What leads from a value to its cell: a cell's place of nought, and cells for each one more. */
const inCells = ({ from, factor, start }: AffineMap): [number, number] => [
  (start - from * factor) / CELL,
  factor / CELL,
]

/** The values that are laid in a box with so much round it. */
function valuesIn(
  { x, y, width, height }: Box,
  round: number,
  { across, down }: Round,
): [Between, Between] {
  const value = (place: number, { from, factor, start }: AffineMap): number =>
    from + (place - start) / factor
  return [
    [value(x - round, across), value(x + width + round, across)],
    [value(y - round, down), value(y + height + round, down)],
  ]
}

const NONE = new Uint32Array(0)

const cellOf = (place: number): number => Math.floor(place / CELL)

/** The cells that a box reaches into with so much round it. */
const cellsOf = ({ x, y, width, height }: Box, round: number) => ({
  left: cellOf(x - round),
  right: cellOf(x + width + round),
  top: cellOf(y - round),
  bottom: cellOf(y + height + round),
})
