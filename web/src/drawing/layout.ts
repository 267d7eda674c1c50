/** From a document and its answer to a scene: the one place where a figure is laid out. */
import type { Answer, AxisAnswer, Axis, FigureDocument, Marks } from '@/api/types'
import {
  axisAcross,
  axisUp,
  overhang,
  roomBelow,
  roomLeft,
  tickMaker,
  ticksAcross,
  ticksUp,
  titleLines,
} from './axes'
import { INK, PAPER, SOFT_INK } from './colours'
import { corners, legendBlock, type Block } from './legend'
import { looksOf } from './looks'
import { emptiestCorner } from './placing'
import { hugging, linearScale, type Extent, type Scale } from './scale'
import type { Box, Item, MarksItem, Region, Scene } from './scene'
import { parseRuns, wrap, type Measure } from './text'
import { bandItems, drawnTrends, lineItems, readingsBlock, type DrawnTrend } from './trends'

const PAD = 16
const TITLE_SIZE = 17
const TITLE_LINE = 22
/** A box inside the plot may cover this share of the marks before it moves out. */
const MOST_COVERED = 0.002

/** Everything a figure is drawn from. */
export interface Figure {
  document: FigureDocument
  answer: Answer
  marks: Marks
}

/** The ends of both axes. */
export interface View {
  x: Extent
  y: Extent
}

export interface Layout {
  scene: Scene
  plot: Box
  x: Scale
  y: Scale
  marks: MarksItem
  trends: DrawnTrend[]
}

/** The ends with which a figure starts: those of its document, or such as hug the data. */
export function homeView({ document, answer }: Figure): View {
  return {
    x: ends(document.axes.x, answer.x, []),
    y: ends(
      document.axes.y,
      answer.y,
      answer.trends.flatMap(({ curve }) => curve?.y ?? []),
    ),
  }
}

/** Ends that hug the data, and the lines as far as they pass the data but not zero. */
function ends(axis: Axis, data: AxisAnswer, lines: number[]): Extent {
  const low0 = data.low ?? 0
  const high0 = data.high ?? 1
  const least = lines.reduce((a, b) => Math.min(a, b), low0)
  const most = lines.reduce((a, b) => Math.max(a, b), high0)
  const [low, high] = hugging(
    low0 >= 0 ? Math.max(0, least) : least,
    high0 <= 0 ? Math.min(0, most) : most,
  )
  const from = axis.low ?? (axis.high !== null && low >= axis.high ? axis.high - 1 : low)
  const to = axis.high ?? (high <= from ? from + 1 : high)
  return [from, to]
}

const axisTitle = (axis: Axis, { variable }: AxisAnswer): string =>
  axis.title ?? (variable.unit ? `${variable.label} (${variable.unit})` : variable.label)

export function layoutFigure(figure: Figure, measure: Measure, view = homeView(figure)): Layout {
  const { document, answer, marks } = figure
  const { width, height } = document.page
  const titleRuns = document.title
    ? wrap(document.title, width - 2 * PAD, TITLE_SIZE, 600, measure)
    : []
  const top = PAD + titleRuns.length * TITLE_LINE + (titleRuns.length ? 4 : 0)
  const makeX = tickMaker(answer.x.variable.kind === 'date')
  const makeY = tickMaker(answer.y.variable.kind === 'date')
  const looks = looksOf(document, answer, marks, width * height * 0.7)
  const legend = legendBlock(document, answer, looks, measure)
  const home = homeView(figure)

  const arrange = (aside: 'right' | 'below' | null): Arranged => {
    const right = legend && aside === 'right' ? legend.width + 4 : 0
    const below = legend && aside === 'below' ? legend.height : 0
    const xTitle = titleLines(axisTitle(document.axes.x, answer.x), width * 0.7, measure)
    const plotHeight = height - top - PAD - roomBelow(xTitle) - below
    const yTitle = titleLines(axisTitle(document.axes.y, answer.y), plotHeight, measure)
    const yTicks = ticksUp(makeY, view.y, plotHeight)
    const left = PAD + roomLeft(yTicks, yTitle, measure)
    const xTicks = ticksAcross(makeX, view.x, width - left - PAD - right, measure)
    const reach = Math.max(PAD, overhang(xTicks, measure) + 4)
    const plot = { x: left, y: top, width: width - left - reach - right, height: plotHeight }
    return { plot, xTitle, yTitle, xTicks, yTicks }
  }

  let arranged = arrange(null)
  let legendBox: Box | null = null
  const taken: Box[] = []
  const corner = (block: Block, plot: Box) => {
    // Placed for the figure at rest, so that nothing jumps about while it is zoomed and moved.
    const x = linearScale(home.x, [plot.x, plot.x + plot.width])
    const y = linearScale(home.y, [plot.y + plot.height, plot.y])
    const curves = drawnTrends(answer, x, y).map(({ points }) => points)
    return emptiestCorner(
      block,
      plot,
      sampled(marks.x).map(x.toPage),
      sampled(marks.y).map(y.toPage),
      curves,
      taken,
    )
  }
  if (legend) {
    const { place } = document.legend
    const inside = place === 'auto' || place === 'inside' ? corner(legend, arranged.plot) : null
    if (inside && (place === 'inside' || inside.covered <= MOST_COVERED)) {
      legendBox = inside.box
    } else {
      const aside = place === 'below' ? 'below' : 'right'
      arranged = arrange(aside)
      const { plot } = arranged
      legendBox = {
        x: aside === 'right' ? width - PAD / 2 - legend.width : plot.x,
        y: aside === 'right' ? plot.y - 4 : height - PAD - legend.height,
        width: legend.width,
        height: legend.height,
      }
    }
    taken.push(legendBox)
  }

  const { plot } = arranged
  const x = linearScale(view.x, [plot.x, plot.x + plot.width])
  const y = linearScale(view.y, [plot.y + plot.height, plot.y])
  const clip = grown(plot, Math.min(6, document.marks.size / 2 + 1))
  const placed: MarksItem = {
    kind: 'marks',
    part: 'marks',
    x: Float32Array.from(marks.x, x.toPage),
    y: Float32Array.from(marks.y, y.toPage),
    look: looks.of,
    looks: looks.looks,
    paper: PAPER,
    clip,
  }
  const trends = drawnTrends(answer, x, y)
  const readings = readingsBlock(document, answer, measure)
  const readingsBox = readings && corner(readings, plot).box
  const across = axisAcross(x, span(answer.x), arranged.xTicks, arranged.xTitle, plot, measure)
  const up = axisUp(y, span(answer.y), arranged.yTicks, arranged.yTitle, plot, measure)
  const items: Item[] = [
    ...bandItems(answer, x, y, clip),
    placed,
    ...lineItems(trends, clip),
    ...across.items,
    ...up.items,
    ...titleRuns.map((runs, i): Item => ({
      kind: 'text',
      part: 'title',
      x: PAD,
      y: PAD + TITLE_SIZE * 0.9 + i * TITLE_LINE,
      runs,
      size: TITLE_SIZE,
      weight: 600,
      colour: INK,
      anchor: 'start',
      turn: 0,
    })),
    ...blockItems(legend, legendBox),
    ...blockItems(readings, readingsBox),
    ...(answer.counts.drawn ? [] : [nothing(answer, plot)]),
  ]
  const regions: Region[] = [
    { part: 'x-axis', box: across.box },
    { part: 'y-axis', box: up.box },
    ...(titleRuns.length
      ? [{ part: 'title' as const, box: { x: 0, y: 0, width, height: top } }]
      : []),
    ...(legendBox ? [{ part: 'legend' as const, box: legendBox }] : []),
    ...(readingsBox ? [{ part: 'readings' as const, box: readingsBox }] : []),
  ]
  return {
    scene: { width, height, paper: PAPER, items, regions },
    plot,
    x,
    y,
    marks: placed,
    trends,
  }
}

interface Arranged {
  plot: Box
  xTitle: ReturnType<typeof titleLines>
  yTitle: ReturnType<typeof titleLines>
  xTicks: ReturnType<typeof ticksUp>
  yTicks: ReturnType<typeof ticksUp>
}

/** Where boxes find room shows in a few thousand marks as well as in a million. */
const ENOUGH_FOR_ROOM = 5000

function sampled(values: Float64Array): Float64Array {
  const step = Math.max(1, Math.ceil(values.length / ENOUGH_FOR_ROOM))
  return step === 1 ? values : values.filter((_, i) => i % step === 0)
}

const span = ({ low, high }: AxisAnswer): Extent => [low ?? 0, high ?? 1]

const grown = ({ x, y, width, height }: Box, by: number): Box => ({
  x: x - by,
  y: y - by,
  width: width + 2 * by,
  height: height + 2 * by,
})

/** A block on a ground of paper, so that what it may cover does not run through its words. */
function blockItems(block: Block | null, box: Box | null): Item[] {
  if (!block || !box) return []
  return [
    {
      kind: 'path',
      part: 'ground',
      points: corners(box),
      closed: true,
      fill: PAPER,
      fillOpacity: 0.82,
    },
    ...block.place(box.x, box.y),
  ]
}

function nothing(answer: Answer, plot: Box): Item {
  const { label } = answer.y.variable
  return {
    kind: 'text',
    part: 'ground',
    x: plot.x + plot.width / 2,
    y: plot.y + plot.height / 2,
    runs: parseRuns(`No row has both ${label} and ${answer.x.variable.label}.`),
    size: 14,
    weight: 400,
    colour: SOFT_INK,
    anchor: 'middle',
    turn: 0,
  }
}
