/** Numbers read off trends: guide lines to both axes, the value, and its interval. */
import type { Answer, FigureDocument, TrendAnswer } from '@/api/types'
import { fromHex } from '@/render/colours'
import { corners } from '@/render/geometry/boxes'
import { bold, gaugeOf, penFor } from '@/render/text/lettering'
import type { Marks } from '@/render/geometry/labels'
import type { Scale } from '@/render/geometry/scale'
import { circle } from '@/render/marks/shapes'
import type { Box, Colour, Item, Part, Region } from '@/render/scene'
import { parseRuns, widthOf, type Measure } from '@/render/text/text'
import { trendColour } from './trend-style'
import type { DrawnTrend } from './trends'
import { dateText, valueMarkup } from '@/render/geometry/ticks'

const DASH = [2, 3]
const INTERVAL_OPACITY = 0.35
const RADIUS = 3.2
const CAP = 4

/** What words keep clear of, beside lines. */
export interface Busy {
  marks: Marks
  /** Outlines of bands. */
  bands: readonly Float64Array[]
}

/** A place on a trend that was read off. */
interface ReadAt {
  part: Part
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

/** Draws what was read off: lines to the axes, the place, the interval on its axis, the words. */
export function readOffItems(
  document: FigureDocument,
  answer: Answer,
  drawn: readonly DrawnTrend[],
  x: Scale,
  y: Scale,
  plot: Box,
  boxes: readonly Box[],
  busyOf: () => Busy,
  measure: Measure,
): { items: Item[]; regions: Region[] } {
  const pen = bold(penFor(document, 'notes'))
  const items: Item[] = []
  const regions: Region[] = []
  const taken: Box[] = [...boxes]
  const gauge = gaugeOf(document)
  const cap = CAP * gauge
  const places = readAts(document, answer, x, y).map((one) => ({
    ...one,
    px: x.toPage(one.x),
    py: y.toPage(one.y),
  }))
  if (!places.length) return { items, regions }
  const busy = busyOf()
  const foot = plot.y + plot.height
  const guides = places.map(({ px, py }) => Float64Array.of(plot.x, py, px, py, px, foot))
  const lines = [...drawn.map(({ points }) => points), ...guides]
  const clip = { x: plot.x - 8, y: plot.y, width: plot.width + 8, height: plot.height + 8 }
  for (const one of places) {
    const { px, py } = one
    if (!Number.isFinite(px) || !Number.isFinite(py)) continue
    const left = plot.x
    const line = (points: number[], more: Partial<Item> = {}): Item =>
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
    items.push(line([left, py, px, py, px, foot], { dash: DASH }))
    if (one.low !== null && one.high !== null) {
      const scale = one.along === 'x' ? x : y
      const [a, b] = [scale.toPage(one.low), scale.toPage(one.high)]
      const box =
        one.along === 'x'
          ? [a, foot - cap, b, foot - cap, b, foot + cap, a, foot + cap]
          : [left - cap, a, left - cap, b, left + cap, b, left + cap, a]
      items.push(
        line(box, {
          closed: true,
          fill: one.colour,
          fillOpacity: INTERVAL_OPACITY,
          stroke: undefined,
        }),
      )
    }
    items.push(
      line(circle(RADIUS * gauge, px, py, 24), {
        closed: true,
        fill: one.colour,
        fillOpacity: 1,
        stroke: undefined,
      }),
    )
    const runs = parseRuns(one.text)
    const box = roomFor(
      { width: widthOf(runs, pen, measure), height: pen.size * 1.2 },
      px,
      py,
      plot,
      taken,
      lines,
      busy,
    )
    taken.push(box)
    const leader = leaderOf(box, px, py)
    if (leader) items.push(line(leader, { width: 0.8 }))
    // Where there is nothing clear, the words are read all the same.
    items.push({
      kind: 'path',
      part: one.part,
      points: corners(box),
      closed: true,
      fill: fromHex(document.page.background),
      fillOpacity: 0.82,
    })
    items.push({
      kind: 'text',
      part: one.part,
      x: box.x,
      y: box.y + pen.size * 0.92,
      runs,
      ...pen,
      colour: one.colour,
      anchor: 'start',
      turn: 0,
    })
    regions.push({ part: one.part, box })
    regions.push({ part: one.part, box: { x: px - 6, y: py - 6, width: 12, height: 12 } })
  }
  return { items, regions }
}

/**
 * Beside the place: where it meets no other words, and the fewest lines.
 *
 * @param lines corner points of what is drawn, x and y in turn
 */
function roomFor(
  size: { width: number; height: number },
  x: number,
  y: number,
  plot: Box,
  taken: readonly Box[],
  lines: readonly Float64Array[],
  { marks, bands }: Busy,
): Box {
  const { width, height } = size
  const foot = plot.y + plot.height
  const candidates = [
    [x - width - 8, y - height - 2],
    [x + 8, y + 3],
    [x - width - 8, y + 3],
    [x + 8, y - height - 2],
    ...[1, 2, 3, 4].flatMap((k) => [
      [x + 8, foot - 8 - k * (height + 2)],
      [x - width - 8, y - (k + 1) * (height + 2)],
      [x + 8, y + k * (height + 2) + 3],
    ]),
    // Anywhere else: a line leads from there.
    ...FAR.flatMap((k) =>
      TURNS.map((turn) => [
        x - width / 2 + (k * height + width / 2) * Math.cos(turn),
        y - height / 2 + k * height * Math.sin(turn),
      ]),
    ),
  ].map(([left, top]) => ({
    x: Math.max(plot.x + 2, Math.min(left, plot.x + plot.width - width)),
    y: Math.max(plot.y, Math.min(top, foot - height)),
    ...size,
  }))
  const cost = (box: Box, i: number): number =>
    Math.min(i, 8) +
    A_POINT_OFF * offFrom(box, x, y) +
    100 * taken.filter((other) => meet(box, other)).length +
    25 * lines.filter((points) => crosses(points, box)).length +
    12 * marks.under(box) +
    8 * bands.filter((points) => crosses(points, box) || holds(points, box)).length
  return candidates.reduce(
    (best, box, i) => {
      const now = cost(box, i)
      return now < best.cost ? { box, cost: now } : best
    },
    { box: candidates[0], cost: Infinity },
  ).box
}

/** How far off words may stand, in their heights, and in which directions. */
const FAR = [3, 4.5, 6, 8, 11]
const TURNS = Array.from({ length: 12 }, (_, i) => (i * Math.PI) / 6)
/** Words that stand so far from their place get a line to it. */
const STANDS_OFF = 16

/** What a point of distance costs, beside a line crossed. */
const A_POINT_OFF = 0.15

/** The place of a box that is nearest to a point. */
const nearest = ({ x, y, width, height }: Box, px: number, py: number): [number, number] => [
  Math.max(x, Math.min(px, x + width)),
  Math.max(y, Math.min(py, y + height)),
]

function offFrom(box: Box, px: number, py: number): number {
  const [x, y] = nearest(box, px, py)
  return Math.hypot(x - px, y - py)
}

const leaderOf = (box: Box, px: number, py: number): number[] | null =>
  offFrom(box, px, py) > STANDS_OFF ? [...nearest(box, px, py), px, py] : null

/** Whether the middle of a box lies inside an outline. */
function holds(points: Float64Array, { x, y, width, height }: Box): boolean {
  const [mx, my] = [x + width / 2, y + height / 2]
  let isInside = false
  for (let i = 0, j = points.length - 2; i < points.length; j = i, i += 2) {
    const [x0, y0, x1, y1] = [points[i], points[i + 1], points[j], points[j + 1]]
    if (y0 > my !== y1 > my && mx < ((x1 - x0) * (my - y0)) / (y1 - y0) + x0) isInside = !isInside
  }
  return isInside
}

/** Least room between the words of two numbers. */
const APART = 5

const meet = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width + APART &&
  b.x < a.x + a.width + APART &&
  a.y < b.y + b.height &&
  b.y < a.y + a.height

/** Whether a line runs through a box. */
function crosses(points: Float64Array, { x, y, width, height }: Box): boolean {
  for (let i = 0; i + 3 < points.length; i += 2) {
    const [x0, y0, x1, y1] = [points[i], points[i + 1], points[i + 2], points[i + 3]]
    if (Math.max(x0, x1) < x || Math.min(x0, x1) > x + width) continue
    if (Math.max(y0, y1) < y || Math.min(y0, y1) > y + height) continue
    return true
  }
  return false
}
