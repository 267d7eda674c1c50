/** The scatterplot matrix: laid out as one scene, cell by cell. */
import type { Answer, FigureDocument, Marks, MatrixCell, MatrixVariable } from '@/api/types'
import { CATEGORIES, dew, fromHex, INK, mixed, SOFT_INK } from './colours'
import { MANY } from './density'
import { jittered } from './jitter'
import { corners, legendBlock } from './legend'
import { bold, penFor, type Pen } from './lettering'
import { colourOn, looksOf } from './looks'
import { shareText } from './numbers'
import { hugging, linearScale, type Scale } from './scale'
import type { Box, Colour, Item, MarksItem, Region, Scene } from './scene'
import { parseRuns, widthOf, wrap, type Measure } from './text'
import { ticksOf, type Tick } from './ticks'
import { captionOn, figureWords, padOf } from './words'

/** Everything a matrix is drawn from. */
export interface MatrixFigure {
  document: FigureDocument
  answer: Answer
  marks: Marks
}

/** A pair in its place. */
export interface PlacedCell {
  cell: MatrixCell
  box: Box
  x: Scale
  y: Scale
  /** Its marks; none where it shows something else. */
  marks: MarksItem | null
}

export interface MatrixLayout {
  scene: Scene
  cells: PlacedCell[]
  /** Where each variable is named. */
  diagonal: Box[]
  /** For each drawn mark, its place among the answer's marks. */
  source: (drawn: number) => number
  /** How far each drawn mark reaches, in points. */
  radius: (drawn: number) => number
}

type Matrix = NonNullable<FigureDocument['matrix']>

const GAP = 5
const INSET = 4
const TICK = 3
/** Marks are smaller than on a figure of one pair, and smaller still where there are many cells. */
const SHRINK = 0.62
/** Variables with at most so many different values are drawn with jitter. */
const FEW_VALUES = 12
const JITTER = 0.35
const FRAME = fromHex('#cfd8d3')
const CONTOUR_OPACITY = 0.16

const matrixOf = (document: FigureDocument): Matrix => document.matrix!

/** What a cell shows: its region's content. */
export function contentOf(document: FigureDocument, { x, y, strip }: MatrixCell) {
  const content = y > x ? matrixOf(document).below : matrixOf(document).above
  // Where one of the two holds categories there is nothing but its marks.
  return strip && content !== 'nothing' ? 'points' : content
}

export function layoutMatrix(figure: MatrixFigure, measure: Measure): MatrixLayout {
  const { document, answer, marks } = figure
  const { width, height } = document.page
  const paper = fromHex(document.page.background)
  const variables = answer.matrix!.variables
  const count = variables.length
  const words = figureWords(document, measure, captionOn(figure))
  const pad = padOf(document)
  const small: FigureDocument = {
    ...document,
    size: null,
    marks: {
      ...document.marks,
      size: Math.max(1.6, document.marks.size * SHRINK * shrinkOf(count)),
    },
  }
  const looks = looksOf(small, answer, marks, (width * height) / (count * count))
  const legend = legendBlock(document, answer, looks, measure)
  const tick: Pen = penFor(document, 'tick_labels')
  tick.size *= Math.max(0.6, shrinkOf(count))
  const outer = matrixOf(document).axes === 'outer' ? tick.size * 1.2 + TICK + 3 : 0
  const across = outer ? widestTick(variables, tick, measure) + TICK + 4 : 0
  const right = legend ? legend.width : 0
  const area = {
    x: pad + across,
    y: words.top + outer,
    width: width - 2 * (pad + across) - right,
    height: height - words.top - words.below - pad - 2 * outer,
  }
  const side = {
    width: (area.width - GAP * (count - 1)) / count,
    height: (area.height - GAP * (count - 1)) / count,
  }
  const boxOf = (i: number, j: number): Box => ({
    x: area.x + i * (side.width + GAP),
    y: area.y + j * (side.height + GAP),
    ...side,
  })
  const xs = variables.map((v, i) => scaleOf(v, boxOf(i, 0), 'x'))
  const ys = variables.map((v, j) => scaleOf(v, boxOf(0, j), 'y'))
  const moved = places(document, variables, marks)
  const { order } = looks
  const columns = moved.x.map((values, i) => onPage(values, xs[i], order))
  const rows = moved.y.map((values, j) => onPage(values, ys[j], order))
  const look = order ? Uint16Array.from(order, (i) => looks.of[i]) : looks.of
  const { density } = document.marks
  const items: Item[] = []
  const diagonal: Box[] = []
  const regions: Region[] = [...words.regions]
  variables.forEach((variable, i) => {
    const box = boxOf(i, i)
    diagonal.push(box)
    items.push(...diagonalItems(figure, variable, box, xs[i], measure))
  })
  const cells = answer.matrix!.cells.map((cell): PlacedCell => {
    const box = boxOf(cell.x, cell.y)
    const [x, y] = [xs[cell.x], ys[cell.y]]
    const content = contentOf(document, cell)
    const shown = content === 'points' || content === 'trend'
    const item: MarksItem | null = shown
      ? {
          kind: 'marks',
          part: 'marks',
          x: columns[cell.x],
          y: rows[cell.y],
          look,
          looks: looks.looks,
          paper,
          clip: box,
          density: density === 'on' || (density === 'auto' && look.length > MANY),
        }
      : null
    if (content !== 'nothing') items.push(framed(box))
    if (item) items.push(item)
    items.push(...cellItems(figure, cell, box, x, y, measure))
    return { cell, box, x, y, marks: item }
  })
  if (outer) {
    variables.forEach((v, i) => {
      items.push(...axisItems(v, 'x', i, xs[i], area, tick, measure))
      items.push(...axisItems(v, 'y', i, ys[i], area, tick, measure))
    })
  }
  if (legend) {
    const box = {
      x: width - pad / 2 - legend.width,
      y: area.y,
      width: legend.width,
      height: legend.height,
    }
    items.push(...legend.place(box.x, box.y))
    regions.push({ part: 'legend', box })
  }
  items.push(...words.items)
  if (document.page.frame)
    items.push({
      ...framed({ x: 0.5, y: 0.5, width: width - 1, height: height - 1 }),
      stroke: fromHex(document.page.frame),
    } as Item)
  return {
    scene: { width, height, paper, items, regions },
    cells,
    diagonal,
    source: (drawn) => order?.[drawn] ?? drawn,
    radius: (drawn) => looks.looks[look[drawn]].size / 2,
  }
}

/** Text and marks shrink where there are many cells. */
const shrinkOf = (count: number): number => (count <= 4 ? 1 : Math.max(0.5, 1 - 0.06 * (count - 4)))

function scaleOf({ low, high }: MatrixVariable, box: Box, axis: 'x' | 'y'): Scale {
  const ends = hugging(low ?? 0, high ?? 1)
  return axis === 'x'
    ? linearScale(ends, [box.x + INSET, box.x + box.width - INSET])
    : linearScale(ends, [box.y + box.height - INSET, box.y + INSET])
}

/** Values with their jitter: what was set, or by itself where a variable has few values. */
function places(
  { jitter }: FigureDocument,
  variables: readonly MatrixVariable[],
  { columns, row }: Marks,
): { x: Float64Array[]; y: Float64Array[] } {
  const amount = (set: number, { distinct, categories }: MatrixVariable): number =>
    set || (categories || distinct <= FEW_VALUES ? JITTER : 0)
  const moved = (axis: 'x' | 'y', seed: number): Float64Array[] =>
    variables.map((v, i) => jittered(columns[i], row, amount(jitter[axis], v), seed + i))
  return { x: moved('x', 1), y: moved('y', 101) }
}

/** What no row is drawn at: far off the page, outside every cell. */
const NOWHERE = -1e6

/** Places on the page along one axis, in the order of drawing; shared by a whole row or column. */
function onPage(values: Float64Array, scale: Scale, order: Uint32Array | null): Float32Array {
  const out = new Float32Array(values.length)
  for (let k = 0; k < out.length; k++) {
    const at = scale.toPage(values[order ? order[k] : k])
    // A row without one of the two has no place in a cell.
    out[k] = Number.isFinite(at) ? at : NOWHERE
  }
  return out
}

const framed = (box: Box): Item => ({
  kind: 'path',
  part: 'ground',
  points: corners(box),
  closed: true,
  stroke: FRAME,
  width: 0.8,
})

const codeColour = ({ document, answer }: MatrixFigure, code: number | null): Colour =>
  code === null || answer.colour?.scale !== 'category'
    ? document.marks.colour
      ? fromHex(document.marks.colour)
      : CATEGORIES[0]
    : colourOn(document, answer.colour, code)

/** What stands in a cell beside or over its marks. */
function cellItems(
  figure: MatrixFigure,
  cell: MatrixCell,
  box: Box,
  x: Scale,
  y: Scale,
  measure: Measure,
): Item[] {
  const content = contentOf(figure.document, cell)
  if (content === 'r') return rItems(figure, cell, box, measure)
  if (content === 'counts') return countItems(cell, x, y, box)
  if (content === 'contours') return contourItems(figure, cell, x, y, box)
  return content === 'trend' ? curveItems(figure, cell, x, y, box) : []
}

function curveItems(figure: MatrixFigure, cell: MatrixCell, x: Scale, y: Scale, clip: Box): Item[] {
  const { width } = matrixOf(figure.document).trend
  return cell.curves.flatMap(({ code, curve }): Item[] => {
    const stroke = code === null ? INK : codeColour(figure, code)
    const at = (ys: (number | null)[]) =>
      curve.x.flatMap((v, i) => (ys[i] === null ? [] : [x.toPage(v), y.toPage(ys[i])]))
    const bands = curve.bands.map(({ low, high }): Item => {
      const back = at(low)
      const turned: number[] = []
      for (let i = back.length - 2; i >= 0; i -= 2) turned.push(back[i], back[i + 1])
      return {
        kind: 'path',
        part: 'marks',
        points: Float64Array.from([...at(high), ...turned]),
        closed: true,
        fill: stroke,
        fillOpacity: 0.16,
        clip,
      }
    })
    const line: Item = {
      kind: 'path',
      part: 'marks',
      points: Float64Array.from(at(curve.y)),
      closed: false,
      stroke,
      width: Math.max(0.75, width * 0.75),
      clip,
    }
    return [...bands, line]
  })
}

function contourItems(
  figure: MatrixFigure,
  { contours }: MatrixCell,
  x: Scale,
  y: Scale,
  clip: Box,
): Item[] {
  return contours.map(({ code, points }): Item => {
    const placed = new Float64Array(points.length)
    for (let i = 0; i < points.length; i += 2) {
      placed[i] = x.toPage(points[i])
      placed[i + 1] = y.toPage(points[i + 1])
    }
    const colour = codeColour(figure, code)
    return {
      kind: 'path',
      part: 'marks',
      points: placed,
      closed: true,
      fill: colour,
      fillOpacity: CONTOUR_OPACITY,
      stroke: colour,
      width: 0.9,
      clip,
    }
  })
}

function countItems({ counts }: MatrixCell, x: Scale, y: Scale, clip: Box): Item[] {
  if (!counts) return []
  const { across, x_low, x_high, y_low, y_high } = counts
  const most = Math.max(...counts.counts)
  const step = { x: (x_high - x_low) / across, y: (y_high - y_low) / across }
  return counts.counts.flatMap((n, k): Item[] => {
    if (!n) return []
    const [c, r] = [k % across, Math.floor(k / across)]
    const left = x.toPage(x_low + c * step.x)
    const right = x.toPage(x_low + (c + 1) * step.x)
    const foot = y.toPage(y_low + r * step.y)
    const top = y.toPage(y_low + (r + 1) * step.y)
    return [
      {
        kind: 'path',
        part: 'marks',
        points: Float64Array.of(left, top, right, top, right, foot, left, foot),
        closed: true,
        // Few stand out less than their number says, so that the root is shown.
        fill: dew(0.15 + 0.85 * Math.sqrt(n / most)),
        fillOpacity: 1,
        clip,
      },
    ]
  })
}

/** r as a number sized by its strength, or as the ellipse of such a pair. */
function rItems(figure: MatrixFigure, cell: MatrixCell, box: Box, measure: Measure): Item[] {
  const { document } = figure
  if (cell.r === null) return []
  const pen = penFor(document, 'readings')
  const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 }
  const items: Item[] = []
  const strength = Math.abs(cell.r)
  const base: Colour = cell.r < 0 ? CATEGORIES[1] : CATEGORIES[0]
  if (matrixOf(document).r_as === 'ellipse') {
    const turn = Math.acos(Math.max(-1, Math.min(1, cell.r)))
    const reach = Math.min(box.width * 0.4, box.height * 0.27)
    const points = Array.from({ length: 73 }, (_, k) => (k * Math.PI) / 36).flatMap((t) => [
      middle.x + reach * Math.cos(t + turn / 2),
      box.y + box.height * 0.34 - reach * Math.cos(t - turn / 2),
    ])
    items.push({
      kind: 'path',
      part: 'marks',
      points: Float64Array.from(points),
      closed: true,
      fill: base,
      fillOpacity: 0.15 + 0.5 * strength,
      stroke: base,
      width: 1,
    })
  }
  const line = (
    words: string,
    y: number,
    size: number,
    colour: Colour,
    weight: 400 | 600,
  ): void => {
    const runs = parseRuns(words)
    const wide = widthOf(runs, { ...pen, size, weight }, measure)
    const fit = Math.min(1, (box.width - 6) / wide)
    items.push({
      kind: 'text',
      part: 'readings',
      x: middle.x,
      y,
      runs,
      size: size * fit,
      weight,
      face: pen.face,
      colour,
      anchor: 'middle',
      turn: 0,
    })
  }
  const ellipse = matrixOf(document).r_as === 'ellipse'
  const groups = cell.groups.slice(0, Math.floor((box.height - 24) / 11))
  const largest = Math.min(26, box.height * 0.32, box.width * 0.3) * (groups.length ? 0.75 : 1)
  const size = ellipse ? Math.max(7, largest * 0.6) : Math.max(9, largest * (0.4 + 0.6 * strength))
  const small = Math.max(6, Math.min(10, box.height * 0.1, box.width * 0.09))
  const rows = (cell.low !== null ? 1 : 0) + groups.length
  // Below its ellipse, so that neither runs through the other.
  const centre = ellipse ? box.y + box.height * 0.74 : middle.y
  let y = centre + size * 0.34 - (rows * small * 1.15) / 2
  const ink = ellipse ? INK : mixed(base, fromHex(document.page.background), 0.72 + 0.28 * strength)
  line(shareText(cell.r), y, size, ellipse ? INK : ink, 600)
  y += small * 1.3
  if (cell.low !== null && cell.high !== null) {
    line(`${shareText(cell.low)} to ${shareText(cell.high)}`, y, small, SOFT_INK, 400)
    y += small * 1.15
  }
  for (const { code, r } of groups) {
    line(shareText(r), y, small, codeColour(figure, code), 600)
    y += small * 1.15
  }
  return items
}

/** A variable on the diagonal: its name, over its distribution. */
function diagonalItems(
  figure: MatrixFigure,
  variable: MatrixVariable,
  box: Box,
  x: Scale,
  measure: Measure,
): Item[] {
  const { document } = figure
  const { names, diagonal } = matrixOf(document)
  const items: Item[] = [framed(box)]
  const pen = bold(penFor(document, 'axis_titles'))
  const named = variable.unit ? `${variable.label} (${variable.unit})` : variable.label
  let size = Math.min(pen.size, box.height * 0.17)
  let lines = wrap(named, box.width - 8, { ...pen, size }, measure)
  const widest = Math.max(...lines.map((runs) => widthOf(runs, { ...pen, size }, measure)))
  if (widest > box.width - 6) {
    size *= (box.width - 6) / widest
    lines = wrap(named, box.width - 6, { ...pen, size }, measure)
  }
  const room = names ? lines.length * size * 1.2 + 3 : 0
  const floor = box.y + box.height - 1
  const tall = diagonal === 'nothing' ? 0 : box.height - room - 6
  for (const kind of ['histogram', 'density'] as const) {
    const parts = variable[kind]
    if (!parts.length || tall < 8) continue
    const most = Math.max(...parts.flatMap(({ height }) => height))
    for (const { code, at, height } of parts) {
      const colour = codeColour(figure, code)
      const top = (v: number): number => floor - (v / most) * tall
      const outline =
        kind === 'histogram'
          ? height.flatMap((v, i) => [x.toPage(at[i]), top(v), x.toPage(at[i + 1]), top(v)])
          : height.flatMap((v, i) => [x.toPage(at[i]), top(v)])
      const last = kind === 'histogram' ? at[at.length - 1] : at[height.length - 1]
      const points = [x.toPage(at[0]), floor, ...outline, x.toPage(last), floor]
      const both = kind === 'density' && variable.histogram.length > 0
      items.push({
        kind: 'path',
        part: 'ground',
        points: Float64Array.from(points),
        closed: true,
        ...(both ? {} : { fill: colour, fillOpacity: 0.3 }),
        stroke: colour,
        width: both ? 1.3 : 0.8,
        clip: box,
      })
    }
  }
  if (!names) return items
  const top = tall >= 8 ? box.y + 3 : box.y + (box.height - lines.length * size * 1.2) / 2
  lines.forEach((runs, k) =>
    items.push({
      kind: 'text',
      part: 'x-axis',
      x: box.x + box.width / 2,
      y: top + size * (0.95 + k * 1.2),
      runs,
      ...pen,
      size,
      anchor: 'middle',
      turn: 0,
    }),
  )
  return items
}

const styleOf = (isDate: boolean) => ({
  isDate,
  isLog: false,
  base: 10,
  step: null,
  positions: [],
  small: 0,
  digits: null,
  prefix: '',
  suffix: '',
})

/** About as many ticks as are wanted; more where there would be one alone. */
function ticksFor(
  { is_date, categories }: MatrixVariable,
  { domain }: Scale,
  wanted: number,
): Tick[] {
  if (categories) return categories.map((name, value) => ({ value, label: shortened(name) }))
  for (let count = wanted; ; count++) {
    const ticks = ticksOf(styleOf(is_date), domain, count).large.filter(
      ({ value }) => value >= domain[0] && value <= domain[1],
    )
    if (ticks.length >= 2 || count >= wanted + 3) return ticks
  }
}

/** Longer names than these would leave no room for what they name. */
const MOST_LETTERS = 12
/** Their letters may shrink to this share so that all can be named. */
const LEAST_LETTERS = 0.6

const shortened = (name: string): string =>
  name.length > MOST_LETTERS ? `${name.slice(0, MOST_LETTERS - 1)}…` : name

function widestTick(variables: readonly MatrixVariable[], pen: Pen, measure: Measure): number {
  return Math.max(
    0,
    ...variables.flatMap((v) =>
      ticksFor(v, linearScale(hugging(v.low ?? 0, v.high ?? 1), [0, 100]), 3).map(({ label }) =>
        widthOf(parseRuns(label), pen, measure),
      ),
    ),
  )
}

/** The ticks of one variable on the outer edge; sides alternate, so that labels never meet. */
function axisItems(
  variable: MatrixVariable,
  axis: 'x' | 'y',
  place: number,
  scale: Scale,
  area: Box,
  pen: Pen,
  measure: Measure,
): Item[] {
  const far = place % 2 === 1
  const length = Math.abs(scale.range[1] - scale.range[0])
  let ticks = ticksFor(variable, scale, Math.max(2, Math.round(length / 38)))
  let hand = pen
  const width = (label: string): number => widthOf(parseRuns(label), hand, measure)
  if (axis === 'x') {
    const meets = () =>
      ticks.some(
        ({ value, label }, i) =>
          i > 0 &&
          scale.toPage(value) - scale.toPage(ticks[i - 1].value) <
            (width(label) + width(ticks[i - 1].label)) / 2 + 4,
      )
    // Every category is named, if need be in smaller letters.
    while (variable.categories && hand.size > LEAST_LETTERS * pen.size && meets())
      hand = { ...hand, size: hand.size * 0.92 }
    if (meets()) hand = pen
    while (ticks.length > 2 && meets()) ticks = ticks.filter((_, i) => i % 2 === 0)
  }
  const edge =
    axis === 'x' ? (far ? area.y : area.y + area.height) : far ? area.x + area.width : area.x
  const out = (axis === 'x') === far ? -1 : 1
  return ticks.flatMap(({ value, label }): Item[] => {
    const at = scale.toPage(value)
    const points =
      axis === 'x' ? [at, edge, at, edge + out * TICK] : [edge, at, edge + out * TICK, at]
    const text: Item = {
      kind: 'text',
      part: axis === 'x' ? 'x-axis' : 'y-axis',
      x: axis === 'x' ? at : edge + out * (TICK + 3),
      y:
        axis === 'x' ? edge + out * (TICK + 2) + (far ? 0 : pen.size * 0.85) : at + pen.size * 0.34,
      runs: parseRuns(label),
      ...hand,
      anchor: axis === 'x' ? 'middle' : far ? 'start' : 'end',
      turn: 0,
    }
    return [
      {
        kind: 'path',
        part: axis === 'x' ? 'x-axis' : 'y-axis',
        points: Float64Array.from(points),
        closed: false,
        stroke: INK,
        width: 0.8,
      },
      text,
    ]
  })
}
