/** Trend lines with their bands, and what is carried on. */
import type { Answer, FigureDocument, TrendAnswer } from '@/api/types'
import { fromHex } from '@/render/colours'
import { dashOf, partOf, trendColour } from './trend-style'
import type { Scale } from '@/render/geometry/scale'
import type { Box, Colour, Item } from '@/render/scene'

/** What a band lets through; several about one line share it, so that none drowns the marks. */
export const BAND_OPACITY = 0.16
/** Bands of more lines than this are paler, so that together they do not hide what lies under them. */
const MOST_IN_FULL = 5
/** A band for new rows is wide and lies over everything, so it is lighter. */
const PREDICTION_OPACITY = 0.07

type Curve = NonNullable<TrendAnswer['curve']>

/** A line as it lies on the page, corner points x and y in turn. */
export interface DrawnTrend {
  trend: TrendAnswer
  colour: Colour
  /** The whole of it, for the pointer; NaN where it has a gap. */
  points: Float64Array
  /** What is drawn unbroken: over the data, and carried on before and after. */
  runs: { points: Float64Array; carried: boolean }[]
}

export function drawnTrends(
  document: FigureDocument,
  answer: Answer,
  x: Scale,
  y: Scale,
): DrawnTrend[] {
  return answer.trends.flatMap((trend) => {
    const { curve, carried } = trend
    if (curve === null) return []
    const before = carried.filter((part) => part.x[0] < curve.x[0])
    const parts = [...before, curve, ...carried.filter((part) => !before.includes(part))]
    const points = parts.map((part) => placed(part.x, part.y, x, y))
    return [
      {
        trend,
        colour: trendColour(document, answer, trend),
        points: Float64Array.from(points.flatMap((part) => [...part])),
        runs: parts.flatMap((part, i) =>
          unbroken(points[i]).map((run) => ({ points: run, carried: part !== curve })),
        ),
      },
    ]
  })
}

/** Places on the page; NaN where there is no value, or an axis has no place for it. */
function placed(xs: number[], ys: (number | null)[], x: Scale, y: Scale): Float64Array {
  const points = new Float64Array(xs.length * 2)
  xs.forEach((value, i) => {
    const up = ys[i]
    points[2 * i] = x.toPage(value)
    points[2 * i + 1] = up === null ? NaN : y.toPage(up)
  })
  return points
}

/** Parts of a line between its gaps. */
function unbroken(points: Float64Array): Float64Array[] {
  const runs: Float64Array[] = []
  let start = 0
  for (let i = 0; i <= points.length; i += 2) {
    if (i < points.length && Number.isFinite(points[i]) && Number.isFinite(points[i + 1])) continue
    if (i - start >= 4) runs.push(points.slice(start, i))
    start = i + 2
  }
  return runs
}

/** Bands lie under the marks, the widest first. */
export function bandItems(
  document: FigureDocument,
  answer: Answer,
  x: Scale,
  y: Scale,
  clip: Box,
): Item[] {
  return answer.trends.flatMap((trend) => {
    const own = document.trends[trend.trend]
    const lines = answer.trends.filter((one) => one.trend === trend.trend).length
    const paler = lines > MOST_IN_FULL ? (MOST_IN_FULL / 2 / lines) ** 1.5 : 1
    const colour = own?.band_colour
      ? fromHex(own.band_colour)
      : trendColour(document, answer, trend)
    const parts = trend.curve ? [trend.curve, ...trend.carried] : []
    return parts.flatMap((curve) => {
      const ofTheMean = curve.bands.filter(({ kind }) => kind !== 'prediction').length
      return [...curve.bands]
        .sort((a, b) => rank(b) - rank(a))
        .flatMap((band) =>
          bandOutlines(curve, band, x, y).map((points): Item => ({
            kind: 'path',
            part: partOf(trend),
            points,
            closed: true,
            fill: colour,
            fillOpacity:
              own?.band_opacity ??
              paler *
                (band.kind === 'prediction'
                  ? PREDICTION_OPACITY
                  : BAND_OPACITY / Math.sqrt(ofTheMean)),
            clip,
          })),
        )
    })
  })
}

const rank = ({ kind, level }: Curve['bands'][number]): number =>
  (kind === 'prediction' ? 2 : kind === 'whole line' ? 1 : 0) + level

/** The outline of a band, once for each part between its gaps. */
function bandOutlines(
  curve: Curve,
  band: Curve['bands'][number],
  x: Scale,
  y: Scale,
): Float64Array[] {
  const lows = placed(curve.x, band.low, x, y)
  const highs = placed(curve.x, band.high, x, y)
  const outlines: Float64Array[] = []
  let start = 0
  const count = curve.x.length
  for (let i = 0; i <= count; i++) {
    if (i < count && Number.isFinite(lows[2 * i + 1]) && Number.isFinite(highs[2 * i + 1])) continue
    if (i - start >= 2) {
      const points = new Float64Array((i - start) * 4)
      points.set(highs.slice(2 * start, 2 * i))
      for (let k = start; k < i; k++) {
        const at = points.length - 2 * (k - start) - 2
        points[at] = lows[2 * k]
        points[at + 1] = lows[2 * k + 1]
      }
      outlines.push(points)
    }
    start = i + 1
  }
  return outlines
}

const PLAIN = { width: 2, dash: 'solid', opacity: 1 } as const

/** Lines lie over the marks; what is carried on is dashed. */
export const lineItems = (
  document: FigureDocument,
  drawn: readonly DrawnTrend[],
  clip: Box,
): Item[] =>
  drawn.flatMap(({ trend, colour, runs }) => {
    const { width, dash, opacity } = document.trends[trend.trend] ?? PLAIN
    return runs.map(({ points, carried }): Item => ({
      kind: 'path',
      part: partOf(trend),
      points,
      closed: false,
      stroke: colour,
      strokeOpacity: opacity,
      width,
      dash: dashOf(carried && dash === 'solid' ? 'dashed' : dash, width),
      clip,
    }))
  })
