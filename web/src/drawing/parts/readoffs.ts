/** Numbers read off trends: guide lines to both axes, the value, and its interval. */
import type { Answer, FigureDocument, TrendAnswer } from '@/api/types'
import { penFor } from '@/drawing/text/lettering'
import type { Scale } from '@/drawing/geometry/scale'
import type { Box, Colour, Item, Part, Region } from '@/drawing/scene'
import { parseRuns, widthOf, type Measure } from '@/drawing/text/text'
import { trendColour } from './trend-style'
import type { DrawnTrend } from './trends'
import { dateText, valueText } from '@/drawing/geometry/ticks'

const DASH = [2, 3]
const INTERVAL_OPACITY = 0.35
const RADIUS = 3.2
const CAP = 4

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
  return isDate ? dateText(Math.round(value)) : valueText(Number(value.toFixed(digitsFor(scale))))
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
  measure: Measure,
): { items: Item[]; regions: Region[] } {
  const pen = penFor(document, 'notes')
  const items: Item[] = []
  const regions: Region[] = []
  const taken: Box[] = []
  const places = readAts(document, answer, x, y).map((one) => ({
    ...one,
    px: x.toPage(one.x),
    py: y.toPage(one.y),
  }))
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
          ? [a, foot - CAP, b, foot - CAP, b, foot + CAP, a, foot + CAP]
          : [left - CAP, a, left - CAP, b, left + CAP, b, left + CAP, a]
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
      line(circle(px, py), { closed: true, fill: one.colour, fillOpacity: 1, stroke: undefined }),
    )
    const runs = parseRuns(one.text)
    const box = roomFor(
      { width: widthOf(runs, pen, measure), height: pen.size * 1.2 },
      px,
      py,
      plot,
      taken,
      lines,
    )
    taken.push(box)
    items.push({
      kind: 'text',
      part: one.part,
      x: box.x,
      y: box.y + pen.size * 0.92,
      runs,
      ...pen,
      weight: 600,
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
  ].map(([left, top]) => ({
    x: Math.max(plot.x + 2, Math.min(left, plot.x + plot.width - width)),
    y: Math.max(plot.y, Math.min(top, foot - height)),
    ...size,
  }))
  const cost = (box: Box, i: number): number =>
    i +
    100 * taken.filter((other) => meet(box, other)).length +
    10 * lines.filter((points) => crosses(points, box)).length
  return candidates.reduce(
    (best, box, i) => {
      const now = cost(box, i)
      return now < best.cost ? { box, cost: now } : best
    },
    { box: candidates[0], cost: Infinity },
  ).box
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

const circle = (x: number, y: number): number[] =>
  Array.from({ length: 24 }, (_, i) => (i * Math.PI) / 12).flatMap((angle) => [
    x + RADIUS * Math.cos(angle),
    y + RADIUS * Math.sin(angle),
  ])
