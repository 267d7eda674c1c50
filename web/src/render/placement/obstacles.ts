/**
 * What is drawn and must not be covered, on a grid of small cells: marks with their size, lines,
 * the edges of bands, words. A cell that anything touches is taken, so that what is said to be free
 * is free; a little that is free may be taken for covered.
 */
import type { Box, Item, MarksItem, TextItem } from '@/render/scene'
import { CONTOURS, type Shape } from '@/render/marks/shapes'
import { widthOf, type Measure } from '@/render/text/text'

/** Of a page this many cells, at most: those of a poster are larger. */
const MOST_CELLS = 160_000
const FINEST = 1.5
/** Above so many marks they are looked at by cells. */
const MANY = 20_000

/** How far a shape reaches from its place, for a disc of diameter 1 of the same ink. */
const REACH = Object.fromEntries(
  Object.entries(CONTOURS).map(([shape, contours]) => {
    let most = 0
    for (const contour of contours)
      for (let i = 0; i < contour.length; i += 2)
        most = Math.max(most, Math.hypot(contour[i], contour[i + 1]))
    return [shape, most]
  }),
) as Record<Shape, number>

/** How many cells are taken within so many columns and rows, for every corner of the grid. */
type Sums = Int32Array

export class Obstacles {
  private readonly cell: number
  private readonly columns: number
  private readonly rows: number
  /** By row, how many spans begin and end at each column: cells between them are taken. */
  private readonly edges: Int32Array
  /** Boxes of words. */
  readonly words: Box[] = []
  private sums: Sums | null = null

  /** @param area outside of it nothing is free */
  constructor(private readonly area: Box) {
    this.cell = Math.max(FINEST, Math.sqrt((area.width * area.height) / MOST_CELLS))
    this.columns = Math.max(1, Math.ceil(area.width / this.cell))
    this.rows = Math.max(1, Math.ceil(area.height / this.cell))
    this.edges = new Int32Array((this.columns + 1) * this.rows)
  }

  /** Adds what items draw; marks are left out where something else keeps clear of them. */
  add(items: readonly Item[], measure: Measure, withMarks = true): this {
    for (const item of items) {
      if (item.kind === 'text') this.addBox(textBox(item, measure))
      else if (item.kind === 'segments')
        for (let i = 0; i < item.points.length; i += 4)
          this.addLine(item.points.subarray(i, i + 4), item.width)
      else if (item.kind === 'path') {
        // Of a band, and of a shaded range, the edges count: words may stand on its ground.
        this.addLine(item.points, item.width ?? 0.5)
        const last = item.points.length - 2
        if (item.closed && last > 0)
          this.addLine(
            Float64Array.of(
              item.points[last],
              item.points[last + 1],
              item.points[0],
              item.points[1],
            ),
            item.width ?? 0.5,
          )
      } else if (withMarks) this.addMarks(item)
    }
    return this
  }

  /** A box that was placed. */
  addBox(box: Box): void {
    this.words.push(box)
  }

  /** @param points corner points, x and y in turn; NaN where the line has a gap */
  addLine(points: ArrayLike<number>, width: number): void {
    const half = width / 2
    for (let i = 0; i + 3 < points.length; i += 2) {
      const [x0, y0, x1, y1] = [points[i], points[i + 1], points[i + 2], points[i + 3]]
      const inside = this.within(x0, y0, x1, y1)
      if (!inside) continue
      const [from, to] = inside
      const length = (to - from) * Math.hypot(x1 - x0, y1 - y0)
      const steps = Math.max(1, Math.ceil((2 * length) / this.cell))
      for (let k = 0; k <= steps; k++) {
        const share = from + ((to - from) * k) / steps
        this.disc(x0 + (x1 - x0) * share, y0 + (y1 - y0) * share, half + this.cell / 4)
      }
    }
  }

  private addMarks({ x, y, look, looks, cells, bars = [] }: MarksItem): void {
    if (cells) {
      const { width, height } = cells
      for (let i = 0; i < x.length; i++)
        this.fill({ x: x[i] - width / 2, y: y[i] - height / 2, width, height })
      return
    }
    const reach = looks.map(({ shape, size, halo }) => REACH[shape] * size + halo / 2)
    // Of many marks the largest of each cell stands for all of it, by so much as they lie apart.
    const more = x.length > MANY ? this.cell : 0
    const widest = new Float32Array(more ? this.columns * this.rows : 0)
    for (let i = 0; i < x.length; i++) {
      const radius = reach[look[i]] + more
      if (more) {
        const at = this.at(x[i], y[i])
        if (at >= 0 && widest[at] >= radius) continue
        if (at >= 0) widest[at] = radius
      }
      this.disc(x[i], y[i], radius)
    }
    for (const { side, low, high } of bars)
      for (let i = 0; i < x.length; i++)
        this.addLine(
          side === 'x' ? [low[i], y[i], high[i], y[i]] : [x[i], low[i], x[i], high[i]],
          1,
        )
  }

  /** Whether nothing that was added lies in a box, and it lies within the area. */
  isFree(box: Box): boolean {
    const { area } = this
    if (box.x < area.x || box.y < area.y) return false
    if (box.x + box.width > area.x + area.width) return false
    if (box.y + box.height > area.y + area.height) return false
    return !this.words.some((other) => meet(box, other)) && this.covered(box) === 0
  }

  /** How many cells of a box are taken by marks and lines. */
  covered({ x, y, width, height }: Box): number {
    const { area, cell, columns, rows } = this
    const sums = (this.sums ??= this.summed())
    const across = columns + 1
    const column = (at: number): number => Math.max(0, Math.min(columns, Math.floor(at)))
    const row = (at: number): number => Math.max(0, Math.min(rows, Math.floor(at))) * across
    const [left, right] = [column((x - area.x) / cell), column((x + width - area.x) / cell + 1)]
    const [top, bottom] = [row((y - area.y) / cell), row((y + height - area.y) / cell + 1)]
    return sums[bottom + right] - sums[top + right] - sums[bottom + left] + sums[top + left]
  }

  /** Tells these apart from others, for what is worked out from them. */
  get digest(): string {
    let sum = 0
    for (let i = 0; i < this.edges.length; i++)
      if (this.edges[i]) sum = (sum * 31 + i * this.edges[i]) | 0
    return JSON.stringify([this.area, sum, this.words])
  }

  private at(x: number, y: number): number {
    const column = Math.floor((x - this.area.x) / this.cell)
    const row = Math.floor((y - this.area.y) / this.cell)
    return column >= 0 && row >= 0 && column < this.columns && row < this.rows
      ? row * this.columns + column
      : -1
  }

  private disc(x: number, y: number, radius: number): void {
    const { area, cell, columns, rows } = this
    const px = (x - area.x) / cell
    const py = (y - area.y) / cell
    const r = radius / cell
    const top = Math.max(0, Math.floor(py - r))
    const bottom = Math.min(rows - 1, Math.floor(py + r))
    for (let row = top; row <= bottom; row++) {
      // The part of the row that is nearest to the middle decides how far the disc reaches in it.
      const off = row > py ? row - py : row + 1 < py ? py - row - 1 : 0
      const half = Math.sqrt(Math.max(0, r * r - off * off))
      const left = Math.max(0, Math.floor(px - half))
      const right = Math.min(columns - 1, Math.floor(px + half))
      this.span(row, left, right)
    }
  }

  private fill({ x, y, width, height }: Box): void {
    const { area, cell, columns, rows } = this
    const left = Math.max(0, Math.floor((x - area.x) / cell))
    const right = Math.min(columns - 1, Math.floor((x + width - area.x) / cell))
    const top = Math.max(0, Math.floor((y - area.y) / cell))
    const bottom = Math.min(rows - 1, Math.floor((y + height - area.y) / cell))
    for (let row = top; row <= bottom; row++) this.span(row, left, right)
  }

  private span(row: number, left: number, right: number): void {
    if (right < left) return
    const start = row * (this.columns + 1)
    this.edges[start + left]++
    this.edges[start + right + 1]--
    this.sums = null
  }

  private summed(): Sums {
    const { columns, rows, edges } = this
    const across = columns + 1
    const sums = new Int32Array(across * (rows + 1))
    for (let row = 0; row < rows; row++) {
      let [sum, depth] = [0, 0]
      for (let column = 0; column < columns; column++) {
        depth += edges[row * across + column]
        if (depth) sum++
        sums[(row + 1) * across + column + 1] = sums[row * across + column + 1] + sum
      }
    }
    return sums
  }

  /** From which share to which a line lies within the area; null where it does nowhere. */
  private within(x0: number, y0: number, x1: number, y1: number): [number, number] | null {
    const { x, y, width, height } = this.area
    let [from, to] = [0, 1]
    for (const [start, step, low, high] of [
      [x0, x1 - x0, x, x + width],
      [y0, y1 - y0, y, y + height],
    ]) {
      // Not finite: a gap of the line.
      if (!Number.isFinite(start) || !Number.isFinite(step)) return null
      if (step === 0) {
        if (start < low || start > high) return null
        continue
      }
      const [a, b] = [(low - start) / step, (high - start) / step]
      from = Math.max(from, Math.min(a, b))
      to = Math.min(to, Math.max(a, b))
    }
    return from <= to ? [from, to] : null
  }
}

/** Words that were placed keep so far apart. */
const APART = 1

const meet = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width + APART &&
  b.x < a.x + a.width + APART &&
  a.y < b.y + b.height &&
  b.y < a.y + a.height

/** Letters reach so far above their line and below it, as shares of their size. */
const ABOVE = 0.92
const BELOW = 0.26

/** The box that words fill; of turned words, the box round them. */
export function textBox(item: TextItem, measure: Measure): Box {
  const width = widthOf(item.runs, item, measure)
  const left = item.anchor === 'start' ? 0 : item.anchor === 'middle' ? -width / 2 : -width
  const turn = (item.turn * Math.PI) / 180
  const corners = [
    [left, -ABOVE * item.size],
    [left + width, -ABOVE * item.size],
    [left, BELOW * item.size],
    [left + width, BELOW * item.size],
  ].map(([x, y]) => [
    item.x + x * Math.cos(turn) - y * Math.sin(turn),
    item.y + x * Math.sin(turn) + y * Math.cos(turn),
  ])
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)]
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y }
}
