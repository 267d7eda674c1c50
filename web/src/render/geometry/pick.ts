/** Which mark is under the pointer: a uniform grid over the marks' places on the page. */

export interface MarkIndex {
  /**
   * The mark at a place: the smallest that holds it (or the one that is seen, which lies on top), or
   * else the nearest whose edge lies within a distance; -1 where there is none.
   */
  nearest: (x: number, y: number, within: number) => number
  /** The marks whose middles lie inside an outline, whose corners are given x and y in turn. */
  inside: (outline: ArrayLike<number>) => Uint32Array
}

const MARKS_A_CELL = 4

interface Rectangle {
  x: number
  y: number
  width: number
  height: number
}

/** Marks by the cells of a grid over a box. */
export interface Grid {
  box: Rectangle
  /** How wide and high a cell is. */
  side: number
  columns: number
  rows: number
  /** Where each cell's marks start, and the end of the last. */
  start: Uint32Array
  marks: Uint32Array
}

/**
 * Sorts the marks that lie within a box into the cells of a grid.
 *
 * @param x places across, in points
 * @param y places down
 */
export function gridOf(x: Float32Array, y: Float32Array, box: Rectangle): Grid {
  const cells = Math.max(1, x.length / MARKS_A_CELL)
  const side = Math.max(1e-6, Math.sqrt((box.width * box.height) / cells))
  const columns = Math.max(1, Math.ceil(box.width / side))
  const rows = Math.max(1, Math.ceil(box.height / side))
  const cellOf = (px: number, py: number): number => {
    const column = Math.floor((px - box.x) / side)
    const row = Math.floor((py - box.y) / side)
    return column < 0 || row < 0 || column >= columns || row >= rows ? -1 : row * columns + column
  }
  // A counting sort by cell: where each cell's marks start, then the marks themselves.
  const start = new Uint32Array(columns * rows + 1)
  for (let i = 0; i < x.length; i++) {
    const cell = cellOf(x[i], y[i])
    if (cell >= 0) start[cell + 1]++
  }
  for (let c = 0; c < columns * rows; c++) start[c + 1] += start[c]
  const next = start.slice(0, -1)
  const marks = new Uint32Array(start[columns * rows])
  for (let i = 0; i < x.length; i++) {
    const cell = cellOf(x[i], y[i])
    if (cell >= 0) marks[next[cell]++] = i
  }
  return { box, side, columns, rows, start, marks }
}

/**
 * Builds the index of marks that lie within a box. Parameters as for `gridOf`.
 *
 * @param onTop whether of marks that hold a place the last one drawn is meant, and not the smallest
 */
export function indexMarks(
  x: Float32Array,
  y: Float32Array,
  box: Rectangle,
  radius: (mark: number) => number = () => 0,
  onTop = false,
): MarkIndex {
  let widest = 0
  for (let i = 0; i < x.length; i++) widest = Math.max(widest, radius(i))
  return indexOn(gridOf(x, y, box), x, y, radius, widest, onTop)
}

/**
 * The index of marks that were sorted into a grid already.
 *
 * @param widest the largest radius of any mark
 * @param onTop as for `indexMarks`
 */
export function indexOn(
  { box, side, columns, rows, start, marks }: Grid,
  x: Float32Array,
  y: Float32Array,
  radius: (mark: number) => number,
  widest: number,
  onTop = false,
): MarkIndex {
  return {
    nearest(px, py, near) {
      const within = near + widest
      const fromColumn = Math.max(0, Math.floor((px - within - box.x) / side))
      const toColumn = Math.min(columns - 1, Math.floor((px + within - box.x) / side))
      const fromRow = Math.max(0, Math.floor((py - within - box.y) / side))
      const toRow = Math.min(rows - 1, Math.floor((py + within - box.y) / side))
      let best = -1
      let least = near
      for (let row = fromRow; row <= toRow; row++) {
        for (let column = fromColumn; column <= toColumn; column++) {
          const cell = row * columns + column
          for (let k = start[cell]; k < start[cell + 1]; k++) {
            const i = marks[k]
            const reach = radius(i)
            const apart = Math.hypot(x[i] - px, y[i] - py)
            if (apart > reach + near) continue
            // Inside a mark: the smaller it is, the better, and then the nearer its middle; these
            // come before all that are only near. Of equal ones the one drawn last lies on top.
            const inside = onTop ? -1e6 - i : reach + apart * 1e-3 - 1e6
            const distance = apart <= reach ? inside : apart - reach
            if (distance <= least) {
              least = distance
              best = i
            }
          }
        }
      }
      return best
    },
    inside(outline) {
      const kinds = classified(outline, box, side, columns, rows)
      // Flags first, so that what is found comes in the order of the marks without sorting.
      const flags = new Uint8Array(x.length)
      let count = 0
      for (let cell = 0; cell < kinds.length; cell++) {
        const kind = kinds[cell]
        if (kind === OUTSIDE) continue
        for (let k = start[cell]; k < start[cell + 1]; k++) {
          const i = marks[k]
          if (kind === EDGE && !holds(outline, x[i], y[i])) continue
          flags[i] = 1
          count++
        }
      }
      const found = new Uint32Array(count)
      for (let i = 0, at = 0; at < count; i++) if (flags[i]) found[at++] = i
      return found
    },
  }
}

const OUTSIDE = 0
const INSIDE = 1
const EDGE = 2

/**
 * Which cells of the grid lie inside an outline, outside, or on its edge, so that only the marks of
 * the last have to be tested one by one.
 */
function classified(
  outline: ArrayLike<number>,
  box: { x: number; y: number },
  side: number,
  columns: number,
  rows: number,
): Uint8Array {
  const kinds = new Uint8Array(columns * rows)
  const column = (x: number): number => Math.floor((x - box.x) / side)
  const row = (y: number): number => Math.floor((y - box.y) / side)
  const crossings: number[] = []
  for (let r = 0; r < rows; r++) {
    crossings.length = 0
    const middle = box.y + (r + 0.5) * side
    eachEdge(outline, (x0, y0, x1, y1) => {
      if (y0 <= middle !== y1 <= middle)
        crossings.push(x0 + ((middle - y0) / (y1 - y0)) * (x1 - x0))
    })
    crossings.sort((a, b) => a - b)
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      const from = Math.max(0, column(crossings[k]))
      const to = Math.min(columns - 1, column(crossings[k + 1]))
      for (let c = from; c <= to; c++) kinds[r * columns + c] = INSIDE
    }
  }
  eachEdge(outline, (x0, y0, x1, y1) => {
    const [top, bottom] = y0 < y1 ? [y0, y1] : [y1, y0]
    for (let r = Math.max(0, row(top)); r <= Math.min(rows - 1, row(bottom)); r++) {
      // Where the edge enters and leaves this row of cells.
      const enter = Math.max(top, box.y + r * side)
      const leave = Math.min(bottom, box.y + (r + 1) * side)
      const at = (y: number): number => (y1 === y0 ? x0 : x0 + ((y - y0) / (y1 - y0)) * (x1 - x0))
      const ends = y1 === y0 ? [x0, x1] : [at(enter), at(leave)]
      const from = Math.max(0, column(Math.min(...ends)))
      const to = Math.min(columns - 1, column(Math.max(...ends)))
      for (let c = from; c <= to; c++) kinds[r * columns + c] = EDGE
    }
  })
  return kinds
}

function eachEdge(
  outline: ArrayLike<number>,
  see: (x0: number, y0: number, x1: number, y1: number) => void,
): void {
  for (let i = 0; i < outline.length; i += 2) {
    const j = (i + 2) % outline.length
    see(outline[i], outline[i + 1], outline[j], outline[j + 1])
  }
}

/** Whether an outline holds a place: by how often a line from it crosses the edge. */
function holds(outline: ArrayLike<number>, x: number, y: number): boolean {
  let inside = false
  const n = outline.length
  for (let i = 0, j = n - 2; i < n; j = i, i += 2) {
    const [y0, y1] = [outline[i + 1], outline[j + 1]]
    if (y0 <= y === y1 <= y) continue
    if (x < outline[i] + ((y - y0) / (y1 - y0)) * (outline[j] - outline[i])) inside = !inside
  }
  return inside
}

/** Distance from a place to a line of corner points, x and y in turn. */
export function distanceToLine(points: Float64Array, x: number, y: number): number {
  let least = Infinity
  for (let i = 0; i + 3 < points.length; i += 2) {
    const [x0, y0, x1, y1] = [points[i], points[i + 1], points[i + 2], points[i + 3]]
    const length = (x1 - x0) ** 2 + (y1 - y0) ** 2
    const along = length ? ((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / length : 0
    const t = Math.min(1, Math.max(0, along))
    least = Math.min(least, Math.hypot(x - x0 - t * (x1 - x0), y - y0 - t * (y1 - y0)))
  }
  return least
}
