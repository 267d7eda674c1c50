/** Readings printed on the figure: equations, R², p, and what is said where no trend is fitted. */
import type { Answer, FigureDocument, OnFigure, TrendAnswer } from '@/api/types'
import { INK } from '@/render/colours'
import { valueMarkup } from '@/render/geometry/ticks'
import type { Colour, Item } from '@/render/scene'
import { gaugeOf, penFor } from '@/render/text/lettering'
import { levelText, pText, rSquaredText, shareText } from '@/render/text/numbers'
import { literal, parseRuns, widthOf, wrap, type Measure } from '@/render/text/text'
import type { Block } from './block'
import { trendColour } from './trend-style'
import type { DrawnTrend } from './trends'

const PAD = 8
const BETWEEN = 12
const LINE = 1.36

/** What x stands for, where that is a date. */
const stands = (note: string): string => (note ? ` (${note})` : '')

const share = (name: string, value: number | null | undefined): string =>
  value === null || value === undefined ? '' : `${name} = ${shareText(value)}`

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
> & { r?: number | null; r_squared_log?: number | null; measures?: readonly FitMeasure[] }

type FitMeasure = NonNullable<TrendAnswer['report']['measures']>[number]

function readingOf(what: OnFigure, report: Sayable): string {
  switch (what) {
    case 'equation':
      return report.equation === null ? '' : report.equation + stands(report.equation_note)
    case 'r_squared':
      return rSquaredText(report)
    case 'adjusted_r_squared':
      return share('adjusted R²', report.adjusted_r_squared)
    case 'r':
      return share('r', report.r)
    case 'p_value':
      return report.p_value === null ? '' : `p ${pText(report.p_value)}`
    case 'n':
      return `n = ${report.n}`
    case 'residual_sd':
      return report.residual_sd === null
        ? ''
        : `residual SD = ${valueMarkup(Number(report.residual_sd.toPrecision(3)))}`
  }
}

/** The readings of one line: whose they are, and each by what it is. */
export interface ReadingLine {
  group: string | null
  readings: { what: string; text: string }[]
  colour: Colour
}

/** Chosen readings of a fit; none where there are none. */
export function readingLine(
  chosen: readonly OnFigure[],
  report: Sayable,
  colour: Colour,
): ReadingLine[] {
  if (report.problem !== null) return []
  const readings = chosen
    .map((what) => ({ what, text: readingOf(what, report) }))
    .filter(({ text }) => text)
  const group = report.group === null ? null : literal(report.group)
  return readings.length ? [{ group, readings, colour }] : []
}

const wordsOf = ({ group, readings }: ReadingLine): string =>
  (group === null ? '' : `${group}: `) + readings.map(({ text }) => text).join(',\u2002')

/** What is said of the two variables where no trend is fitted. */
function associationLine({ readings }: FigureDocument, { association }: Answer): ReadingLine[] {
  if (!association) return []
  const { r, low, high, level, p_value, n } = association
  const chosen = readings.association.flatMap((what): ReadingLine['readings'] => {
    if (what === 'r') return [{ what, text: `r = ${shareText(r)}` }]
    if (what === 'n') return [{ what, text: `n = ${n}` }]
    if (what === 'p_value') return p_value === null ? [] : [{ what, text: `p ${pText(p_value)}` }]
    return low === null || high === null
      ? []
      : [{ what, text: `${levelText(level)} interval ${shareText(low)} to ${shareText(high)}` }]
  })
  return chosen.length ? [{ group: null, readings: chosen, colour: INK }] : []
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
  const lines = answer.trends.flatMap((trend) =>
    readingLine(
      document.trends[trend.trend]?.on_figure ?? [],
      trend.report,
      trendColour(document, answer, trend),
    ).map((line) => ({ line, drawn: drawn.find((one) => one.trend === trend) ?? null })),
  )
  lines.push(...associationLine(document, answer).map((line) => ({ line, drawn: null })))
  if (!lines.length) return []
  const isBeside = document.readings.place === 'lines'
  return (isBeside ? lines.map((one) => [one]) : [lines]).map((of) => ({
    ...readingsBlock(
      document,
      of.map(({ line }) => line),
      measure,
      most,
    ),
    beside: of.length === 1 ? of[0].drawn : null,
  }))
}

/**
 * A block of readings: of several lines a table, where it is not too wide; otherwise lines, broken
 * where they are too long.
 */
export function readingsBlock(
  document: FigureDocument,
  lines: readonly ReadingLine[],
  measure: Measure,
  most: number,
): Block {
  const pen = penFor(document, 'readings')
  // In its trend's colour, unless one was chosen for all.
  const inked = document.type.parts.readings?.colour ? pen.colour : null
  const gauge = gaugeOf(document)
  const pad = PAD * gauge
  const step = pen.size * LINE
  const write = (text: string, x: number, y: number, colour: Colour): Item => ({
    kind: 'text',
    part: 'readings',
    x,
    y: y + pen.size,
    runs: parseRuns(text),
    ...pen,
    colour: inked ?? colour,
    anchor: 'start',
    turn: 0,
  })
  const { cells, widths } = tableOf(lines, (text) => widthOf(parseRuns(text), pen, measure))
  const between = BETWEEN * gauge
  const width = widths.reduce((sum, one) => sum + one + between, -between)
  if (lines.length > 1 && width + 2 * pad <= most) {
    // Where there is room, two or three of them side by side.
    const blocks = Math.min(
      Math.ceil(lines.length / LEAST_ROWS),
      Math.floor((most - 2 * pad + 2 * between) / (width + 2 * between)),
    )
    const rows = Math.ceil(lines.length / blocks)
    return {
      width: blocks * (width + 2 * between) - 2 * between + 2 * pad,
      height: rows * step + 2 * pad,
      place: (x, y) =>
        lines.flatMap(({ colour }, i) => {
          let left = x + pad + Math.floor(i / rows) * (width + 2 * between)
          return widths.flatMap((wide, column) => {
            const at = left
            left += wide + between
            const text = cells[i][column]
            return text ? [write(text, at, y + pad + (i % rows) * step, colour)] : []
          })
        }),
    }
  }
  const broken = lines.flatMap((line) =>
    wrap(wordsOf(line), most - 2 * pad, pen, measure).map((runs) => ({ runs, line })),
  )
  return {
    width: Math.max(...broken.map(({ runs }) => widthOf(runs, pen, measure))) + 2 * pad,
    height: broken.length * step + 2 * pad,
    place: (x, y) =>
      broken.map(({ runs, line }, i) => ({
        ...write('', x + pad, y + pad + i * step, line.colour),
        runs,
      })) as Item[],
  }
}

/** A table is not parted where fewer rows than this would stand in each part. */
const LEAST_ROWS = 6

/** Lines as rows of a table: the group, and each kind of reading, in a column of its own. */
function tableOf(
  lines: readonly ReadingLine[],
  width: (text: string) => number,
): { cells: string[][]; widths: number[] } {
  const kinds = [...new Set(lines.flatMap(({ readings }) => readings.map(({ what }) => what)))]
  const rows = lines.map(({ group, readings }) => [
    group ?? '',
    ...kinds.map((what) => readings.find((one) => one.what === what)?.text ?? ''),
  ])
  const used = rows[0].map((_, column) => column).filter((c) => rows.some((row) => row[c]))
  return {
    cells: rows.map((row) => used.map((column) => row[column])),
    widths: used.map((column) => Math.max(...rows.map((row) => width(row[column])))),
  }
}
