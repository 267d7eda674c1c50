/** Names of groups beside the plot, at the ends of their lines, where colour does not tell them apart. */
import type { Answer, FigureDocument, TrendAnswer } from '@/api/types'
import { CATEGORIES, SOFT_INK } from '@/render/colours'
import { entryOf, ofEntry } from '@/render/entries'
import type { Box, Item } from '@/render/scene'
import { penFor, type Pen } from '@/render/text/lettering'
import { literal, parseRuns, widthOf, type Measure } from '@/render/text/text'
import { partOf } from './trend-style'
import type { DrawnTrend } from './trends'

/** Between the end of the plot and the names. */
const GAP = 6
const LINE = 1.15
/** A name that stands so far from the end of its line gets a line to it. */
const STANDS_OFF = 4

/** Lines that have names: of groups without a colour of their own, or of more than there are colours. */
const isNamed = (trend: TrendAnswer, trends: readonly TrendAnswer[]): boolean =>
  trend.curve !== null &&
  trend.report.group !== null &&
  (trend.group_code === null ||
    trends.filter((one) => one.trend === trend.trend).length > CATEGORIES.length)

/** Whether every category that is drawn has its name beside a line of its colour, and nothing else. */
export function tellsColours({ colour, trends, counts }: Answer): boolean {
  if (colour?.scale !== 'category' || colour.missing || counts.set_aside) return false
  const named = new Set(
    trends.filter((trend) => isNamed(trend, trends)).map(({ group_code }) => group_code),
  )
  return colour.shown.every((isShown, code) => !isShown || named.has(code))
}

/** The name of a line's group, as the legend of this figure has it where it was renamed there. */
function nameOf({ legend }: FigureDocument, colour: Answer['colour'], trend: TrendAnswer): string {
  const { group_code: code, report } = trend
  const own =
    colour === null || code === null ? null : ofEntry(legend.renamed, entryOf(colour, code))
  return own ?? literal(report.group ?? '')
}

/** The room that names need beside the plot. */
export function lineLabelsRoom(
  document: FigureDocument,
  { trends, colour }: Answer,
  measure: Measure,
): number {
  const pen = penFor(document, 'legend')
  const widths = trends
    .filter((trend) => isNamed(trend, trends))
    .map((trend) => widthOf(parseRuns(nameOf(document, colour, trend)), pen, measure))
  return widths.length ? GAP + Math.max(...widths) : 0
}

interface Label {
  trend: DrawnTrend
  /** Where its line leaves the plot, or ends. */
  end: [number, number]
  /** The middle of its words. */
  y: number
}

/** Names in the order in which their lines end, none on another; and how many have no room. */
export function lineLabels(
  document: FigureDocument,
  { colour }: Answer,
  drawn: readonly DrawnTrend[],
  plot: Box,
): { items: Item[]; left: number } {
  const pen = penFor(document, 'legend')
  const trends = drawn.map(({ trend }) => trend)
  const labels = drawn
    .filter(({ trend }) => isNamed(trend, trends))
    .flatMap((trend): Label[] => {
      const end = lastWithin(trend.points, plot)
      return end ? [{ trend, end, y: end[1] }] : []
    })
    .sort((a, b) => a.y - b.y)
  const room = Math.max(0, Math.floor(plot.height / (pen.size * LINE)))
  const shown = labels.slice(0, room)
  spread(shown, pen.size * LINE, plot)
  return {
    items: shown.flatMap((label) =>
      itemsOf(label, nameOf(document, colour, label.trend.trend), plot, pen),
    ),
    left: labels.length - shown.length,
  }
}

function itemsOf({ trend, end, y }: Label, name: string, plot: Box, pen: Pen): Item[] {
  const x = plot.x + plot.width + GAP
  const isFar = Math.hypot(x - GAP - end[0], y - end[1]) > STANDS_OFF
  const words: Item = {
    kind: 'text',
    part: partOf(trend.trend),
    x,
    y: y + pen.size * 0.34,
    runs: parseRuns(name),
    ...pen,
    colour: trend.colour,
    anchor: 'start',
    turn: 0,
  }
  const leader: Item = {
    kind: 'path',
    part: partOf(trend.trend),
    points: Float64Array.of(...end, x - 2, y),
    closed: false,
    stroke: SOFT_INK,
    width: 0.6,
  }
  return isFar ? [leader, words] : [words]
}

/** The last place of a line that is inside the plot. */
function lastWithin(points: Float64Array, plot: Box): [number, number] | null {
  for (let i = points.length - 2; i >= 0; i -= 2) {
    const [x, y] = [points[i], points[i + 1]]
    if (x >= plot.x && x <= plot.x + plot.width && y >= plot.y && y <= plot.y + plot.height)
      return [x, y]
  }
  return null
}

/** Moves labels apart, up and down, as little as order allows, and keeps them beside the plot. */
function spread(labels: Label[], step: number, plot: Box): void {
  const [top, foot] = [plot.y + step / 2, plot.y + plot.height - step / 2]
  // Those that touch share the way that each has to go.
  let runs = labels.map((label) => ({ labels: [label], middle: label.y }))
  const half = ({ labels: { length } }: (typeof runs)[number]): number => ((length - 1) * step) / 2
  const within = (run: (typeof runs)[number]): void => {
    run.middle = Math.max(top + half(run), Math.min(run.middle, foot - half(run)))
  }
  for (let isMoved = true; isMoved;) {
    isMoved = false
    runs.forEach(within)
    for (let i = 0; i + 1 < runs.length; i++) {
      const [a, b] = [runs[i], runs[i + 1]]
      if (b.middle - half(b) - (a.middle + half(a)) >= step - 1e-9) continue
      const joined = [...a.labels, ...b.labels]
      const middle = joined.reduce((sum, { end }) => sum + end[1], 0) / joined.length
      runs = [...runs.slice(0, i), { labels: joined, middle }, ...runs.slice(i + 2)]
      isMoved = true
      break
    }
  }
  for (const run of runs)
    run.labels.forEach((label, i) => (label.y = run.middle - half(run) + i * step))
}
