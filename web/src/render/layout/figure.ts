/**
 * From a document and its answer to a scene: the one place where a figure of a pair is laid out, in
 * stages. What stays the same is prepared; then the room for axes and legend, the places of marks,
 * the parts, and the scene in the order in which it is painted.
 */
import type { Axis } from '@/api/types'
import { fromHex, SOFT_INK } from '@/render/colours'
import { grown } from '@/render/geometry/boxes'
import { Marks, type PlacedName } from '@/render/geometry/labels'
import type { Scale } from '@/render/geometry/scale'
import { drawAxis, gridItems } from '@/render/parts/axes'
import { barItems } from '@/render/parts/bars'
import { blockItems, type EntryBox } from '@/render/parts/block'
import { outlined, pageFrame } from '@/render/parts/frame'
import { legendBlock } from '@/render/parts/legend'
import { marginItems } from '@/render/parts/margins'
import { markerItems } from '@/render/parts/markers'
import { namesOn } from '@/render/parts/names'
import { connectItems, noteItems, referenceItems } from '@/render/parts/overlays'
import { readOffItems, type Busy } from '@/render/parts/readoffs'
import { bandItems, drawnTrends, lineItems, readingsBlocks } from '@/render/parts/trends'
import type { DrawnTrend } from '@/render/parts/trends'
import { captionOn, figureWords } from '@/render/parts/words'
import type { Box, Item, MarksItem, Region, Scene } from '@/render/scene'
import { penFor } from '@/render/text/lettering'
import { parseRuns, type Measure } from '@/render/text/text'
import { cornerOf, legendBeside, legendWithin, readingsBox } from './blocks'
import type { RenderedFigure } from '@/render/figure'
import { homeView, span, type View } from './extents'
import { arrange, scalesOf, squared, type Setting } from './insets'
import { placeMarks, roundOf, type PlacedMarks } from '@/render/marks/places'
import { preparedFor } from './preparation'

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
  /** How many names found no room. */
  unnamed: number
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
  const { axes, page } = document
  const paper = fromHex(page.background)
  const { looks, columns, home } = preparedFor(figure)

  const words = figureWords(document, measure, captionOn(figure))
  const legend = legendBlock(document, answer, looks, measure)
  const taken: Box[] = []
  let arranged = arrange(figure, view, words, { right: 0, below: 0 }, setting, measure)
  let legendBox: Box | null = null
  if (legend) {
    const { plot } = arranged
    legendBox = legendWithin(document, legend, () => cornerOf(figure, home, legend, plot, taken))
    if (!legendBox) {
      const room = legend.isBelow
        ? { right: 0, below: legend.height }
        : { right: legend.width + 4, below: 0 }
      arranged = arrange(figure, view, words, room, setting, measure)
      legendBox = legendBeside(document, legend, arranged.plot, words)
    }
    taken.push(legendBox)
  }

  const plot = axes.equal ? squared(arranged.plot, view) : arranged.plot
  const scales = scalesOf(document, view, plot)
  const { x, y } = scales
  const radius = document.size ? document.size.largest / 2 : 0
  const clip = grown(plot, Math.max(radius, Math.min(6, document.marks.size / 2 + 1)))
  const placed = placeMarks(document, columns, looks, x, y, clip, paper)
  const places = placed.all

  const trends = drawnTrends(document, answer, x, y)
  const readings = readingsBlocks(document, answer, trends, measure, plot.width).map((block) => {
    const box = readingsBox(
      document,
      block,
      plot,
      taken,
      () => cornerOf(figure, home, block, plot, taken).box,
    )
    taken.push(box)
    return { block, box }
  })
  const names = namesOn(figure, placed, plot, taken, measure)
  const bands = bandItems(document, answer, x, y, clip)
  const readOffs = readOffItems(
    document,
    answer,
    trends,
    x,
    y,
    plot,
    taken,
    () => busyOf(placed, bands),
    measure,
  )
  const references = referenceItems(document, answer, scales, plot, measure)
  const notes = noteItems(document, scales, measure)
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
    ...bands,
    ...connectItems(document, answer, marks, looks, places, clip),
    ...barItems(document, marks, looks, places, scales, clip),
    ...(markerItems(figure, placed, paper, measure) ?? [placed.item]),
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
    ...pageFrame(page),
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
    scene: { width: page.width, height: page.height, paper, items, regions },
    plot,
    x,
    y,
    marks: placed.item,
    source: placed.source,
    radius: placed.radius,
    trends,
    names: names.placed,
    unnamed: names.left,
    entries: (legendBox && legend?.entries?.(legendBox.x, legendBox.y)) ?? [],
    rowPlace: (row) => {
      const drawn = placed.source.findIndex((i) => marks.row[i] === row)
      return drawn < 0 ? null : [placed.item.x[drawn], placed.item.y[drawn]]
    },
    off: placed.off,
  }
}

/** What the words of numbers that are read off keep clear of; of very many marks, none is clear. */
const busyOf = (placed: PlacedMarks, bands: readonly Item[]): Busy => ({
  marks: new Marks(
    roundOf(placed),
    placed.item.look.length > MOST_KEPT_CLEAR ? [] : [placed.item.clip],
  ),
  bands: bands.flatMap((band) => (band.kind === 'path' ? [band.points] : [])),
})

/** Where this axis crosses the other one, if it is to stand at a value that is in view. */
function crossing({ crosses }: Axis, scale: Scale): number | null {
  if (crosses === null || crosses < scale.domain[0] || crosses > scale.domain[1]) return null
  return scale.toPage(crosses)
}

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
