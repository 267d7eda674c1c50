/** A 3-D scatterplot laid out: the box as it is turned, and what stands in it. */
import type { Answer, FigureDocument, Marks } from '@/api/types'
import { fromHex, INK, SOFT_INK } from '@/render/colours'
import type { RenderedFigure } from '@/render/figure'
import { boxWithin } from '@/render/geometry/boxes'
import { cameraOf, TALL, type Seen } from '@/render/geometry/camera'
import { jittered, jitterReach } from '@/render/geometry/jitter'
import { makeScale, transformOf, type Extent, type Scale } from '@/render/geometry/scale'
import { placeInBox, shadowsOn, type InBox } from '@/render/marks/depths'
import { looksOf, type Looks } from '@/render/marks/looks'
import { pensOf } from '@/render/parts/axes'
import { blockItems } from '@/render/parts/block'
import { pageFrame } from '@/render/parts/frame'
import { legendBlock, type Legend } from '@/render/parts/legend'
import { markerItems } from '@/render/parts/markers'
import { namesOn } from '@/render/parts/names'
import { noteItems } from '@/render/parts/overlays'
import { drawBoxAxis, wallItems, wallOf, type BoxAxis, type Way } from '@/render/parts/space/box'
import { dropItems, parted } from '@/render/parts/space/marks'
import {
  placesReadOff,
  planeColour,
  planeItems,
  residualItems,
  type Scales3,
} from '@/render/parts/space/plane'
import { readingLine, readingsBlock } from '@/render/parts/readings'
import { captionOn, figureWords, padOf, type FigureWords } from '@/render/parts/words'
import { Obstacles } from '@/render/placement/obstacles'
import type { Box, Item, Region } from '@/render/scene'
import { titled } from '@/render/text/titled'
import type { Measure } from '@/render/text/text'
import { ends, homeView } from './extents'
import type { Layout } from './figure'

/** So many marks follow the hand that turns the box; of more, fewer. */
const MOST_WHILE_TURNED = 10_000
const OF_MORE = 3_000

type Space = NonNullable<FigureDocument['space']>

export const spaceOf = ({ document }: Pick<RenderedFigure, 'document'>): Space => document.space!

/** From where a figure is seen by itself. */
export const seenFrom = (figure: Pick<RenderedFigure, 'document'>): Seen => ({
  ...spaceOf(figure).turn,
  closeness: spaceOf(figure).closeness,
})

/** The ends of the axis into the depth. */
export function depthEnds({ document, answer, marks }: RenderedFigure): Extent {
  const { axis, jitter } = document.space!
  return ends(axis, answer.space!.depth, marks.depth!, [], jitterReach(marks.depth!, jitter))
}

interface Prepared {
  looks: Looks
  scales: Scales3
  inBox: InBox
}

const kept = new WeakMap<Marks, { key: string; answer: Answer; prepared: Prepared }>()

/** What stays while the box is turned: looks, scales, values in the box. */
function preparedFor(figure: RenderedFigure): Prepared {
  const { document, answer, marks, only } = figure
  const held = spaceOf(figure)
  // All that it depends on: a turn that is kept makes another document of the same.
  const key = JSON.stringify([
    document.axes,
    document.jitter,
    document.marks,
    document.size,
    document.colour,
    document.singled_out,
    document.page,
    held.axis,
    held.jitter,
    only,
  ])
  const known = kept.get(marks)
  if (known?.key === key && known.answer === answer) return known.prepared
  const { axes, jitter, page } = document
  const { axis, jitter: deep } = spaceOf(figure)
  const home = homeView(figure)
  const scale = (one: typeof axis, domain: Extent, half: number): Scale =>
    makeScale(transformOf(one.scale), domain, one.reversed ? [half, -half] : [-half, half])
  const scales = {
    across: scale(axes.x, home.x, 0.5),
    up: scale(axes.y, home.y, TALL / 2),
    depth: scale(axis, depthEnds(figure), 0.5),
  }
  const prepared = {
    looks: looksOf(document, answer, marks, page.width * page.height * 0.4, only),
    scales,
    inBox: {
      across: inside(jittered(marks.x, marks.row, jitter.x, 1), scales.across, 0.5),
      up: inside(jittered(marks.y, marks.row, jitter.y, 2), scales.up, TALL / 2),
      depth: inside(jittered(marks.depth!, marks.row, deep, 3), scales.depth, 0.5),
      of: marks,
    },
  }
  kept.set(marks, { key, answer, prepared })
  return prepared
}

/** Values as places along an edge of the box; NaN where they lie outside of it. */
function inside(values: Float64Array, { toPage }: Scale, half: number): Float64Array {
  const most = half * (1 + 1e-9)
  return values.map((value) => {
    const place = toPage(value)
    return Math.abs(place) <= most ? place : NaN
  })
}

/**
 * @param seen from where; as the document has it where left out
 * @param moving whether a hand turns the box: fewer marks then, so that they follow it
 * @param bare whether the box has the whole page, without words
 */
export function layoutSpace(
  figure: RenderedFigure,
  measure: Measure,
  seen: Seen = seenFrom(figure),
  moving = false,
  bare = false,
): Layout {
  const { document, answer, marks } = figure
  const space = spaceOf(figure)
  const { page } = document
  const paper = fromHex(page.background)
  const { looks, scales, inBox } = preparedFor(figure)
  const words = figureWords(document, measure, captionOn(figure))
  const legend = legendBlock(document, answer, looks, words, measure)
  const { room, legendBox } = arranged(document, words, legend)
  const pens = pensOf(document)
  const camera = cameraOf(
    seen,
    space.perspective,
    bare ? room : boxRoom(room, pens.gauge, pens.tick.size),
  )

  const clip = room
  const placed = placeInBox(
    inBox,
    looks,
    camera,
    space,
    clip,
    paper,
    moving && marks.row.length > MOST_WHILE_TURNED ? OF_MORE : Infinity,
  )
  const taken: Box[] = legendBox ? [legendBox] : []
  const axes = boxAxes(figure, scales).map((axis) => ({
    axis,
    drawn: drawBoxAxis(axis, camera, pens, page, taken, measure),
  }))
  const of = Object.fromEntries(
    axes.map(({ axis, drawn }) => [axis.way, { scale: axis.scale, ticks: drawn.ticks }]),
  ) as Record<Way, { scale: Scale; ticks: (typeof axes)[number]['drawn']['ticks'] }>
  const said = planeSaid(figure, measure, room.width, taken)
  const plane = planeItems(document, answer, scales, camera)
  const obstacles = new Obstacles(room).add(plane, measure)
  for (const box of taken) obstacles.addBox(box)
  const names = moving
    ? { placed: [], items: [], left: 0 }
    : namesOn(figure, placed, room, obstacles, measure)
  const onPageNotes = { ...document, notes: document.notes.map(pageNote) }
  const flat = { x: pageScale(page.width), y: pageScale(page.height) }
  const notes = noteItems(onPageNotes, flat, measure)
  const { behind, before } = parted(figure, placed, camera, scales)
  const texts = markerItems(figure, placed, paper, measure)

  const items: Item[] = [
    ...wallItems(camera, of, space.walls),
    ...space.shadows.map((wall) =>
      shadowsOn(inBox, wallOf(camera, wall), camera, document.marks.size * 0.7, clip, paper, INK),
    ),
    ...dropItems(figure, inBox, camera),
    ...(behind ? [behind] : []),
    ...plane,
    ...residualItems(document, answer, marks, scales, camera),
    ...(texts ?? [before]),
    ...placesReadOff(document, answer, scales, camera, measure),
    ...axes.flatMap(({ drawn }) => drawn.items),
    ...names.items,
    ...words.items,
    ...blockItems(legend, legendBox, document.legend.place === 'free' ? paper : null),
    ...said.items,
    ...notes.items,
    ...pageFrame(page),
    ...(answer.counts.drawn ? [] : [nothing(figure, room)]),
  ]
  const regions: Region[] = [
    ...notes.regions,
    ...names.placed.map(({ box }) => ({ part: 'names' as const, box })),
    ...(legendBox ? [{ part: 'legend' as const, box: legendBox }] : []),
    ...said.regions,
    ...axes.flatMap(({ axis: { part }, drawn: { box } }) => (box ? [{ part, box }] : [])),
    ...words.regions,
    { part: 'space', box: room },
  ]
  return {
    scene: {
      width: page.width,
      height: page.height,
      paper,
      items,
      regions,
      isRough: moving && marks.row.length > MOST_WHILE_TURNED,
    },
    plot: room,
    ...flat,
    marks: placed.item,
    source: placed.source,
    radius: placed.radius,
    trends: [],
    names: names.placed,
    unnamed: names.left,
    entries: (legendBox && legend?.entries?.(legendBox.x, legendBox.y)) ?? [],
    rowPlace: (row) => {
      const drawn = placed.source.findIndex((i) => marks.row[i] === row)
      return drawn < 0 ? null : [placed.item.x[drawn], placed.item.y[drawn]]
    },
    off: marks.row.length > MOST_WHILE_TURNED && moving ? 0 : placed.off,
    isTurned: true,
  }
}

const boxAxes = ({ document, answer }: RenderedFigure, scales: Scales3): BoxAxis[] => {
  const { axes, space } = document
  const of = (
    way: Way,
    part: BoxAxis['part'],
    axis: BoxAxis['axis'],
    { variable }: Answer['x'],
  ): BoxAxis => ({
    way,
    part,
    axis,
    scale: scales[way],
    isDate: variable.kind === 'date',
    title: axis.title ?? titled(variable),
  })
  return [
    of('up', 'y-axis', axes.y, answer.y),
    of('across', 'x-axis', axes.x, answer.x),
    of('depth', 'depth-axis', space!.axis, answer.space!.depth),
  ]
}

/** The part of the page for the box, and where the legend stands. */
function arranged(
  document: FigureDocument,
  words: FigureWords,
  legend: Legend | null,
): { room: Box; legendBox: Box | null } {
  const { width, height } = document.page
  const pad = padOf(document)
  const { place, x, y } = document.legend
  // Beside the upper corner of a box there is room for a small one.
  const isSmall = legend && legend.width < width * 0.22 && legend.height < height * 0.3
  const isBeside = !legend?.isBelow && (place === 'right' || (place === 'auto' && !isSmall))
  const right = legend && isBeside ? legend.width + 6 : 0
  const below = legend?.isBelow ? legend.height : 0
  const room = {
    x: pad,
    y: words.top,
    width: Math.max(40, width - 2 * pad - right),
    height: Math.max(40, height - words.top - pad - words.below - below),
  }
  if (!legend) return { room, legendBox: null }
  const size = { width: legend.width, height: legend.height }
  const legendBox =
    place === 'free'
      ? boxWithin(legend, x * width, y * height, document.page)
      : legend.isBelow
        ? { x: room.x, y: room.y + room.height, ...size }
        : isBeside
          ? { x: room.x + room.width + 6, y: room.y, ...size }
          : { x: room.x + room.width - size.width, y: room.y, ...size }
  return { room, legendBox }
}

/** The room that is left when the words of the axes have theirs. */
function boxRoom(room: Box, gauge: number, size: number): Box {
  const side = 34 * gauge + 1.6 * size
  const foot = 36 * gauge
  return {
    x: room.x + side,
    y: room.y + 6 * gauge,
    width: Math.max(20, room.width - 2 * side),
    height: Math.max(20, room.height - foot - 6 * gauge),
  }
}

/** The readings of the planes that stand on the figure. */
function planeSaid(
  { document, answer }: RenderedFigure,
  measure: Measure,
  most: number,
  taken: Box[],
): { items: Item[]; regions: Region[] } {
  const lines = answer.space!.planes.flatMap((report) =>
    readingLine(
      document.space!.plane?.on_figure ?? [],
      report,
      planeColour(document, answer, report),
    ),
  )
  if (!lines.length) return { items: [], regions: [] }
  const { place, x, y } = document.readings
  const { page } = document
  const block = readingsBlock(document, lines, measure, most * 0.6)
  const pad = padOf(document)
  const box =
    place === 'free'
      ? boxWithin(block, x * page.width, y * page.height, page)
      : { x: pad / 2, y: pad / 2, width: block.width, height: block.height }
  if (place !== 'free') {
    const below = taken.filter(
      (other) => other.x < box.x + box.width && other.y < box.y + box.height,
    )
    if (below.length) box.y = Math.max(box.y, 4)
  }
  taken.push(box)
  return {
    items: blockItems(block, box, fromHex(page.background)),
    regions: [{ part: 'readings', box }],
  }
}

/** A note stands on the page: what it was put beside on a pair has no place here. */
const pageNote = (note: FigureDocument['notes'][number]): typeof note =>
  note.anchor === 'page' ? { ...note, points_to: null } : { ...note, x: NaN, points_to: null }

/** Places on the page as they are: for what is dragged on it. */
const pageScale = (length: number): Scale =>
  makeScale(transformOf('linear'), [0, length], [0, length])

function nothing({ answer, document }: RenderedFigure, room: Box): Item {
  const labels = [answer.y, answer.x, answer.space!.depth].map(({ variable }) => variable.label)
  return {
    kind: 'text',
    part: 'ground',
    x: room.x + room.width / 2,
    y: room.y + room.height / 2,
    runs: [
      { text: `No row has all of ${labels[0]}, ${labels[1]} and ${labels[2]}.`, place: 'line' },
    ],
    size: 14 * document.type.scale,
    weight: 400,
    face: 'sans',
    colour: SOFT_INK,
    anchor: 'middle',
    turn: 0,
  }
}
