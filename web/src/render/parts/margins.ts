/** Distributions along the axes: histograms, densities and boxes, for each colour. */
import type { Answer, FigureDocument } from '@/api/types'
import { fromHex, CATEGORIES } from '@/render/colours'
import { colourOn } from '@/render/marks/looks'
import type { Scale } from '@/render/geometry/scale'
import type { Box, Colour, Item } from '@/render/scene'
import { corners } from '@/render/geometry/boxes'
import { shelfOf, type Shelf } from './ridgelines'

type Side = 'x' | 'y'
type Margin = Answer['x']['margin'][number]

const DEPTH = 46
const GAP = 8
/** Shelves of many groups need more room than outlines of a few. */
const DEPTH_OF_SHELVES = 72
const FILL = 0.32
const BOX_SIZE = 11

/** Room that a margin takes above the plot, or to its right. */
export function marginRoom({ margins }: FigureDocument, answer: Answer, side: Side): number {
  const kind = margins[side]
  if (kind === 'none' || !answer[side].margin.length) return 0
  const groups = answer[side].margin.length
  return GAP + (kind === 'box' ? Math.min(6, groups) * (BOX_SIZE + 3) : depthOf(groups))
}

const depthOf = (groups: number): number =>
  shelfOf(0, groups, DEPTH).covers ? DEPTH_OF_SHELVES : DEPTH

/** Draws a margin: that of x above the plot, that of y to its right. */
export function marginItems(
  document: FigureDocument,
  answer: Answer,
  side: Side,
  scale: Scale,
  plot: Box,
): Item[] {
  const kind = document.margins[side]
  const parts = answer[side].margin
  if (kind === 'none' || !parts.length) return []
  const base = side === 'x' ? plot.y - GAP : plot.x + plot.width + GAP
  const outwards = side === 'x' ? -1 : 1
  const pen = (along: number, off: number): [number, number] =>
    side === 'x' ? [along, base + outwards * off] : [base + outwards * off, along]
  const clip =
    side === 'x'
      ? { x: plot.x - 2, y: 0, width: plot.width + 4, height: plot.y }
      : { x: plot.x + plot.width, y: plot.y - 2, width: 1e4, height: plot.height + 4 }
  const draw: Draw = { scale, pen, clip, paper: fromHex(document.page.background) }
  const colourOf = ({ code }: Margin): Colour =>
    code !== null && answer.colour?.scale === 'category'
      ? colourOn(document, answer.colour, code)
      : document.marks.colour
        ? fromHex(document.marks.colour)
        : CATEGORIES[0]
  if (kind === 'box')
    return parts.slice(0, 6).flatMap((part, i) => boxItems(part, i, colourOf(part), draw))
  const most = Math.max(...parts.flatMap(({ height }) => height))
  return parts.flatMap((part, i) => {
    const shelf = shelfOf(i, parts.length, depthOf(parts.length))
    return areaItems(part, kind === 'histogram', most, shelf, colourOf(part), draw)
  })
}

interface Draw {
  scale: Scale
  pen: (along: number, off: number) => [number, number]
  clip: Box
  paper: Colour
}

/** The place of a value; at the end of the axis where its scale has none. */
const placeOf = (scale: Scale, value: number): number => {
  const place = scale.toPage(value)
  return Number.isNaN(place) ? scale.range[0] : place
}

function areaItems(
  { at, height }: Margin,
  steps: boolean,
  most: number,
  { ground, tall, tint, covers }: Shelf,
  colour: Colour,
  { scale, pen, clip, paper }: Draw,
): Item[] {
  const off = (count: number): number => ground + (count / most) * tall
  const outline = steps
    ? height.flatMap((count, i) => [
        [at[i], off(count)],
        [at[i + 1], off(count)],
      ])
    : at.map((value, i) => [value, off(height[i])])
  const path = [[at[0], ground], ...outline, [at[at.length - 1], ground]]
  const points = Float64Array.from(path.flatMap(([value, up]) => pen(placeOf(scale, value), up)))
  const common = { kind: 'path' as const, part: 'ground' as const, points, clip }
  return [
    ...(covers ? [{ ...common, closed: true, fill: paper, fillOpacity: 1 }] : []),
    ...(tint ? [{ ...common, closed: true, fill: colour, fillOpacity: tint }] : []),
    // The ground is shared by all, and belongs to none of the colours.
    { ...common, closed: false, stroke: colour, width: tint ? 1 : 1.3 },
  ]
}

function boxItems(
  { at }: Margin,
  place: number,
  colour: Colour,
  { scale, pen, clip }: Draw,
): Item[] {
  const [low, lower, median, upper, high] = at.map((value) => placeOf(scale, value))
  const from = place * (BOX_SIZE + 3)
  const middle = from + BOX_SIZE / 2
  const line = (a: number, aOff: number, b: number, bOff: number, width: number): Item => ({
    kind: 'path',
    part: 'ground',
    points: Float64Array.from([...pen(a, aOff), ...pen(b, bOff)]),
    closed: false,
    stroke: colour,
    width,
    clip,
  })
  const [x0, y0] = pen(lower, from)
  const [x1, y1] = pen(upper, from + BOX_SIZE)
  const box = {
    x: Math.min(x0, x1),
    y: Math.min(y0, y1),
    width: Math.abs(x1 - x0),
    height: Math.abs(y1 - y0),
  }
  return [
    line(low, middle, lower, middle, 1),
    line(upper, middle, high, middle, 1),
    {
      kind: 'path',
      part: 'ground',
      points: corners(box),
      closed: true,
      fill: colour,
      fillOpacity: FILL,
      stroke: colour,
      width: 1,
      clip,
    },
    line(median, from, median, from + BOX_SIZE, 2),
  ]
}
