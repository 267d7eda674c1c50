/**
 * From a document and its answer to a scene: the one place where a figure of a pair is laid out, in
 * stages. What stays the same is prepared; then the room for axes and legend, the places of marks,
 * the parts, and the scene in the order in which it is painted.
 */
import type { Axis } from '@/api/types'
import { fromHex, SOFT_INK } from '@/render/colours'
import type { RenderedFigure } from '@/render/figure'
import { MarkIndex } from '@/render/geometry/mark-index'
import type { Scale } from '@/render/geometry/scale'
import { roundOf, type PlacedMarks } from '@/render/marks/places'
import { blockItems, type EntryBox } from '@/render/parts/block'
import { pageFrame } from '@/render/parts/frame'
import { lineLabels } from '@/render/parts/line-labels'
import { referenceLabels } from '@/render/parts/overlays'
import { namesOn } from '@/render/parts/names'
import { readOffItems } from '@/render/parts/readoffs'
import type { DrawnTrend } from '@/render/parts/trends'
import { captionOn, figureWords } from '@/render/parts/words'
import type { PlacedName } from '@/render/placement/names'
import { Obstacles } from '@/render/placement/obstacles'
import type { Box, Item, MarksItem, Region, Scene } from '@/render/scene'
import { penFor } from '@/render/text/lettering'
import { parseRuns, type Measure } from '@/render/text/text'
import { blocksOf, isAtRest, type Placed } from './blocks'
import { homeView, type View } from './extents'
import type { Setting } from './insets'
import { plotAt } from './plot'

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
  /** Marks beyond the ends that were typed for an axis. */
  beyond?: number
  /** How many names found no free place. */
  unnamed: number
  /** How many readings, and numbers that are read off, found none. */
  unread?: number
  /** Entries of the legend, where they stand. */
  entries: EntryBox[]
  /** Where a row's mark stands on the page; null where it is not drawn. */
  rowPlace: (row: number) => [number, number] | null
  /** Marks that an axis has no place for: zero and below on a logarithmic one. */
  off: number
  /** Whether it is a box that is turned, whose axes do not lie along the page. */
  isTurned?: boolean
}

/** Words that are laid out at every step of a zoom look round among so many marks only. */
const MOST_KEPT_CLEAR = 20_000

export function layoutFigure(
  figure: RenderedFigure,
  measure: Measure,
  view: View = homeView(figure),
  setting: Setting = {},
): Layout {
  const { document, answer, marks } = figure
  const { page } = document
  const paper = fromHex(page.background)
  const words = figureWords(document, measure, captionOn(figure))
  const blocks = blocksOf(figure, words, setting, measure)
  const { legend, readings, room } = blocks
  const isRest = isAtRest(figure, view)
  const plot = isRest ? blocks.plot : plotAt(figure, view, room, words, setting, measure)
  const { x, y, placed, box } = plot

  const obstacles = new Obstacles(box).add([...plot.drawn, ...plot.notes], measure, false)
  for (const one of [...(legend ? [legend] : []), ...readings]) obstacles.addBox(one.box)
  const labels = lineLabels(document, answer, plot.trends, box)
  const of = () => marksOf(placed)
  const references = referenceLabels(plot.labels, box, obstacles, of)
  const readOffs = readOffItems(document, answer, plot.trends, x, y, box, obstacles, of, measure)
  const names = namesOn(figure, placed, box, obstacles, measure)

  // What is moved may come under words that find their place for the figure at rest.
  const onPaper = (one: Placed | null): Item[] =>
    one ? blockItems(one.block, one.box, isRest && !one.isPut ? null : paper) : []
  const items: Item[] = [
    ...plot.grid,
    ...plot.drawn,
    ...plot.beside,
    ...names.items,
    ...labels.items,
    ...references.items,
    ...words.items,
    ...onPaper(legend),
    ...readOffs.items,
    ...readings.flatMap(onPaper),
    ...plot.notes,
    ...pageFrame(page),
    ...(answer.counts.drawn ? [] : [nothing(figure, box)]),
  ]
  const regions: Region[] = [
    ...plot.regions.notes,
    ...names.placed.map((one) => ({ part: 'names' as const, box: one.box })),
    ...(legend ? [{ part: 'legend' as const, box: legend.box }] : []),
    ...readings.map((one) => ({ part: 'readings' as const, box: one.box })),
    ...readOffs.regions,
    ...plot.regions.axes,
    ...words.regions,
    ...plot.regions.references,
  ]
  return {
    scene: { width: page.width, height: page.height, paper, items, regions },
    plot: box,
    x,
    y,
    marks: placed.item,
    source: placed.source,
    radius: placed.radius,
    trends: plot.trends,
    names: names.placed,
    beyond: beyondEnds(figure),
    unnamed: names.left + labels.left + references.left,
    unread: blocks.left + readOffs.left,
    entries: legend?.block.entries?.(legend.box.x, legend.box.y) ?? [],
    rowPlace: (row) => {
      const drawn = placed.source.findIndex((i) => marks.row[i] === row)
      return drawn < 0 ? null : [placed.item.x[drawn], placed.item.y[drawn]]
    },
    off: placed.off,
  }
}

/** How many marks lie beyond ends that were typed, and so are not seen at rest. */
function beyondEnds({ document, marks }: RenderedFigure): number {
  const { x, y } = document.axes
  if ([x.low, x.high, y.low, y.high].every((end) => end === null)) return 0
  const isOut = (value: number, { low, high }: Axis): boolean =>
    (low !== null && value < low) || (high !== null && value > high)
  let count = 0
  for (let i = 0; i < marks.x.length; i++) if (isOut(marks.x[i], x) || isOut(marks.y[i], y)) count++
  return count
}

/** Marks as words keep clear of them; of very many, none is clear. */
const marksOf = (placed: PlacedMarks): MarkIndex =>
  new MarkIndex(
    roundOf(placed),
    placed.item.look.length > MOST_KEPT_CLEAR ? [] : [placed.item.clip],
  )

function nothing({ document, answer }: RenderedFigure, plot: Box): Item {
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
