/** Numbers read off by hand: a place is dragged along a line, and stays where it is let go. */
import type { FigureDocument, TrendAnswer } from '@/api/types'
import { inSentence } from '@/figure-model/words'
import type { RenderedFigure } from '@/render/figure'
import type { Layout } from '@/render/layout/figure'
import { distanceToLine } from '@/render/geometry/pick'
import { contains } from '@/render/scene'
import { dateText, valueText } from '@/render/geometry/ticks'

const NEAR_LINE = 6
/** What is read by hand is as fine as this share of the axis. */
const STEPS = 1000
/** Dates step by a day, an hour, a minute or a second, the first of which this many are in view. */
const DATES_IN_VIEW = 30
const DATE_STEPS = [1, 1 / 24, 1 / 1440, 1 / 86_400]

/** What is held: a line of a trend, and which of its numbers, if it is there already. */
export interface Reading {
  trend: TrendAnswer
  points: Float64Array
  place: number | null
  /** What is being read: y at an x, or x at a level of y. */
  what: 'at' | 'level'
}

/** Where a reading stands while it is dragged. */
export interface ReadPlace {
  x: number
  y: number
  value: number
  text: string
}

/** The reading that a press takes hold of; null where there is no line and no number. */
export function readingAt(
  layout: Layout,
  document: FigureDocument,
  x: number,
  y: number,
): Reading | null {
  const region = layout.scene.regions.find(
    ({ part, box }) => part.startsWith('read-') && contains(box, x, y),
  )
  if (region) {
    const [trend, place] = region.part.split('-').slice(1).map(Number)
    const held = document.trends[trend]?.read_off.at(place)
    const line = layout.trends.find((one) => one.trend.trend === trend)
    if (held && line) return { ...line, place, what: held.at === null ? 'level' : 'at' }
  }
  if (!contains(layout.plot, x, y)) return null
  const near = layout.trends.find(({ points }) => distanceToLine(points, x, y) <= NEAR_LINE)
  return near ? { trend: near.trend, points: near.points, place: null, what: 'at' } : null
}

/** Follows the hand along the line. */
export function readPlace(
  { trend, points, what }: Reading,
  layout: Layout,
  { answer }: RenderedFigure,
  x: number,
  y: number,
): ReadPlace | null {
  const side = what === 'at' ? 'x' : 'y'
  const scale = layout[side]
  const isDate = answer[side].variable.kind === 'date'
  const spanOf = (axis: 'x' | 'y'): number => layout[axis].domain[1] - layout[axis].domain[0]
  const dateStepOf = (axis: 'x' | 'y'): number =>
    DATE_STEPS.find((one) => one * DATES_IN_VIEW <= spanOf(axis)) ?? DATE_STEPS.at(-1)!
  const step = isDate ? dateStepOf(side) : 10 ** Math.floor(Math.log10(spanOf(side) / STEPS))
  const value = Number(
    (Math.round(scale.fromPage(what === 'at' ? x : y) / step) * step).toPrecision(isDate ? 15 : 12),
  )
  const at = scale.toPage(value)
  const other = across(points, at, what === 'at' ? 0 : 1)
  if (other === null) return null
  const [px, py] = what === 'at' ? [at, other] : [other, at]
  const said = (axis: 'x' | 'y', place: number): string => {
    const found = layout[axis].fromPage(place)
    return answer[axis].variable.kind === 'date'
      ? dateText(Math.round(found / dateStepOf(axis)) * dateStepOf(axis))
      : valueText(Number(found.toPrecision(4)))
  }
  return {
    x: px,
    y: py,
    value,
    text: `${answer.y.variable.label} ${said('y', py)} at ${inSentence(answer.x.variable)} ${said('x', px)} (${trend.family_label})`,
  }
}

/** Where a line stands when one of its places is given: the first crossing; null where it has none. */
function across(points: Float64Array, at: number, axis: 0 | 1): number | null {
  for (let i = 0; i + 3 < points.length; i += 2) {
    const [from, to] = [points[i + axis], points[i + 2 + axis]]
    if (!((from <= at && at <= to) || (to <= at && at <= from))) continue
    const share = to === from ? 0 : (at - from) / (to - from)
    const found = points[i + 1 - axis] + share * (points[i + 3 - axis] - points[i + 1 - axis])
    if (Number.isFinite(found)) return found
  }
  return null
}

/** Keeps what was read in the document. */
export function keepReading(
  draft: FigureDocument,
  { trend, place, what }: Reading,
  value: number,
): void {
  const held = draft.trends[trend.trend].read_off
  if (place === null) held.push({ at: value, level: null, name: null, group: trend.report.group })
  else held[place][what] = value
}
