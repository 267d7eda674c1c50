/** Lines from point to point: straight, smooth, or in steps. */

export type Way = 'straight' | 'smooth' | 'steps'

const PARTS = 12

/**
 * The corner points of a line through points, x and y in turn.
 *
 * @param xs places across, in the order in which the points are connected
 */
export function through(xs: readonly number[], ys: readonly number[], way: Way): Float64Array {
  if (way === 'steps') return Float64Array.from(stepped(xs, ys))
  if (way === 'smooth' && rises(xs)) return smooth(xs, ys)
  return Float64Array.from(xs.flatMap((x, i) => [x, ys[i]]))
}

function stepped(xs: readonly number[], ys: readonly number[]): number[] {
  return xs.flatMap((x, i) => (i === 0 ? [x, ys[0]] : [x, ys[i - 1], x, ys[i]]))
}

const rises = (xs: readonly number[]): boolean => xs.every((x, i) => i === 0 || x > xs[i - 1])

/** A cubic through the points that never overshoots them (Fritsch and Carlson 1980). */
function smooth(xs: readonly number[], ys: readonly number[]): Float64Array {
  const n = xs.length
  if (n < 3) return through(xs, ys, 'straight')
  const slopes = xs.slice(1).map((x, i) => (ys[i + 1] - ys[i]) / (x - xs[i]))
  const at = xs.map((_, i) => {
    if (i === 0) return slopes[0]
    if (i === n - 1) return slopes[n - 2]
    return slopes[i - 1] * slopes[i] <= 0 ? 0 : (slopes[i - 1] + slopes[i]) / 2
  })
  slopes.forEach((slope, i) => {
    if (slope === 0) {
      at[i] = at[i + 1] = 0
      return
    }
    const [a, b] = [at[i] / slope, at[i + 1] / slope]
    const size = Math.hypot(a, b)
    if (size > 3) {
      at[i] = (3 * a * slope) / size
      at[i + 1] = (3 * b * slope) / size
    }
  })
  const out: number[] = [xs[0], ys[0]]
  for (let i = 0; i + 1 < n; i++) {
    const h = xs[i + 1] - xs[i]
    for (let k = 1; k <= PARTS; k++) {
      const t = k / PARTS
      const [t2, t3] = [t * t, t * t * t]
      out.push(
        xs[i] + t * h,
        (2 * t3 - 3 * t2 + 1) * ys[i] +
          (t3 - 2 * t2 + t) * h * at[i] +
          (3 * t2 - 2 * t3) * ys[i + 1] +
          (t3 - t2) * h * at[i + 1],
      )
    }
  }
  return Float64Array.from(out)
}
