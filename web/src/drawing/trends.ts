/** Trend lines, their bands, and their readings printed on the figure. */
import type { Answer, FigureDocument, TrendAnswer } from '@/api/types'
import { INK } from './colours'
import type { Block } from './legend'
import { penFor } from './lettering'
import { colourOn } from './looks'
import { pText, shareText } from './numbers'
import type { Scale } from './scale'
import type { Box, Colour, Item, Part } from './scene'
import { parseRuns, widthOf, type Measure } from './text'

const LINE_WIDTH = 2
const BAND_OPACITY = 0.16
/** A band for new rows is wide and lies over everything, so it is lighter. */
const PREDICTION_OPACITY = 0.07
const PAD = 8

export const trendColour = (
  document: FigureDocument,
  { colour }: Answer,
  { group_code: code }: TrendAnswer,
): Colour => (code === null || colour === null ? INK : colourOn(document, colour, code))

const partOf = (trend: TrendAnswer): Part => `trend-${trend.trend}`

/** A line as it lies on the page, corner points x and y in turn. */
export interface DrawnTrend {
  trend: TrendAnswer
  colour: Colour
  points: Float64Array
}

export function drawnTrends(
  document: FigureDocument,
  answer: Answer,
  x: Scale,
  y: Scale,
): DrawnTrend[] {
  return answer.trends.flatMap((trend) => {
    const { curve } = trend
    if (curve === null) return []
    const points = new Float64Array(curve.x.length * 2)
    curve.x.forEach((value, i) => {
      points[2 * i] = x.toPage(value)
      points[2 * i + 1] = y.toPage(curve.y[i])
    })
    return [{ trend, colour: trendColour(document, answer, trend), points }]
  })
}

/** Bands lie under the marks. */
export function bandItems(
  document: FigureDocument,
  answer: Answer,
  x: Scale,
  y: Scale,
  clip: Box,
): Item[] {
  return answer.trends.flatMap((trend) =>
    (trend.curve?.bands ?? []).map((band): Item => {
      const xs = trend.curve!.x
      const count = xs.length
      const points = new Float64Array(count * 4)
      for (let i = 0; i < count; i++) {
        points[2 * i] = x.toPage(xs[i])
        points[2 * i + 1] = y.toPage(band.high[i])
        points[4 * count - 2 * i - 2] = x.toPage(xs[i])
        points[4 * count - 2 * i - 1] = y.toPage(band.low[i])
      }
      return {
        kind: 'path',
        part: partOf(trend),
        points,
        closed: true,
        fill: trendColour(document, answer, trend),
        fillOpacity: band.kind === 'prediction' ? PREDICTION_OPACITY : BAND_OPACITY,
        clip,
      }
    }),
  )
}

/** Lines lie over the marks. */
export const lineItems = (drawn: readonly DrawnTrend[], clip: Box): Item[] =>
  drawn.map(({ trend, colour, points }) => ({
    kind: 'path',
    part: partOf(trend),
    points,
    closed: false,
    stroke: colour,
    width: LINE_WIDTH,
    clip,
  }))

/** What x stands for, where that is a date. */
const stands = (note: string): string => (note ? ` (${note})` : '')

/** The readings of one line as they stand on the figure; empty where none are asked for. */
export function readingText(document: FigureDocument, { trend, report }: TrendAnswer): string {
  if (report.problem !== null) return ''
  const said = document.trends[trend]?.on_figure ?? []
  const parts = said.flatMap((what): string[] => {
    switch (what) {
      case 'equation':
        return report.equation === null ? [] : [report.equation + stands(report.equation_note)]
      case 'r_squared':
        return report.r_squared === null ? [] : [`R² = ${shareText(report.r_squared)}`]
      case 'r':
        return report.r === null ? [] : [`r = ${shareText(report.r)}`]
      case 'p_value':
        return report.p_value === null ? [] : [`p ${pText(report.p_value)}`]
      case 'n':
        return [`n = ${report.n}`]
    }
  })
  if (!parts.length) return ''
  return (report.group === null ? '' : `${report.group}: `) + parts.join(',\u2002')
}

/** The box of readings on the figure, each line in its trend's colour. */
export function readingsBlock(
  document: FigureDocument,
  answer: Answer,
  measure: Measure,
): Block | null {
  const lines = answer.trends
    .map((trend) => ({
      text: readingText(document, trend),
      colour: trendColour(document, answer, trend),
    }))
    .filter(({ text }) => text)
  if (!lines.length) return null
  const pen = penFor(document, 'readings')
  // In its trend's colour, unless one was chosen for all.
  const inked = document.type.parts.readings?.colour ? pen.colour : null
  const line = pen.size * 1.36
  const widths = lines.map(({ text }) => widthOf(parseRuns(text), pen, measure))
  return {
    width: Math.max(...widths) + 2 * PAD,
    height: lines.length * line + 2 * PAD,
    place: (x, y) =>
      lines.map(({ text, colour }, i) => ({
        kind: 'text',
        part: 'readings',
        x: x + PAD,
        y: y + PAD + i * line + pen.size,
        runs: parseRuns(text),
        ...pen,
        colour: inked ?? colour,
        anchor: 'start',
        turn: 0,
      })),
  }
}
