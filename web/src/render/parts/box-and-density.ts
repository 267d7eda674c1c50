/** What stands in a lane of a distribution: bars, a density, a box, a middle with its interval. */
import type { Answer } from '@/api/types'
import { INK, mixed } from '@/render/colours'
import type { Zone } from '@/render/geometry/category-bands'
import type { Scale } from '@/render/geometry/scale'
import type { Box, Colour, Item } from '@/render/scene'

type Spread = NonNullable<Answer['distribution']>['groups'][number]

/** A lane, and what is drawn in it. */
export interface LaneFrame {
  spread: Spread
  /** Where a share of the lane's width and a value stand on the page. */
  at: (share: number, value: number) => [number, number]
  colour: Colour
  shape: Zone | null
  /** Of boxes and points. */
  strip: Zone | null
  /** Of a middle with its interval. */
  middle: Zone | null
  /** The greatest height of all lanes. */
  most: number
  /** What a count is drawn as. */
  height: (count: number) => number
  /** Whether other groups stand on the same line: outlines then, with the lightest of tints. */
  isShared: boolean
  gauge: number
}

const PART = 'distribution' as const
const TINT = 0.34
const SHARED_TINT = 0.1

const closed = (points: number[], fill: Colour, fillOpacity: number, clip: Box): Item => ({
  kind: 'path',
  part: PART,
  points: Float64Array.from(points),
  closed: true,
  fill,
  fillOpacity,
  clip,
})

const open = (points: number[], stroke: Colour, width: number, clip?: Box): Item => ({
  kind: 'path',
  part: PART,
  points: Float64Array.from(points),
  closed: false,
  stroke,
  width,
  clip,
})

/** Within the axis, where a logarithm has no place for what lies below. */
const seen = (value: number, { domain, warp }: Scale): number =>
  Math.max(value, warp.least === -Infinity ? value : Math.max(warp.least, domain[0]))

const shareOf = ({ shape, most, height }: LaneFrame, count: number): number => {
  const [foot, top] = shape!
  return foot + (top - foot) * Math.min(1, height(count) / most)
}

/** The bars of a histogram: apart where a lane is one group's, an outline where groups share it. */
export function barItemsOf(frame: LaneFrame, value: Scale, plot: Box): Item[] {
  const { spread, at, colour, shape, isShared, gauge } = frame
  const { edges, counts } = spread
  if (!shape || edges.length < 2) return []
  const tops = counts.map((count) => shareOf(frame, count))
  const outline = [
    ...at(shape[0], seen(edges[0], value)),
    ...tops.flatMap((top, i) => [
      ...at(top, seen(edges[i], value)),
      ...at(top, seen(edges[i + 1], value)),
    ]),
    ...at(shape[0], seen(edges[edges.length - 1], value)),
  ]
  if (isShared)
    return [closed(outline, colour, SHARED_TINT, plot), open(outline, colour, 1.3 * gauge, plot)]
  return counts.flatMap((count, i): Item[] => {
    if (!count) return []
    const [low, high] = [seen(edges[i], value), seen(edges[i + 1], value)]
    if (!(high > low)) return []
    const corners = [
      ...at(shape[0], low),
      ...at(tops[i], low),
      ...at(tops[i], high),
      ...at(shape[0], high),
    ]
    return [
      {
        kind: 'path',
        part: PART,
        points: Float64Array.from(corners),
        closed: true,
        fill: colour,
        fillOpacity: TINT,
        stroke: colour,
        width: 0.9 * gauge,
        clip: plot,
      },
    ]
  })
}

/** The curve of a density, on the scale of the bars. */
export function densityItems(frame: LaneFrame, value: Scale, plot: Box): Item[] {
  const { spread, at, colour, shape, isShared, gauge } = frame
  const { at: places, density, edges, n } = spread
  if (!shape || !density.length) return []
  const width = edges.length > 1 ? edges[1] - edges[0] : 1
  const points = places.flatMap((place, i) =>
    place < value.warp.least ? [] : at(shareOf(frame, density[i] * n * width), place),
  )
  if (points.length < 4) return []
  const ends = places.filter((place) => place >= value.warp.least)
  const outline = [...at(shape[0], ends[0]), ...points, ...at(shape[0], ends[ends.length - 1])]
  return [
    closed(outline, colour, isShared ? SHARED_TINT : TINT * 0.6, plot),
    open(points, colour, 1.8 * gauge, plot),
  ]
}

/** A box with whiskers: quartiles, the median, and the furthest values that are not far out. */
export function boxItems(
  { spread, at, colour, strip, gauge }: LaneFrame,
  paper: Colour,
  hasPoints: boolean,
): Item[] {
  if (!strip) return []
  const [from, to] = strip
  const inset = (to - from) * (hasPoints ? 0.06 : 0.2)
  const [left, right] = [from + inset, to - inset]
  const middle = (left + right) / 2
  const [low, lower, median, upper, high] = spread.box
  const cap = (right - left) * 0.18
  const line = mixed(colour, INK, 0.72)
  const width = 1.2 * gauge
  const whisker = (a: number, b: number): Item[] => [
    open([...at(middle, a), ...at(middle, b)], line, width),
    open([...at(middle - cap, b), ...at(middle + cap, b)], line, width),
  ]
  const corners = [...at(left, lower), ...at(right, lower), ...at(right, upper), ...at(left, upper)]
  return [
    ...whisker(lower, low),
    ...whisker(upper, high),
    {
      kind: 'path',
      part: PART,
      points: Float64Array.from(corners),
      closed: true,
      fill: mixed(colour, paper, hasPoints ? 0.1 : 0.3),
      fillOpacity: 1,
      stroke: line,
      width,
    },
    open([...at(left, median), ...at(right, median)], line, 2.4 * gauge),
  ]
}

/** A middle, marked across its strip, with its interval. */
export function middleItems(
  { spread, at, middle: zone, gauge }: LaneFrame,
  which: 'none' | 'mean' | 'median',
  paper: Colour,
): Item[] {
  if (!zone || which === 'none') return []
  const { value, low, high } = spread[which]
  if (value === null) return []
  const [from, to] = zone
  const middle = (from + to) / 2
  const [x, y] = at(middle, value)
  const r = 4.2 * gauge
  const halo = (item: Item): Item[] =>
    item.kind === 'path'
      ? [{ ...item, stroke: paper, width: (item.width ?? 1) + 2.4 * gauge }, item]
      : [item]
  const cap = Math.min(0.02, (to - from) * 0.35)
  const lines =
    low === null || high === null
      ? []
      : [
          open([...at(middle, low), ...at(middle, high)], INK, 1.5 * gauge),
          open([...at(middle - cap, low), ...at(middle + cap, low)], INK, 1.5 * gauge),
          open([...at(middle - cap, high), ...at(middle + cap, high)], INK, 1.5 * gauge),
        ]
  return [
    ...lines.flatMap(halo),
    {
      kind: 'path',
      part: PART,
      points: Float64Array.of(x - r, y, x, y - r, x + r, y, x, y + r),
      closed: true,
      fill: INK,
      stroke: paper,
      width: 1.2 * gauge,
    },
  ]
}
