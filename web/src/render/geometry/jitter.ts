/** Moving marks a little at random, so that those on one place can be told apart. */

/** Where values do not repeat, the gap is this share of the axis. */
const SHARE_OF_AXIS = 0.01

/**
 * A number from −1 to 1 that belongs to a row: the same whatever is filtered and however often it
 * is drawn (integer hash by Mueller).
 *
 * @param seed tells the axes apart
 */
export function offsetOf(row: number, seed: number): number {
  let h = Math.imul(row ^ Math.imul(seed, 0x9e3779b9), 0x45d9f3b) >>> 0
  h = Math.imul(h ^ (h >>> 16), 0x45d9f3b) >>> 0
  h = Math.imul(h ^ (h >>> 16), 0x45d9f3b) >>> 0
  return ((h ^ (h >>> 16)) >>> 0) / 0x7fffffff - 1
}

/** The smallest gap between distinct values; a share of their range where none repeats. */
export function smallestGap(values: Float64Array): number {
  // Values that are missing have no gap.
  const sorted = values.filter((value) => !Number.isNaN(value)).sort()
  let least = Infinity
  let repeats = false
  for (let i = 1; i < sorted.length; i++) {
    const gap = sorted[i] - sorted[i - 1]
    if (gap === 0) repeats = true
    else if (gap < least) least = gap
  }
  if (repeats && least < Infinity) return least
  return sorted.length ? (sorted[sorted.length - 1] - sorted[0]) * SHARE_OF_AXIS : 0
}

const gaps = new WeakMap<Float64Array, number>()

/** Notes the gap of values where it was found elsewhere. */
export const keepGap = (values: Float64Array, gap: number): unknown => gaps.set(values, gap)

/** How far values are moved at most, in their own unit. */
export function jitterReach(values: Float64Array, amount: number): number {
  if (amount === 0) return 0
  let gap = gaps.get(values)
  if (gap === undefined) gaps.set(values, (gap = smallestGap(values)))
  return amount * gap
}

/** Values moved by up to `amount` of their smallest gap; the very same where the amount is 0. */
export function jittered(
  values: Float64Array,
  rows: Uint32Array,
  amount: number,
  seed: number,
): Float64Array {
  const reach = jitterReach(values, amount)
  if (reach === 0) return values
  const moved = new Float64Array(values.length)
  for (let i = 0; i < moved.length; i++) moved[i] = values[i] + reach * offsetOf(rows[i], seed)
  return moved
}
