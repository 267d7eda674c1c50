/** From a document and its answer to a scene: the one place where a figure is laid out. */
import type { Answer, AxisAnswer, Axis, FigureDocument, Marks } from '@/api/types'
import { drawAxis, fitAxis, gridItems, pensOf, withoutWords, type Fitted, type Side } from './axes'
import { fromHex, mixed, SOFT_INK } from './colours'
import { MANY } from './density'
import { jittered, jitterReach } from './jitter'
import { placeNames, type PlacedName } from './labels'
import { corners, legendBlock, type Block, type EntryBox } from './legend'
import { penFor } from './lettering'
import { looksOf, type Looks } from './looks'
import { marginItems, marginRoom } from './margins'
import { barItems, connectItems, noteItems, referenceItems } from './overlays'
import { emptiestCorner } from './placing'
import { hugging, makeScale, warpOf, type Extent, type Scale } from './scale'
import {
  contains,
  type Box,
  type Colour,
  type Item,
  type MarksItem,
  type Region,
  type Scene,
} from './scene'
import { parseRuns, widthOf, type Measure } from './text'
import { readOffItems } from './readoffs'
import {
  bandItems,
  drawnTrends,
  lineItems,
  readingsBlocks,
  type DrawnTrend,
  type ReadingsBlock,
} from './trends'
import { captionOn, figureWords, padOf } from './words'

/** A box inside the plot may cover this share of the marks before it moves out. */
const MOST_COVERED = 0.002
const LEADER = fromHex('#8a9996')

/** Everything a figure is drawn from. */
export interface Figure {
  document: FigureDocument
  answer: Answer
  marks: Marks
  /** The code of a category, where all others are faded for a moment. */
  only?: number | null
  /** Its place among the figures of its study, from 1. */
  number?: number
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
  /** For each drawn mark, its place among the answer's marks. */
  source: Uint32Array
  /** How far each drawn mark reaches, in points. */
  radius: (drawn: number) => number
  trends: DrawnTrend[]
  names: PlacedName[]
  /** Entries of the legend, where they stand. */
  entries: EntryBox[]
  /** Where a row's mark stands on the page; null where it is not drawn. */
  rowPlace: (row: number) => [number, number] | null
  /** Marks that an axis has no place for: zero and below on a logarithmic one. */
  off: number
}

type Curve = NonNullable<Answer['trends'][number]['curve']>

/** The ends with which a figure starts: those of its document, or such as hug the data. */
export function homeView({ document, answer, marks }: Figure): View {
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

/** The lowest and the highest end of error bars. */
function barEnds(low: Float64Array | null, high: Float64Array | null): number[] {
  if (!low || !high) return []
  const least = low.reduce((a, b) => (b < a ? b : a), Infinity)
  const most = high.reduce((a, b) => (b > a ? b : a), -Infinity)
  return [least, most].filter(Number.isFinite)
}

/** Ends that hug the data, and the lines as far as they pass the data but not zero. */
function ends(
  axis: Axis,
  data: AxisAnswer,
  values: Float64Array,
  lines: number[],
  reach: number,
): Extent {
  const warp = warpOf(axis.scale)
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
      ? hugging(low0 >= 0 ? Math.max(0, least) : least, high0 <= 0 ? Math.min(0, most) : most)
      : hugging(low0, most, warp)
  // Jitter may carry marks past zero, and none of them is cut off.
  const lowest = reach && axis.scale === 'linear' ? Math.min(low, low0 - 1.1 * reach) : low
  const highest = reach && axis.scale === 'linear' ? Math.max(high, high0 + 1.1 * reach) : high
  const from = axis.low ?? (axis.high !== null && lowest >= axis.high ? axis.high - 1 : lowest)
  const to = axis.high ?? (highest <= from ? from + 1 : highest)
  return [from, to]
}

const axisTitle = (axis: Axis, { variable }: AxisAnswer): string =>
  axis.title ?? (variable.unit ? `${variable.label} (${variable.unit})` : variable.label)

interface Arranged {
  plot: Box
  x: Fitted
  y: Fitted
}

/** Room beside the plot, in points. */
export interface Insets {
  left: number
  right: number
  top: number
  bottom: number
}

/** How a figure fits in with others on a page. */
export interface Setting {
  /** At least so much room is kept, so that plots stand in line. */
  least?: Insets
  /** Axes that another figure labels. */
  unlabelled?: { x: boolean; y: boolean }
}

export function layoutFigure(
  figure: Figure,
  measure: Measure,
  view = homeView(figure),
  { least = { left: 0, right: 0, top: 0, bottom: 0 }, unlabelled }: Setting = {},
): Layout {
  const { document, answer, marks } = figure
  const { width, height } = document.page
  const paper = fromHex(document.page.background)
  const words = figureWords(document, measure, captionOn(figure))
  const pad = padOf(document)
  const looks = looksOf(document, answer, marks, width * height * 0.7, figure.only)
  const legend = legendBlock(document, answer, looks, measure)
  const home = homeView(figure)
  const moved = {
    x: jittered(marks.x, marks.row, document.jitter.x, 1),
    y: jittered(marks.y, marks.row, document.jitter.y, 2),
  }

  const arrange = (aside: 'right' | 'below' | null): Arranged => {
    const beside = marginRoom(document, answer, 'y')
    const right = (legend && aside === 'right' ? legend.width + 4 : 0) + beside
    const top = Math.max(least.top, words.top + marginRoom(document, answer, 'x'))
    const below = legend && aside === 'below' ? legend.height : 0
    const pens = pensOf(document)
    const fitted = (side: Side, length: number): Fitted => {
      const axis = document.axes[side]
      const scale = makeScale(warpOf(axis.scale), view[side], axis.reversed ? [1, 0] : [0, 1])
      const isDate = answer[side].variable.kind === 'date'
      const title = axisTitle(axis, answer[side])
      const wanted = { axis, isDate, title, pens }
      const made = fitAxis(side, wanted, scale.toPage, view[side], length, measure)
      return unlabelled?.[side] ? withoutWords(made) : made
    }
    const guess = fitted('x', width * 0.7)
    const plotHeight = height - top - pad - guess.room - below - words.below
    const y = fitted('y', plotHeight)
    const left = Math.max(least.left, pad + y.room)
    const x = fitted('x', width - left - pad - right)
    const reach = Math.max(pad, x.overhang + 4)
    const bottom = Math.max(least.bottom, pad + x.room + below + words.below)
    const plot = {
      x: left,
      y: top,
      width: Math.max(20, width - left - Math.max(least.right, reach + right)),
      height: Math.max(20, height - top - bottom),
    }
    return { plot, x, y }
  }

  let arranged = arrange(null)
  let legendBox: Box | null = null
  const taken: Box[] = []
  const scalesFor = (ends: View, plot: Box) => scalesOf(document, ends, plot)
  const corner = (block: Block, plot: Box) => {
    // Placed for the figure at rest, so that nothing jumps about while it is zoomed and moved.
    const { x, y } = scalesFor(home, plot)
    const curves = drawnTrends(document, answer, x, y).map(({ points }) => points)
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
    if (place === 'free') {
      legendBox = boxWithin(legend, document.legend.x * width, document.legend.y * height, document)
    } else if (inside && (place === 'inside' || inside.covered <= MOST_COVERED)) {
      legendBox = inside.box
    } else {
      const aside = place === 'below' ? 'below' : 'right'
      arranged = arrange(aside)
      const { plot } = arranged
      legendBox = {
        x: aside === 'right' ? width - pad / 2 - legend.width : plot.x,
        y: aside === 'right' ? plot.y - 4 : height - pad - words.below - legend.height,
        width: legend.width,
        height: legend.height,
      }
    }
    taken.push(legendBox)
  }

  const plot = document.axes.equal ? squared(arranged.plot, view) : arranged.plot
  const { x, y } = scalesFor(view, plot)
  const radius = document.size ? document.size.largest / 2 : 0
  const clip = grown(plot, Math.max(radius, Math.min(6, document.marks.size / 2 + 1)))
  const placed = placeMarks(document, moved, looks, x, y, clip, paper)
  const markers = markerItems(figure, placed, paper, measure)
  const trends = drawnTrends(document, answer, x, y)
  const readings = readingsBlocks(document, answer, trends, measure, plot.width).map((block) => {
    const box = readingsBox(document, block, plot, taken, () => corner(block, plot).box)
    taken.push(box)
    return { block, box }
  })
  const names = namesOn(figure, placed, plot, taken, measure)
  const scales = { x, y }
  const readOffs = readOffItems(document, answer, trends, x, y, plot, measure)
  const places = { x: placed.all.x, y: placed.all.y }
  const references = referenceItems(document, answer, scales, plot, measure)
  const notes = noteItems(document, scales, measure)
  const axes = document.axes
  const across = drawAxis('x', arranged.x, x, span(answer.x), plot, {
    frame: axes.frame,
    crossing: crossing(axes.y, y),
  })
  const up = drawAxis('y', arranged.y, y, span(answer.y), plot, {
    frame: axes.frame,
    crossing: crossing(axes.x, x),
  })
  const items: Item[] = [
    ...gridItems('x', arranged.x, x, plot),
    ...gridItems('y', arranged.y, y, plot),
    ...references.under,
    ...bandItems(document, answer, x, y, clip),
    ...connectItems(document, answer, marks, looks, places, clip),
    ...barItems(document, marks, looks, places, scales, clip),
    ...(markers ?? [placed.item]),
    ...references.over,
    ...lineItems(document, trends, clip),
    ...(axes.frame === 'box' ? [outlined(plot, axes.x.colour, Math.max(0.5, axes.x.width))] : []),
    ...across.items,
    ...up.items,
    ...marginItems(document, answer, 'x', x, plot),
    ...marginItems(document, answer, 'y', y, plot),
    ...names.items,
    ...words.items,
    ...blockItems(legend, legendBox, paper),
    ...readOffs.items,
    ...readings.flatMap(({ block, box }) => blockItems(block, box, paper)),
    ...notes.items,
    ...(document.page.frame
      ? [outlined(grown({ x: 0, y: 0, width, height }, -0.5), document.page.frame, 1)]
      : []),
    ...(answer.counts.drawn ? [] : [nothing(figure, plot)]),
  ]
  const regions: Region[] = [
    ...notes.regions,
    ...names.placed.map(({ box }) => ({ part: 'names' as const, box })),
    ...(legendBox ? [{ part: 'legend' as const, box: legendBox }] : []),
    ...readings.map(({ box }) => ({ part: 'readings' as const, box })),
    ...readOffs.regions,
    { part: 'x-axis', box: across.box },
    { part: 'y-axis', box: up.box },
    ...words.regions,
    ...references.regions,
  ]
  return {
    scene: { width, height, paper, items, regions },
    plot,
    x,
    y,
    marks: placed.item,
    source: placed.source,
    radius: placed.radius,
    trends,
    names: names.placed,
    entries: (legendBox && legend?.entries?.(legendBox.x, legendBox.y)) ?? [],
    rowPlace: (row) => {
      const drawn = placed.source.findIndex((i) => marks.row[i] === row)
      return drawn < 0 ? null : [placed.item.x[drawn], placed.item.y[drawn]]
    },
    off: placed.off,
  }
}

function scalesOf({ axes }: FigureDocument, ends: View, plot: Box): { x: Scale; y: Scale } {
  const [left, right] = [plot.x, plot.x + plot.width]
  const [top, bottom] = [plot.y, plot.y + plot.height]
  return {
    x: makeScale(warpOf(axes.x.scale), ends.x, axes.x.reversed ? [right, left] : [left, right]),
    y: makeScale(warpOf(axes.y.scale), ends.y, axes.y.reversed ? [top, bottom] : [bottom, top]),
  }
}

/** The largest part of the plot on which a unit is as long across as up. */
function squared(plot: Box, { x, y }: View): Box {
  const unit = Math.min(plot.width / (x[1] - x[0]), plot.height / (y[1] - y[0]))
  const [width, height] = [unit * (x[1] - x[0]), unit * (y[1] - y[0])]
  return { x: plot.x, y: plot.y + plot.height - height, width, height }
}

/** Where this axis crosses the other one, if it is to stand at a value that is in view. */
function crossing({ crosses }: Axis, scale: Scale): number | null {
  if (crosses === null || crosses < scale.domain[0] || crosses > scale.domain[1]) return null
  return scale.toPage(crosses)
}

interface PlacedMarks {
  item: MarksItem
  source: Uint32Array
  radius: (drawn: number) => number
  /** Places of all the answer's marks in their own order. */
  all: { x: Float32Array; y: Float32Array }
  off: number
}

/** Puts the marks in their places, in the order in which they are drawn. */
function placeMarks(
  document: FigureDocument,
  values: { x: Float64Array; y: Float64Array },
  looks: Looks,
  x: Scale,
  y: Scale,
  clip: Box,
  paper: MarksItem['paper'],
): PlacedMarks {
  const all = {
    x: Float32Array.from(values.x, x.toPage),
    y: Float32Array.from(values.y, y.toPage),
  }
  const count = all.x.length
  let off = 0
  if (document.axes.x.scale !== 'linear' || document.axes.y.scale !== 'linear')
    for (let i = 0; i < count; i++)
      if (Number.isNaN(all.x[i]) || Number.isNaN(all.y[i])) {
        off++
        // Far off the page, where nothing is drawn and no pointer comes.
        all.x[i] = all.y[i] = -1e6
      }
  const { order, of, sizes } = looks
  const source = order ?? Uint32Array.from({ length: count }, (_, i) => i)
  const inOrder = order
    ? {
        x: Float32Array.from(order, (i) => all.x[i]),
        y: Float32Array.from(order, (i) => all.y[i]),
        look: Uint16Array.from(order, (i) => of[i]),
      }
    : { ...all, look: of }
  const { density } = document.marks
  return {
    item: {
      kind: 'marks',
      part: 'marks',
      ...inOrder,
      looks: looks.looks,
      paper,
      clip,
      density: density === 'on' || (density === 'auto' && inView(inOrder, clip) > MANY),
    },
    source,
    radius: (drawn) => (sizes ? sizes[source[drawn]] : looks.looks[of[source[drawn]]].size) / 2,
    all,
    off,
  }
}

/** Above so many marks, letters in their place could not be read. */
const MOST_LETTERS = 5000
/** Letters are as tall as a disc of the same size is wide to the eye. */
const LETTER_SIZE = 1.75
const LEAST_LETTER = 6
const NO_TEXT = 65_535

/** Short texts in the place of markers; null where markers are drawn. */
function markerItems(
  { document, answer, marks }: Figure,
  { item, source }: PlacedMarks,
  paper: Colour,
  measure: Measure,
): Item[] | null {
  const texts = answer.markers
  if (!texts || !marks.text || item.density || item.x.length > MOST_LETTERS) return null
  const pen = penFor(document, 'names')
  const items: Item[] = []
  for (let drawn = 0; drawn < item.x.length; drawn++) {
    const code = marks.text[source[drawn]]
    if (code === NO_TEXT || !contains(item.clip, item.x[drawn], item.y[drawn])) continue
    const look = item.looks[item.look[drawn]]
    const runs = parseRuns(texts[code])
    const bold = { ...pen, weight: 600 as const }
    const tall = look.size * LETTER_SIZE
    // A bubble's words are as wide as it is, so that those of large ones leave room for others.
    const wide = widthOf(runs, { ...bold, size: 1 }, measure)
    const size = document.size ? Math.max(LEAST_LETTER, Math.min(tall, look.size / wide)) : tall
    const opacity = look.hollow ? look.opacity : Math.max(look.opacity, 0.85)
    items.push({
      kind: 'text',
      part: 'marks',
      x: item.x[drawn],
      y: item.y[drawn] + size * 0.34,
      runs,
      ...bold,
      size,
      colour: mixed(look.colour, paper, opacity),
      anchor: 'middle',
      turn: 0,
    })
  }
  return items
}

function inView({ x, y }: { x: Float32Array; y: Float32Array }, clip: Box): number {
  if (x.length <= MANY) return 0
  let count = 0
  for (let i = 0; i < x.length; i++)
    if (
      x[i] >= clip.x &&
      x[i] <= clip.x + clip.width &&
      y[i] >= clip.y &&
      y[i] <= clip.y + clip.height
    )
      count++
  return count
}

function namesOn(
  { document, answer, marks }: Figure,
  placed: PlacedMarks,
  plot: Box,
  taken: readonly Box[],
  measure: Measure,
): { placed: PlacedName[]; items: Item[] } {
  const { names } = document
  if (!names || !answer.names) return { placed: [], items: [] }
  const pen = penFor(document, 'names')
  const { size } = pen
  const at = new Map<number, number>()
  placed.source.forEach((i, drawn) => at.set(marks.row[i], drawn))
  const texts = new Map<number, string>()
  const wanted = answer.names.rows.flatMap((row, k) => {
    const drawn = at.get(row)
    if (drawn === undefined) return []
    const [x, y] = [placed.item.x[drawn], placed.item.y[drawn]]
    const moved = (names.moved[String(row)] ?? null) as [number, number] | null
    const inside =
      x >= plot.x && x <= plot.x + plot.width && y >= plot.y && y <= plot.y + plot.height
    if (!inside || texts.has(row)) return []
    const text = answer.names!.texts[k]
    texts.set(row, text)
    const width = widthOf(parseRuns(text), pen, measure)
    return [{ row, x, y, radius: placed.radius(drawn), width, height: size * 1.15, moved }]
  })
  const found = placeNames(wanted, plot, placed.item.x, placed.item.y, placed.radius, taken)
  return {
    placed: found,
    items: found.flatMap(({ row, box, leader }): Item[] => [
      ...(leader
        ? [
            {
              kind: 'path' as const,
              part: 'names' as const,
              points: Float64Array.from(leader),
              closed: false,
              stroke: LEADER,
              width: 0.8,
            },
          ]
        : []),
      {
        kind: 'text',
        part: 'names',
        x: box.x,
        y: box.y + size * 0.9,
        runs: [{ text: texts.get(row)!, place: 'line' }],
        ...pen,
        anchor: 'start',
        turn: 0,
      },
    ]),
  }
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

/** Where readings stand: where they were put, beside the end of their line, or in a corner. */
function readingsBox(
  document: FigureDocument,
  block: ReadingsBlock,
  plot: Box,
  taken: readonly Box[],
  corner: () => Box,
): Box {
  const { place, x, y } = document.readings
  if (place === 'free')
    return boxWithin(block, x * document.page.width, y * document.page.height, document)
  if (place !== 'lines' || !block.beside) return corner()
  const { points } = block.beside
  // Over the line's last part that is in view, and further up where another box stands.
  let last = points.length - 2
  while (last > 0 && !(points[last] <= plot.x + plot.width && points[last + 1] >= plot.y)) last -= 2
  const at = Math.max(0, last - (last >> 3))
  const left = Math.max(
    plot.x,
    Math.min(points[last] - block.width, plot.x + plot.width - block.width),
  )
  let top = Math.max(plot.y, (points[at + 1] || plot.y) - block.height)
  const size = { width: block.width, height: block.height }
  while (top > plot.y && taken.some((box) => meets({ x: left, y: top, ...size }, box))) top -= 4
  return { x: left, y: Math.max(plot.y, top), ...size }
}

const meets = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

/** A box where it was dragged, as far as the page reaches. */
function boxWithin(
  { width, height }: { width: number; height: number },
  x: number,
  y: number,
  { page }: FigureDocument,
): Box {
  return {
    x: Math.max(0, Math.min(x, page.width - width)),
    y: Math.max(0, Math.min(y, page.height - height)),
    width,
    height,
  }
}

const outlined = (box: Box, colour: string, width: number): Item => ({
  kind: 'path',
  part: 'ground',
  points: corners(box),
  closed: true,
  stroke: fromHex(colour),
  width,
})

/** A block on a ground of paper, so that what it may cover does not run through its words. */
function blockItems(block: Block | null, box: Box | null, paper: MarksItem['paper']): Item[] {
  if (!block || !box) return []
  return [
    {
      kind: 'path',
      part: 'ground',
      points: corners(box),
      closed: true,
      fill: paper,
      fillOpacity: 0.82,
    },
    ...block.place(box.x, box.y),
  ]
}

function nothing({ document, answer }: Figure, plot: Box): Item {
  const { label } = answer.y.variable
  return {
    kind: 'text',
    part: 'ground',
    x: plot.x + plot.width / 2,
    y: plot.y + plot.height / 2,
    runs: parseRuns(`No row has both ${label} and ${answer.x.variable.label}.`),
    ...{ ...penFor(document, 'caption'), size: 14, colour: SOFT_INK },
    anchor: 'middle',
    turn: 0,
  }
}
