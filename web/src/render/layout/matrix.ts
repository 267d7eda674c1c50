/** The scatterplot matrix: laid out as one scene, cell by cell. */
import type { FigureDocument, Marks, MatrixCell, MatrixVariable } from '@/api/types'
import { fromHex } from '@/render/colours'
import { jittered, jitterReach } from '@/render/geometry/jitter'
import { paddedDomain, linearScale, type Extent, type Scale } from '@/render/geometry/scale'
import { MANY } from '@/render/marks/crowding'
import { looksOf, type Looks } from '@/render/marks/looks'
import { gathered, layingOf, marksFrom } from '@/render/marks/places'
import { legendBlock } from '@/render/parts/legend'
import { axisItems, widestTick } from '@/render/parts/matrix/axes'
import { cellItems } from '@/render/parts/matrix/cells'
import { diagonalItems } from '@/render/parts/matrix/diagonal'
import { contentOf, framed, matrixOf, TICK } from '@/render/parts/matrix/style'
import { captionOn, figureWords, padOf } from '@/render/parts/words'
import { pageFrame } from '@/render/parts/frame'
import type { Box, Item, MarksItem, Region, Scene } from '@/render/scene'
import { penFor, type Pen } from '@/render/text/lettering'
import type { Measure } from '@/render/text/text'
import type { RenderedFigure } from '@/render/figure'

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

const GAP = 5
const INSET = 4
/** Marks are smaller than on a figure of one pair, and smaller still where there are many cells. */
const SHRINK = 0.62
const JITTER = 0.35

export function layoutMatrix(figure: RenderedFigure, measure: Measure): MatrixLayout {
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
  const { looks, moved, look } = preparedFor(figure, small, variables)
  const legend = legendBlock(document, answer, looks, words, measure)
  const tick: Pen = penFor(document, 'tick_labels')
  tick.size *= Math.max(0.6, shrinkOf(count))
  const outer = matrixOf(document).axes === 'outer' ? tick.size * 1.2 + TICK + 3 : 0
  const across = outer ? widestTick(variables, tick, measure) + TICK + 4 : 0
  // Where only the cells below or above the diagonal are shown, the other half has room for it.
  const shown = halvesOf(figure)
  const isInside = shown !== 'both'
  const right = legend && !legend.isBelow && !isInside ? legend.width : 0
  const below = legend?.isBelow ? legend.height : 0
  const area = {
    x: pad + across,
    y: words.top + outer,
    width: width - 2 * (pad + across) - right,
    height: height - words.top - words.below - pad - 2 * outer - below,
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
  const reach = (axis: 'x' | 'y') =>
    variables.map((v, i) => {
      const column = marks.columns[i]
      const set = jitterOf(document.jitter[axis], v)
      return reachOf(v, column?.length ? jitterReach(column, set) : 0)
    })
  const xs = reach('x').map((ends, i) => scaleOf(ends, boxOf(i, 0), 'x'))
  const ys = reach('y').map((ends, j) => scaleOf(ends, boxOf(0, j), 'y'))
  const { order } = looks
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
    const counted = shown && cell.counts.length > 0
    const item =
      shown && !counted
        ? marksFrom(
            {
              u: moved.x[cell.x],
              v: moved.y[cell.y],
              across: layingOf(x),
              up: layingOf(y),
              of: marks,
            },
            {
              look,
              looks: looks.looks,
              paper,
              clip: box,
              density: density === 'on' || (density === 'auto' && look.length > MANY),
            },
          )
        : null
    if (content !== 'nothing') items.push(framed(box))
    if (item) items.push(item)
    if (counted) items.push(countedMarks(figure, cell, looks, { x, y, clip: box, paper }))
    items.push(...cellItems(figure, cell, box, x, y, measure))
    return { cell, box, x, y, marks: item }
  })
  if (outer) {
    variables.forEach((v, i) => {
      const edges = { area, cell: boxOf(i, i), shown }
      items.push(...axisItems(v, 'x', i, xs[i], edges, tick, measure))
      items.push(...axisItems(v, 'y', i, ys[i], edges, tick, measure))
    })
  }
  if (legend) {
    const size = { width: legend.width, height: legend.height }
    const box = legend.isBelow
      ? { x: area.x, y: height - pad / 2 - words.below - legend.height, ...size }
      : shown === 'above'
        ? { x: area.x, y: area.y + area.height - legend.height, ...size }
        : shown === 'below'
          ? { x: area.x + area.width - legend.width, y: area.y, ...size }
          : { x: width - pad / 2 - legend.width, y: area.y, ...size }
    items.push(...legend.place(box.x, box.y))
    regions.push({ part: 'legend', box })
  }
  items.push(...words.items)
  items.push(...pageFrame(document.page))
  return {
    scene: { width, height, paper, items, regions },
    cells,
    diagonal,
    source: (drawn) => order?.[drawn] ?? drawn,
    radius: (drawn) => looks.looks[look[drawn]].size / 2,
  }
}

/** Of a dataset: marks that are cells, shaded by how many rows lie in each. */
function countedMarks(
  { answer }: RenderedFigure,
  { counts }: MatrixCell,
  { looks }: Looks,
  place: { x: Scale; y: Scale; clip: Box; paper: MarksItem['paper'] },
): MarksItem {
  const { x, y, clip, paper } = place
  const missing = answer.colour?.categories.length ?? 0
  const found = { x: [] as number[], y: [] as number[], rows: [] as number[], look: [] as number[] }
  for (const { code, across, counts: rows, x_low, x_high, y_low, y_high } of counts) {
    const step = { x: (x_high - x_low) / across, y: (y_high - y_low) / (rows.length / across) }
    rows.forEach((n, k) => {
      if (!n) return
      found.x.push(x.toPage(x_low + ((k % across) + 0.5) * step.x))
      found.y.push(y.toPage(y_low + (Math.floor(k / across) + 0.5) * step.y))
      found.rows.push(n)
      found.look.push(code === null ? 0 : Math.min(code, missing))
    })
  }
  const [{ across, counts: rows, x_low, x_high, y_low, y_high }] = counts
  const up = rows.length / across
  return {
    kind: 'marks',
    part: 'marks',
    x: Float32Array.from(found.x),
    y: Float32Array.from(found.y),
    look: Uint16Array.from(found.look),
    looks,
    paper,
    clip,
    density: true,
    cells: {
      counts: Float64Array.from(found.rows),
      width: Math.abs(((x_high - x_low) / across) * x.factor),
      height: Math.abs(((y_high - y_low) / up) * y.factor),
    },
  }
}

/** Which cells beside the diagonal show anything. */
export function halvesOf({ document, answer }: RenderedFigure): 'both' | 'below' | 'above' {
  const isThere = (isBelow: boolean): boolean =>
    answer.matrix!.cells.some(
      (cell) => cell.y > cell.x === isBelow && contentOf(document, cell) !== 'nothing',
    )
  const [below, above] = [isThere(true), isThere(false)]
  return below === above ? 'both' : below ? 'below' : 'above'
}

/** Text and marks shrink where there are many cells. */
const shrinkOf = (count: number): number => (count <= 4 ? 1 : Math.max(0.5, 1 - 0.06 * (count - 4)))

/** The ends of a variable's values, of the bars of its histogram, and of where jitter moves marks. */
function reachOf({ low, high, histogram }: MatrixVariable, jitter: number): Extent {
  const edges = histogram.flatMap(({ at }) => [at[0], at[at.length - 1]])
  return [Math.min((low ?? 0) - jitter, ...edges), Math.max((high ?? 1) + jitter, ...edges)]
}

function scaleOf(reach: Extent, box: Box, axis: 'x' | 'y'): Scale {
  const ends = paddedDomain(...reach)
  return axis === 'x'
    ? linearScale(ends, [box.x + INSET, box.x + box.width - INSET])
    : linearScale(ends, [box.y + box.height - INSET, box.y + INSET])
}

/** How far values are moved: as was set, and of categories so that their rows do not form a line. */
const jitterOf = (set: number, { categories }: MatrixVariable): number =>
  set || (categories ? JITTER : 0)

/** Values with their jitter. */
function places(
  { jitter }: FigureDocument,
  variables: readonly MatrixVariable[],
  { columns, row }: Marks,
): { x: Float64Array[]; y: Float64Array[] } {
  const moved = (axis: 'x' | 'y', seed: number): Float64Array[] =>
    variables.map((v, i) => jittered(columns[i], row, jitterOf(jitter[axis], v), seed + i))
  return { x: moved('x', 1), y: moved('y', 101) }
}

interface Prepared {
  looks: Looks
  /** In the order of drawing. */
  moved: { x: Float64Array[]; y: Float64Array[] }
  look: Uint16Array
}

/** The latest of each answer's marks: what stays as it is while a matrix is painted again. */
const kept = new WeakMap<Marks, { figure: RenderedFigure; prepared: Prepared }>()

function preparedFor(
  figure: RenderedFigure,
  small: FigureDocument,
  variables: readonly MatrixVariable[],
): Prepared {
  const { document, answer, marks } = figure
  const known = kept.get(marks)
  if (known?.figure.document === document && known.figure.answer === answer) return known.prepared
  const { width, height } = document.page
  const looks = looksOf(small, answer, marks, (width * height) / variables.length ** 2)
  const moved = places(document, variables, marks)
  const { order, of } = looks
  const prepared: Prepared = order
    ? {
        looks,
        moved: {
          x: moved.x.map((values) => gathered(values, order)),
          y: moved.y.map((values) => gathered(values, order)),
        },
        look: gathered(of, order),
      }
    : { looks, moved, look: of }
  kept.set(marks, { figure, prepared })
  return prepared
}
