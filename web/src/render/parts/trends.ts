/** Trend lines with their bands, what is carried on, and their readings printed on the figure. */
import type { Answer, FigureDocument, OnFigure, TrendAnswer } from '@/api/types'
import { fromHex, INK } from '@/render/colours'
import type { Block } from './block'
import { dashOf, partOf, trendColour } from './trend-style'
import { gaugeOf, penFor } from '@/render/text/lettering'
import { levelText, pText, shareText } from '@/render/text/numbers'
import type { Scale } from '@/render/geometry/scale'
import type { Box, Colour, Item } from '@/render/scene'
import { literal, widthOf, wrap, type Measure } from '@/render/text/text'
import { valueMarkup } from '@/render/geometry/ticks'

/** What a band lets through; several about one line share it, so that none drowns the marks. */
export const BAND_OPACITY = 0.16
/** A band for new rows is wide and lies over everything, so it is lighter. */
const PREDICTION_OPACITY = 0.07
const PAD = 8

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

/** What x stands for, where that is a date. */
const stands = (note: string): string => (note ? ` (${note})` : '')

const share = (name: string, value: number | null | undefined): string[] =>
  value === null || value === undefined ? [] : [`${name} = ${shareText(value)}`]

/** The readings of one line as they stand on the figure; empty where none are asked for. */
export const readingText = (document: FigureDocument, { trend, report }: TrendAnswer): string =>
  saidText(document.trends[trend]?.on_figure ?? [], report)

/** What of a fit can be said on a figure, of whatever kind. */
type Sayable = Pick<
  TrendAnswer['report'],
  | 'group'
  | 'problem'
  | 'equation'
  | 'equation_note'
  | 'n'
  | 'r_squared'
  | 'adjusted_r_squared'
  | 'p_value'
  | 'residual_sd'
> & { r?: number | null }

/** Chosen readings of a fit in one line; empty where there are none. */
export function saidText(said: readonly OnFigure[], report: Sayable): string {
  if (report.problem !== null) return ''
  const parts = said.flatMap((what): string[] => {
    switch (what) {
      case 'equation':
        return report.equation === null ? [] : [report.equation + stands(report.equation_note)]
      case 'r_squared':
        return share('R²', report.r_squared)
      case 'adjusted_r_squared':
        return share('adjusted R²', report.adjusted_r_squared)
      case 'r':
        return share('r', report.r ?? null)
      case 'p_value':
        return report.p_value === null ? [] : [`p ${pText(report.p_value)}`]
      case 'n':
        return [`n = ${report.n}`]
      case 'residual_sd':
        return report.residual_sd === null
          ? []
          : [`residual SD = ${valueMarkup(Number(report.residual_sd.toPrecision(3)))}`]
    }
  })
  if (!parts.length) return ''
  return (report.group === null ? '' : `${literal(report.group)}: `) + parts.join(',\u2002')
}

/** What is said of the two variables where no trend is fitted. */
export function associationText(document: FigureDocument, { association }: Answer): string {
  if (!association) return ''
  const { r, low, high, level, p_value, n } = association
  return document.readings.association
    .flatMap((what): string[] => {
      if (what === 'r') return [`r = ${shareText(r)}`]
      if (what === 'n') return [`n = ${n}`]
      if (what === 'p_value') return p_value === null ? [] : [`p ${pText(p_value)}`]
      return low === null || high === null
        ? []
        : [`${levelText(level)} interval ${shareText(low)} to ${shareText(high)}`]
    })
    .join(',\u2002')
}

interface Said {
  text: string
  colour: Colour
  drawn: DrawnTrend | null
}

function saidOn(document: FigureDocument, answer: Answer, drawn: readonly DrawnTrend[]): Said[] {
  const lines = answer.trends.map((trend) => ({
    text: readingText(document, trend),
    colour: trendColour(document, answer, trend),
    drawn: drawn.find((one) => one.trend === trend) ?? null,
  }))
  const association = { text: associationText(document, answer), colour: INK, drawn: null }
  return [...lines, association].filter(({ text }) => text)
}

/** Boxes of readings: all lines in one, or one for each line of a trend. */
export interface ReadingsBlock extends Block {
  /** Beside which line it belongs; none where it stands for all. */
  beside: DrawnTrend | null
}

/**
 * The readings on the figure, each line in its trend's colour.
 *
 * @param most room across; longer lines are broken
 */
export function readingsBlocks(
  document: FigureDocument,
  answer: Answer,
  drawn: readonly DrawnTrend[],
  measure: Measure,
  most: number,
): ReadingsBlock[] {
  const said = saidOn(document, answer, drawn)
  if (!said.length) return []
  if (document.readings.place !== 'lines') return [blockOf(document, said, measure, most)]
  return said.map((one) => blockOf(document, [one], measure, most))
}

const blockOf = (
  document: FigureDocument,
  said: readonly Said[],
  measure: Measure,
  most: number,
): ReadingsBlock => ({
  ...wordsBlock(document, said, measure, most),
  beside: said.length === 1 ? said[0].drawn : null,
})

/** Lines of readings, each in its colour; those that are too long are broken. */
export function wordsBlock(
  document: FigureDocument,
  said: readonly Pick<Said, 'text' | 'colour'>[],
  measure: Measure,
  most: number,
): Block {
  const pen = penFor(document, 'readings')
  // In its trend's colour, unless one was chosen for all.
  const inked = document.type.parts.readings?.colour ? pen.colour : null
  const line = pen.size * 1.36
  const pad = PAD * gaugeOf(document)
  const lines = said.flatMap(({ text, colour }) =>
    wrap(text, most - 2 * pad, pen, measure).map((runs) => ({ runs, colour })),
  )
  const widths = lines.map(({ runs }) => widthOf(runs, pen, measure))
  return {
    width: Math.max(...widths) + 2 * pad,
    height: lines.length * line + 2 * pad,
    place: (x, y) =>
      lines.map(({ runs, colour }, i) => ({
        kind: 'text',
        part: 'readings',
        x: x + pad,
        y: y + pad + i * line + pen.size,
        runs,
        ...pen,
        colour: inked ?? colour,
        anchor: 'start',
        turn: 0,
      })),
  }
}
