/** The ends of a figure's axes. */
import type { Answer, Axis, AxisAnswer } from '@/api/types'
import { paddedDomain, transformOf, type Extent } from '@/render/geometry/scale'
import { jitterReach } from '@/render/geometry/jitter'
import type { RenderedFigure } from '@/render/figure'
import { memoizeByDependencies } from '@/lib/lru-cache'

/** The ends of both axes. */
export interface View {
  x: Extent
  y: Extent
}

type Curve = NonNullable<Answer['trends'][number]['curve']>

/** The ends with which a figure starts: those of its document, or such as hug the data. */
export function homeView({ document, answer, marks }: RenderedFigure): View {
  const drawn = answer.trends.flatMap(({ curve, carried }) => (curve ? [curve, ...carried] : []))
  const known = (values: (number | null)[]): number[] => values.filter((v) => v !== null)
  const past = answer.trends.flatMap(({ carried }) => carried.flatMap(({ x }) => x))
  return {
    x: ends(
      document.axes.x,
      answer.x,
      marks.x,
      [...past, ...barEnds(marks.x_low, marks.x_high)],
      jitterReach(marks.x, document.jitter.x),
    ),
    y: ends(
      document.axes.y,
      answer.y,
      marks.y,
      [
        ...drawn.flatMap(({ y }) => known(y)),
        ...bandEnds(drawn, answer.y),
        ...barEnds(marks.y_low, marks.y_high),
      ],
      jitterReach(marks.y, document.jitter.y),
    ),
  }
}

/** A band may lengthen an axis by this share of the data's range; further out it runs off. */
const MOST_FOR_BANDS = 0.2

/** How far bands reach, where that is not so far that the data would be pressed together. */
function bandEnds(curves: Curve[], { low, high }: AxisAnswer): number[] {
  if (low === null || high === null) return []
  const most = MOST_FOR_BANDS * (high - low)
  return curves
    .flatMap(({ bands }) => bands.flatMap((band) => [...band.low, ...band.high]))
    .flatMap((end) => (end === null ? [] : Math.min(Math.max(end, low - most), high + most)))
}

const barEndsOf = memoizeByDependencies<Float64Array, number[]>()

/** The lowest and the highest end of error bars. */
function barEnds(low: Float64Array | null, high: Float64Array | null): number[] {
  if (!low || !high) return []
  return barEndsOf(low, [high], () => {
    let [least, most] = [Infinity, -Infinity]
    for (const end of low) if (end < least) least = end
    for (const end of high) if (end > most) most = end
    return [least, most].filter(Number.isFinite)
  })
}

/** Ends that hug the data, and the lines as far as they pass the data but not zero. */
export function ends(
  axis: Axis,
  data: AxisAnswer,
  values: Float64Array,
  lines: number[],
  reach: number,
): Extent {
  const warp = transformOf(axis.scale)
  let low0 = data.low ?? 0
  let high0 = data.high ?? 1
  if (axis.scale !== 'linear' && low0 < warp.least) {
    low0 = values.reduce((least, v) => (v >= warp.least && v < least ? v : least), Infinity)
    if (low0 === Infinity) [low0, high0] = [1, 10]
  }
  const shown = lines.filter((v) => v >= warp.least)
  const least = shown.reduce((a, b) => Math.min(a, b), low0)
  const most = shown.reduce((a, b) => Math.max(a, b), high0)
  const [low, high] =
    axis.scale === 'linear'
      ? paddedDomain(low0 >= 0 ? Math.max(0, least) : least, high0 <= 0 ? Math.min(0, most) : most)
      : paddedDomain(low0, most, warp)
  // Jitter may carry marks past zero, and none of them is cut off.
  const lowest = reach && axis.scale === 'linear' ? Math.min(low, low0 - 1.1 * reach) : low
  const highest = reach && axis.scale === 'linear' ? Math.max(high, high0 + 1.1 * reach) : high
  // An end that was typed for another scale has no place on this one: it is passed over.
  const typed = (end: number | null): number | null =>
    end !== null && end < (axis.scale === 'log' ? Number.MIN_VALUE : warp.least) ? null : end
  const [ownLow, ownHigh] = [typed(axis.low), typed(axis.high)]
  const below = (end: number): number =>
    axis.scale === 'log' ? end / 10 : Math.max(warp.least, end - 1)
  const above = (end: number): number => (axis.scale === 'log' ? end * 10 : end + 1)
  const from = ownLow ?? (ownHigh !== null && lowest >= ownHigh ? below(ownHigh) : lowest)
  const to = ownHigh !== null && ownHigh > from ? ownHigh : highest <= from ? above(from) : highest
  return [from, to]
}

/** From the smallest to the largest value drawn. */
export const span = ({ low, high }: AxisAnswer): Extent => [low ?? 0, high ?? 1]
