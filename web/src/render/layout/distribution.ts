/** A distribution laid out: an axis of values, and a lane for each category beside it. */
import type { Answer, Axis, FigureDocument } from '@/api/types'
import { CATEGORIES, fromHex, SOFT_INK } from '@/render/colours'
import type { RenderedFigure } from '@/render/figure'
import { boxWithin, grown } from '@/render/geometry/boxes'
import {
  besideBox,
  lanesOf,
  zonesOf,
  type Lane,
  type Zone,
  type Zones,
} from '@/render/geometry/category-bands'
import { MarkIndex } from '@/render/geometry/mark-index'
import { isWhole } from '@/render/geometry/whole'
import { makeScale, transformOf, type Extent, type Scale } from '@/render/geometry/scale'
import { roundOf } from '@/render/marks/places'
import { colourOn, looksOf } from '@/render/marks/looks'
import { drawAxis, fitAxis, gridItems, pensOf, type Fitted, type Side } from '@/render/parts/axes'
import { pointsIn } from '@/render/parts/band-points'
import { blockItems } from '@/render/parts/block'
import { besideItems } from '@/render/parts/band-labels'
import { pageFrame } from '@/render/parts/frame'
import { legendBlock } from '@/render/parts/legend'
import { namesOn } from '@/render/parts/names'
import { noteItems, referenceItems, referenceLabels } from '@/render/parts/overlays'
import {
  barItemsOf,
  boxItems,
  densityItems,
  middleItems,
  type LaneFrame,
} from '@/render/parts/box-and-density'
import { middleKey } from '@/render/parts/middle-key'
import { captionOn, figureWords, padOf } from '@/render/parts/words'
import { Obstacles } from '@/render/placement/obstacles'
import type { Box, Colour, Item, Region } from '@/render/scene'
import { titled } from '@/render/text/titled'
import { literal, parseRuns, widthOf, withoutMiddle, type Measure } from '@/render/text/text'
import { leftOf } from './blocks'
import { ends, span } from './extents'
import type { Layout } from './figure'

export type Spread = NonNullable<Answer['distribution']>['groups'][number]
type Held = NonNullable<FigureDocument['distribution']>

const heldBy = (document: FigureDocument): Held => document.distribution!

/** The ends of the values with which a figure begins. */
export function valueEnds({ document, answer, marks }: RenderedFigure): Extent {
  const { histogram, density } = heldBy(document)
  const { groups } = answer.distribution!
  // Bars and curves reach past the values.
  const past = [
    ...(histogram ? groups.flatMap(({ edges }) => [edges[0], edges.at(-1)]) : []),
    ...(density ? groups.flatMap(({ at }) => [at[0], at.at(-1)]) : []),
  ].filter((end) => end !== undefined)
  return ends(document.axes.y, answer.y, marks.y, past, 0)
}

interface Frame {
  plot: Box
  values: Fitted
  /** Of counts or shares, where there is one line for all. */
  heights: Fitted | null
}

export function layoutDistribution(
  figure: RenderedFigure,
  measure: Measure,
  view: Extent = valueEnds(figure),
): Layout {
  const { document, answer, marks } = figure
  const { page } = document
  const paper = fromHex(page.background)
  const held = heldBy(document)
  const { groups } = answer.distribution!
  const looks = looksOf(document, answer, marks, page.width * page.height * 0.5, figure.only)
  const words = figureWords(document, measure, captionOn(figure))
  const isOne = groups.length < 2 || held.together
  const named = isOne ? [] : groups.map(({ group }) => literal(withoutMiddle(group ?? '')))
  const most = mostOf(figure)
  const legend = needsLegend(figure, isOne)
    ? legendBlock(document, answer, looks, words, measure)
    : null
  const pad = padOf(document)
  const { place } = document.legend
  const isFree = legend && place === 'free'
  const room = {
    right: legend && !legend.isBelow && !isFree ? legend.width + 4 : 0,
    below: legend?.isBelow ? legend.height : 0,
  }
  const frame = arranged(figure, view, isOne && held.measure ? most : null, named, room, measure)
  const { plot } = frame
  const legendBox = legend && {
    ...(isFree
      ? boxWithin(legend, document.legend.x * page.width, document.legend.y * page.height, page)
      : legend.isBelow
        ? {
            x: leftOf(legend.width, plot, document),
            y: page.height - pad - words.below - legend.height,
          }
        : { x: page.width - pad / 2 - legend.width, y: plot.y - 4 }),
    width: legend.width,
    height: legend.height,
  }

  const axis = document.axes.y
  const along: Extent = held.lying ? [plot.x, plot.x + plot.width] : [plot.y + plot.height, plot.y]
  const across: Extent = held.lying ? [plot.y + plot.height, plot.y] : [plot.x, plot.x + plot.width]
  const value = makeScale(
    transformOf(axis.scale),
    view,
    axis.reversed ? [along[1], along[0]] : along,
  )
  // Of categories that lie the first stands on top, where reading begins.
  const row = lanesOf(isOne ? 1 : groups.length, across)
  const lanes = groups.map((_, i) =>
    isOne ? row[0] : held.lying ? row[row.length - 1 - i] : row[i],
  )
  const zones = zonesIn(held)
  const onPage = (lane: Lane, share: number, at: number): [number, number] => {
    const place = value.toPage(at)
    return held.lying ? [place, lane.at(share)] : [lane.at(share), place]
  }
  const frames = groups.map((spread, i): LaneFrame => {
    const at = (share: number, place: number) => onPage(lanes[i], share, place)
    // On one line the strips of the groups stand beside one another.
    const strip =
      zones.strip && isOne && groups.length > 1 ? part(zones.strip, i, groups.length) : zones.strip
    // Neither runs through the other.
    const shared = strip && held.box && held.middle !== 'none' ? besideBox(strip) : null
    return {
      spread,
      at,
      colour: colourOfSpread(document, answer, spread),
      shape: zones.shape,
      strip: shared?.box ?? strip,
      middle: shared?.middle ?? strip,
      most: most.most,
      height: (count) => heightIn(held, spread, count),
      isShared: isOne && groups.length > 1,
      gauge: pensOf(document).gauge,
    }
  })
  const clip = grown(plot, document.size ? document.size.largest / 2 : document.marks.size)
  const placed = pointsIn(figure, looks, frames, value, clip, paper)
  const turned = held.lying ? flipped(document) : document
  const flat = (length: number): Scale => makeScale(transformOf('linear'), [0, length], [0, length])
  const scales = held.lying ? { x: value, y: flat(page.height) } : { x: flat(page.width), y: value }
  const flippedAnswer = answer
  const references = referenceItems(turned, flippedAnswer, scales, plot, measure)
  const notes = noteItems(document, scales, measure)
  const side: Side = held.lying ? 'x' : 'y'
  const drawn = asValues(
    drawAxis(side, frame.values, value, span(answer.y), plot, {
      frame: document.axes.frame === 'box' ? 'full' : document.axes.frame,
      crossing: null,
    }),
  )
  const beside = besideItems(figure, frame, lanes, named, most.most, zones, measure)

  const inPlot: Item[] = [
    ...references.under,
    ...frames.flatMap((one) => [
      ...(held.histogram ? barItemsOf(one, value, plot) : []),
      ...(held.density ? densityItems(one, value, plot) : []),
    ]),
    ...frames.flatMap((one) => (held.box ? boxItems(one, paper, held.points !== 'none') : [])),
    placed.item,
    ...frames.flatMap((one) => middleItems(one, held.middle, paper)),
    ...references.over,
  ]
  const obstacles = new Obstacles(plot).add([...inPlot, ...notes.items], measure, false)
  if (legendBox) obstacles.addBox(legendBox)
  const labels = referenceLabels(
    references.labels,
    plot,
    obstacles,
    () => new MarkIndex(roundOf(placed), [placed.item.clip]),
  )
  const names = namesOn(figure, placed, plot, obstacles, measure)

  const standing = [...drawn.items, ...beside.items, ...words.items]
  const items: Item[] = [
    ...gridItems(side, frame.values, value, plot),
    ...inPlot,
    ...middleKey(figure, plot, words.below, standing, measure),
    ...drawn.items,
    ...beside.items,
    ...names.items,
    ...labels.items,
    ...words.items,
    ...blockItems(legend, legendBox, isFree ? paper : null),
    ...notes.items,
    ...pageFrame(page),
    ...(groups.length ? [] : [nothing(figure, plot)]),
  ]
  const regions: Region[] = [
    ...notes.regions,
    ...names.placed.map(({ box }) => ({ part: 'names' as const, box })),
    ...(legendBox ? [{ part: 'legend' as const, box: legendBox }] : []),
    { part: 'y-axis', box: drawn.box },
    ...words.regions,
    ...references.regions,
    { part: 'distribution', box: beside.box },
    { part: 'distribution', box: plot },
  ]
  return {
    scene: { width: page.width, height: page.height, paper, items, regions },
    plot,
    ...scales,
    marks: placed.item,
    source: placed.source,
    radius: placed.radius,
    trends: [],
    names: names.placed,
    unnamed: names.left + labels.left,
    entries: (legendBox && legend?.entries?.(legendBox.x, legendBox.y)) ?? [],
    rowPlace: (row_) => {
      const found = placed.source.findIndex((i) => marks.row[i] === row_)
      return found < 0 ? null : [placed.item.x[found], placed.item.y[found]]
    },
    off: placed.off,
    isTurned: held.lying,
  }
}

const zonesIn = ({ histogram, density, box, points, middle }: Held): Zones =>
  zonesOf(
    histogram || density,
    box || points !== 'none' ? 'wide' : middle === 'none' ? 'none' : 'narrow',
  )

/** A part of a zone, for one of several that share it. */
const part = ([from, to]: Zone, i: number, count: number): Zone => {
  const width = (to - from) / count
  return [from + i * width, from + (i + 1) * width]
}

/** The axis of values is one and the same, wherever it lies. */
const asValues = ({ items, box }: { items: Item[]; box: Box }) => ({
  items: items.map((item) => ({ ...item, part: 'y-axis' as const })),
  box,
})

/** References on the axis of values, as they lie on the page. */
const flipped = (document: FigureDocument): FigureDocument => ({
  ...document,
  references: document.references.map((one) => ({
    ...one,
    axis: one.axis === 'y' ? ('x' as const) : ('y' as const),
  })),
})

/** Colours that the lanes themselves tell apart need no legend. */
function needsLegend({ document, answer }: RenderedFigure, isOne: boolean): boolean {
  const { by } = heldBy(document)
  const named = document.singled_out.some(({ name }) => name)
  return isOne || named || document.size !== null || answer.colour?.variable.name !== by
}

export function colourOfSpread(
  document: FigureDocument,
  { colour }: Answer,
  { colour_code: code }: Spread,
): Colour {
  if (code !== null && colour) return colourOn(document, colour, code)
  return document.marks.colour ? fromHex(document.marks.colour) : CATEGORIES[0]
}

interface Most {
  most: number
  label: string
}

/** What a count of the histogram, or a share for each unit, is drawn as. */
function heightIn({ measure }: Held, { n }: Spread, count: number): number {
  return measure === 'shares' ? count / n : count
}

/** The greatest height of all, so that lanes can be compared. */
function mostOf({ document, answer }: RenderedFigure): Most {
  const held = heldBy(document)
  const { groups, bin_width: width } = answer.distribution!
  let most = 0
  for (const spread of groups) {
    if (held.histogram)
      for (const count of spread.counts) most = Math.max(most, heightIn(held, spread, count))
    if (held.density)
      for (const share of spread.density)
        most = Math.max(most, heightIn(held, spread, share * spread.n * (width ?? 1)))
  }
  return { most: most || 1, label: held.measure === 'shares' ? 'Share of rows' : 'Rows' }
}

/** The room that words take, and the plot that is left. */
function arranged(
  { document, answer, marks }: RenderedFigure,
  view: Extent,
  most: Most | null,
  named: readonly string[],
  legend: { right: number; below: number },
  measure: Measure,
): Frame {
  const { width, height } = document.page
  const held = heldBy(document)
  const words = figureWords(document, measure)
  const pad = padOf(document)
  const pens = pensOf(document)
  const { variable } = answer.y
  const hasHeights = most !== null && (held.histogram || held.density)
  const axis = document.axes.y
  const fitValues = (side: Side, length: number): Fitted => {
    const scale = makeScale(transformOf(axis.scale), view, axis.reversed ? [1, 0] : [0, 1])
    const wanted = {
      axis,
      isDate: variable.kind === 'date',
      isWhole: isWhole(marks.y),
      title: axis.title ?? titled(variable),
      pens,
    }
    return fitAxis(side, wanted, scale.toPage, view, length, measure)
  }
  const fitHeights = (side: Side, length: number): Fitted | null => {
    if (!hasHeights) return null
    const scale = makeScale(transformOf('linear'), [0, most.most], [0, 1])
    const plain: Axis = {
      ...axis,
      scale: 'linear',
      low: null,
      high: null,
      step: null,
      positions: [],
      small_ticks: 0,
      digits: null,
      prefix: '',
      suffix: '',
      grid: 'none',
      title: null,
      reversed: false,
    }
    return fitAxis(
      side,
      { axis: plain, isDate: false, title: most.label, pens },
      scale.toPage,
      [0, most.most],
      length,
      measure,
    )
  }
  const widest = Math.max(0, ...named.map((name) => widthOf(parseRuns(name), pens.tick, measure)))
  const line = pens.tick.size * 1.35
  const title = held.by && named.length ? pens.title.size * 1.5 + 4 : 0
  const top = words.top
  const guess = fitValues('y', height * 0.7)
  if (held.lying) {
    const left =
      pad +
      (named.length ? widest + 14 * pens.gauge + title : (fitHeights('y', height * 0.4)?.room ?? 6))
    const values = fitValues('x', width - left - pad - legend.right)
    const bottom = pad + values.room + legend.below + words.below
    const plot = {
      x: left,
      y: top,
      width: Math.max(20, width - left - Math.max(pad, values.overhang + 4) - legend.right),
      height: Math.max(20, height - top - bottom),
    }
    return { plot, values, heights: fitHeights('y', plot.height * 0.6) }
  }
  const left = pad + guess.room
  const lane = (width - left - pad - legend.right) / Math.max(1, named.length)
  const lines = widest + 6 > lane ? 2.6 : 1
  const heights = fitHeights('x', (width - left - pad) * 0.6)
  const foot = named.length ? lines * line + 12 * pens.gauge + title : (heights?.room ?? 6)
  const bottom = pad + foot + legend.below + words.below
  const plotHeight = Math.max(20, height - top - bottom)
  const values = fitValues('y', plotHeight)
  return {
    plot: {
      x: pad + values.room,
      y: top,
      width: Math.max(20, width - pad - values.room - pad - legend.right),
      height: plotHeight,
    },
    values,
    heights,
  }
}

function nothing({ answer, document }: RenderedFigure, plot: Box): Item {
  return {
    kind: 'text',
    part: 'ground',
    x: plot.x + plot.width / 2,
    y: plot.y + plot.height / 2,
    runs: parseRuns(`No row has ${answer.y.variable.label}.`),
    size: 14 * document.type.scale,
    weight: 400,
    face: 'sans',
    colour: SOFT_INK,
    anchor: 'middle',
    turn: 0,
  }
}
