/** Numbers read off trends: guide lines to both axes, the value, and its interval. */
import type { Answer, FigureDocument, TrendAnswer } from '@/api/types'
import { bold, gaugeOf, penFor } from '@/render/text/lettering'
import { cross, type Segment } from '@/render/geometry/segments'
import type { MarkIndex } from '@/render/geometry/mark-index'
import type { Scale } from '@/render/geometry/scale'
import { circle } from '@/render/marks/shapes'
import type { Obstacles } from '@/render/placement/obstacles'
import type { Box, Colour, Item, Part, Region } from '@/render/scene'
import { parseRuns, widthOf, type Measure } from '@/render/text/text'
import { trendColour } from './trend-style'
import type { DrawnTrend } from './trends'
import { dateText, valueMarkup } from '@/render/geometry/ticks'

const DASH = [2, 3]
const INTERVAL_OPACITY = 0.35
const RADIUS = 3.2
const CAP = 4

/** A place on a trend that was read off. */
interface ReadAt {
  part: Part
  trend: TrendAnswer
  colour: Colour
  x: number
  y: number
  text: string
  /** The interval, along the axis that was read. */
  along: 'x' | 'y'
  low: number | null
  high: number | null
}

/** Digits enough to read a value on an axis: a thousandth of its span. */
const digitsFor = ({ domain }: Scale): number =>
  Math.max(0, 2 - Math.floor(Math.log10(Math.abs(domain[1] - domain[0]) || 1)))

function shown(value: number, scale: Scale, isDate: boolean): string {
  return isDate ? dateText(Math.round(value)) : valueMarkup(Number(value.toFixed(digitsFor(scale))))
}

function readAts(document: FigureDocument, answer: Answer, x: Scale, y: Scale): ReadAt[] {
  const xDate = answer.x.variable.kind === 'date'
  const yDate = answer.y.variable.kind === 'date'
  const unit = (axis: Answer['x']) => (axis.variable.unit ? ` ${axis.variable.unit}` : '')
  const place = (value: unknown): number | null => (typeof value === 'number' ? value : null)
  return answer.trends.flatMap((trend: TrendAnswer): ReadAt[] => {
    const colour = trendColour(document, answer, trend)
    const own = document.trends[trend.trend]?.read_off ?? []
    const numberOf = (test: (one: (typeof own)[number]) => boolean): Part => {
      const i = own.findIndex(test)
      return `read-${trend.trend}-${Math.max(0, i)}`
    }
    const titled = (name: string | null | undefined, text: string) =>
      name ? `${name}: ${text}` : text
    const readings = trend.report.readings.flatMap((r): ReadAt[] => {
      const [at, value] = [place(r.x_place), place(r.y_place)]
      if (at === null || value === null) return []
      return [
        {
          part: numberOf(
            (one) => one.at !== null && Math.abs(one.at - at) < 1e-9 * (1 + Math.abs(at)),
          ),
          trend,
          colour,
          x: at,
          y: value,
          text: titled(
            r.name,
            `${shown(value, y, yDate)}${unit(answer.y)} at ${shown(at, x, xDate)}`,
          ),
          along: 'y',
          low: yDate ? null : place(r.mean_low),
          high: yDate ? null : place(r.mean_high),
        },
      ]
    })
    const solutions = trend.report.solutions.flatMap((s): ReadAt[] => {
      const [at, value] = [place(s.x_place), place(s.y_place)]
      if (at === null || value === null) return []
      return [
        {
          part: numberOf(
            (one) =>
              one.level !== null && Math.abs(one.level - value) < 1e-9 * (1 + Math.abs(value)),
          ),
          trend,
          colour,
          x: at,
          y: value,
          text: titled(
            s.name,
            `${shown(value, y, yDate)}${unit(answer.y)} at ${shown(at, x, xDate)}`,
          ),
          along: 'x',
          low: place(s.low_place),
          high: place(s.high_place),
        },
      ]
    })
    return [...readings, ...solutions]
  })
}

/**
 * Draws what was read off: lines to the axes, the place, the interval on its axis, the words.
 *
 * @param obstacles what words may not meet, but for marks; theirs are added to it
 */
export function readOffItems(
  document: FigureDocument,
  answer: Answer,
  trends: readonly DrawnTrend[],
  x: Scale,
  y: Scale,
  plot: Box,
  obstacles: Obstacles,
  marksOf: () => MarkIndex,
  measure: Measure,
): { items: Item[]; regions: Region[]; left: number } {
  const pen = bold(penFor(document, 'notes'))
  const items: Item[] = []
  const regions: Region[] = []
  const gauge = gaugeOf(document)
  const cap = CAP * gauge
  const places = readAts(document, answer, x, y)
    .map((one) => ({ ...one, px: x.toPage(one.x), py: y.toPage(one.y) }))
    .filter(({ px, py }) => Number.isFinite(px) && Number.isFinite(py))
  let left = 0
  if (!places.length) return { items, regions, left }
  const marks = marksOf()
  const foot = plot.y + plot.height
  const clip = { x: plot.x - 8, y: plot.y, width: plot.width + 8, height: plot.height + 8 }
  const drawn = places.map((one): Item[] => {
    const { px, py } = one
    const line = (points: ArrayLike<number>, more: Partial<Item> = {}): Item =>
      ({
        kind: 'path',
        part: one.part,
        points: Float64Array.from(points),
        closed: false,
        stroke: one.colour,
        width: 1,
        clip,
        ...more,
      }) as Item
    const filled = { closed: true, fill: one.colour, stroke: undefined }
    const guide = line([plot.x, py, px, py, px, foot], { dash: DASH })
    const dot = line(circle(RADIUS * gauge, px, py, 24), { ...filled, fillOpacity: 1 })
    if (one.low === null || one.high === null) return [guide, dot]
    const scale = one.along === 'x' ? x : y
    const [a, b] = [scale.toPage(one.low), scale.toPage(one.high)]
    const interval =
      one.along === 'x'
        ? [a, foot - cap, b, foot - cap, b, foot + cap, a, foot + cap]
        : [plot.x - cap, a, plot.x - cap, b, plot.x + cap, b, plot.x + cap, a]
    return [guide, line(interval, { ...filled, fillOpacity: INTERVAL_OPACITY }), dot]
  })
  obstacles.add(drawn.flat(), measure)
  places.forEach((one, i) => {
    const { part, colour, px, py } = one
    const runs = parseRuns(one.text)
    const size = { width: widthOf(runs, pen, measure), height: pen.size * 1.2 }
    items.push(...drawn[i])
    regions.push({ part, box: { x: px - 6, y: py - 6, width: 12, height: 12 } })
    const others = trends.filter(({ trend }) => trend !== one.trend)
    const box = roomFor(size, px, py, plot, obstacles, marks, others)
    if (!box) {
      left++
      return
    }
    obstacles.addBox(box)
    const leader = leaderOf(box, px, py)
    if (leader)
      items.push({
        kind: 'path',
        part,
        points: Float64Array.from(leader),
        closed: false,
        stroke: colour,
        width: 0.8,
        clip,
      })
    items.push({
      kind: 'text',
      part,
      x: box.x,
      y: box.y + pen.size * 0.92,
      runs,
      ...pen,
      colour,
      anchor: 'start',
      turn: 0,
    })
    regions.push({ part, box })
  })
  return { items, regions, left }
}

/** The free place for words that is nearest to what they are of: beside it, or further off. */
function roomFor(
  size: { width: number; height: number },
  x: number,
  y: number,
  plot: Box,
  obstacles: Obstacles,
  marks: MarkIndex,
  others: readonly DrawnTrend[],
): Box | null {
  const { width, height } = size
  const places = [
    [x - width - 8, y - height - 3],
    [x + 8, y + 4],
    [x - width - 8, y + 4],
    [x + 8, y - height - 3],
  ].map(([left, top]) => ({ x: left, y: top, ...size }))
  // Anywhere else: a line leads from there.
  const further: Box[] = []
  for (let left = plot.x + 2; left <= plot.x + plot.width - width; left += STEP)
    for (let top = plot.y; top <= plot.y + plot.height - height; top += STEP)
      further.push({ x: left, y: top, ...size })
  further.sort((a, b) => offFrom(a, x, y) - offFrom(b, x, y))
  const free = [...places, ...further].filter(
    (box) => obstacles.isFree(box) && marks.under(box) === 0,
  )
  // A line that leads over another curve seems to lead to that.
  const isClear = (box: Box): boolean => {
    const leader = leaderOf(box, x, y)
    return !leader || !others.some(({ points }) => crosses(points, leader))
  }
  return free.find(isClear) ?? free[0] ?? null
}

/** Whether a line of corner points crosses a straight one. */
function crosses(points: Float64Array, line: Segment): boolean {
  for (let i = 0; i + 3 < points.length; i += 2)
    if (cross([points[i], points[i + 1], points[i + 2], points[i + 3]], line)) return true
  return false
}

/** Places further off are tried so far apart. */
const STEP = 6
/** Words that stand so far from their place get a line to it. */
const STANDS_OFF = 16

/** The place of a box that is nearest to a point. */
const nearest = ({ x, y, width, height }: Box, px: number, py: number): [number, number] => [
  Math.max(x, Math.min(px, x + width)),
  Math.max(y, Math.min(py, y + height)),
]

function offFrom(box: Box, px: number, py: number): number {
  const [x, y] = nearest(box, px, py)
  return Math.hypot(x - px, y - py)
}

const leaderOf = (box: Box, px: number, py: number): Segment | null =>
  offFrom(box, px, py) > STANDS_OFF ? [...nearest(box, px, py), px, py] : null
