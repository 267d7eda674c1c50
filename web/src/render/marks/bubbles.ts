/** Sizes of bubbles from values, and the round values that a legend shows. */
import type { FigureDocument, SizeAnswer } from '@/api/types'
import { inOrder, mapped } from '@/render/geometry/columns'
import { roundStep } from '@/render/geometry/ticks'

/** Diameter of the smallest bubble, and of one whose value has no size, in points. */
export const SMALLEST = 3
/** Diameters are drawn in steps, so that bubbles of one size share a stamp. */
const STEP = 0.5

type Size = NonNullable<FigureDocument['size']>

/** The diameter of a value, in points; the smallest one where it has no size. */
export function diameterOf({ measure, start, largest }: Size, { low, high }: SizeAnswer) {
  const from = start === 'smallest' ? (low ?? 0) : 0
  const span = (high ?? 1) - from
  return (value: number): number => {
    if (!(value > 0)) return SMALLEST
    const share = span > 0 ? Math.max(0, (value - from) / span) : 1
    const size = largest * (measure === 'area' ? Math.sqrt(share) : share)
    return Math.max(SMALLEST, Math.round(size / STEP) * STEP)
  }
}

/** Two or three round values among the data, largest first, for the circles of a legend. */
export function roundValues({ low, high }: SizeAnswer): number[] {
  if (high === null || low === null) return []
  if (!(high > 0)) return [high]
  // Where the values lie close together, their difference has rounder steps than they have.
  for (const span of [high, high - Math.max(0, low)]) {
    if (!(span > 0)) continue
    const step = roundStep(span, 5)
    const [first, last] = [
      Math.max(1, Math.ceil(low / step - 1e-9)),
      Math.floor(high / step + 1e-9),
    ]
    if (last <= first) continue
    const third = Math.max(first, Math.round(last / 3))
    const picked = [last, third, first].map((k) => Number((k * step).toPrecision(12)))
    return [...new Set(picked)].slice(0, last - first > 2 ? 3 : 2)
  }
  return [high]
}

/** The order in which bubbles are drawn: the largest first, so that small ones lie on top. */
export function largestFirst(sizes: Float32Array): Uint32Array {
  let largest = 0
  for (const size of sizes) if (size > largest) largest = size
  const most = stepOf(largest)
  return inOrder(
    mapped(sizes, (size) => most - stepOf(size)),
    most + 1,
  )
}

/** How many steps a diameter is: there are few, so that marks are told apart by counting. */
export const stepOf = (diameter: number): number => Math.round(diameter / STEP)

/** Share of the bubbles' ink under which a picture counts as crowded. */
const MOST_OVERLAP = 0.2

/**
 * The largest diameter at which under a fifth of the ink overlaps; found by halving.
 *
 * @param share diameter of each bubble as a share of the largest
 */
export function roomyLargest(
  x: Float32Array,
  y: Float32Array,
  share: Float32Array,
  largest: number,
): number {
  let [low, high] = [4, largest]
  if (overlap(x, y, share, high) < MOST_OVERLAP) return largest
  while (high - low > 0.5) {
    const middle = (low + high) / 2
    if (overlap(x, y, share, middle) < MOST_OVERLAP) low = middle
    else high = middle
  }
  return Math.floor(low * 2) / 2
}

/** Share of the ink that lies on other ink: sampled on a grid of one point. */
function overlap(x: Float32Array, y: Float32Array, share: Float32Array, largest: number): number {
  const ink = new Map<number, number>()
  let all = 0
  for (let i = 0; i < x.length; i++) {
    const radius = Math.max(SMALLEST, share[i] * largest) / 2
    for (let row = Math.ceil(y[i] - radius); row <= y[i] + radius; row++)
      for (let column = Math.ceil(x[i] - radius); column <= x[i] + radius; column++) {
        if ((column - x[i]) ** 2 + (row - y[i]) ** 2 > radius * radius) continue
        const spot = row * 8192 + column
        ink.set(spot, (ink.get(spot) ?? 0) + 1)
        all++
      }
  }
  return all ? 1 - ink.size / all : 0
}
