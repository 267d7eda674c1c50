/** Which mark is under the pointer: a uniform grid over the marks' places on the page. */

export interface MarkIndex {
  /** The mark nearest to a place, within a distance; -1 where there is none. */
  nearest: (x: number, y: number, within: number) => number
}

const MARKS_A_CELL = 4

/**
 * Builds the index of marks that lie within a box.
 *
 * @param x places across, in points
 * @param y places down
 */
export function indexMarks(
  x: Float32Array,
  y: Float32Array,
  box: { x: number; y: number; width: number; height: number },
): MarkIndex {
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
  return {
    nearest(px, py, within) {
      const fromColumn = Math.max(0, Math.floor((px - within - box.x) / side))
      const toColumn = Math.min(columns - 1, Math.floor((px + within - box.x) / side))
      const fromRow = Math.max(0, Math.floor((py - within - box.y) / side))
      const toRow = Math.min(rows - 1, Math.floor((py + within - box.y) / side))
      let best = -1
      let least = within * within
      for (let row = fromRow; row <= toRow; row++) {
        for (let column = fromColumn; column <= toColumn; column++) {
          const cell = row * columns + column
          for (let k = start[cell]; k < start[cell + 1]; k++) {
            const i = marks[k]
            const distance = (x[i] - px) ** 2 + (y[i] - py) ** 2
            // Of marks at the same distance the one drawn last lies on top.
            if (distance <= least) {
              least = distance
              best = i
            }
          }
        }
      }
      return best
    },
  }
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
