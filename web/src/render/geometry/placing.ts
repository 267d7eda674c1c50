/** Where boxes stand inside the plot: in the corner that covers least. */
import type { Box } from '@/render/scene'

export interface Placed {
  box: Box
  /** Share of the marks that it covers. */
  covered: number
}

const INSET = 6

/**
 * The corner of the plot in which a box covers fewest marks and no box placed before.
 *
 * @param x places of the marks across
 * @param y places of the marks down
 * @param curves corner points of lines to keep clear of
 */
export function emptiestCorner(
  size: { width: number; height: number },
  plot: Box,
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  curves: readonly Float64Array[],
  taken: readonly Box[],
): Placed {
  const left = plot.x + INSET
  const right = plot.x + plot.width - size.width - INSET
  const top = plot.y + 2
  const bottom = plot.y + plot.height - size.height - INSET
  const candidates = [
    [left, top],
    [right, bottom],
    [right, top],
    [left, bottom],
  ].map(([bx, by]): Placed => {
    const box = { x: bx, y: by, ...size }
    const fits = size.width + 2 * INSET < plot.width && size.height + 2 * INSET < plot.height
    if (!fits || taken.some((other) => overlaps(box, other))) return { box, covered: Infinity }
    let inside = 0
    for (let i = 0; i < x.length; i++) {
      if (x[i] > bx && x[i] < bx + box.width && y[i] > by && y[i] < by + box.height) inside++
    }
    const crossed = curves.some((points) => passes(points, box))
    return { box, covered: inside / Math.max(1, x.length) + (crossed ? 0.02 : 0) }
  })
  return candidates.reduce((best, next) => (next.covered < best.covered ? next : best))
}

const overlaps = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

function passes(points: Float64Array, box: Box): boolean {
  for (let i = 0; i + 1 < points.length; i += 2) {
    const [x, y] = [points[i], points[i + 1]]
    if (x > box.x && x < box.x + box.width && y > box.y && y < box.y + box.height) return true
  }
  return false
}
