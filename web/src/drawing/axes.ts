/** Axes: a line from the smallest to the largest value drawn, ticks, labels and a title. */
import { INK } from './colours'
import type { Extent, Scale } from './scale'
import type { Box, Item, Part } from './scene'
import { parseRuns, widthOf, wrap, type Measure, type Run } from './text'
import { dateTicks, numberTicks, type Tick } from './ticks'

export const TICK_SIZE = 12
export const TITLE_SIZE = 12.5
const TICK_LENGTH = 5
const LABEL_GAP = 4
/** Least room between the labels of two ticks across. */
const LABEL_ROOM = 10
const TITLE_GAP = 9
const LINE_WIDTH = 1
/** Between the plot and its axes, so that marks at the ends stand clear. */
export const AXIS_OFFSET = 7
const LINE_HEIGHT = 1.25

export interface AxisWords {
  title: string
  isDate: boolean
}

export type TickMaker = (extent: Extent, count: number) => Tick[]

export const tickMaker = (isDate: boolean): TickMaker => (isDate ? dateTicks : numberTicks)

const labelWidth = (tick: Tick, measure: Measure): number =>
  widthOf(parseRuns(tick.label), TICK_SIZE, 400, measure)

/** The ticks of an axis that runs across: as many as stand apart from one another. */
export function ticksAcross(
  make: TickMaker,
  domain: Extent,
  width: number,
  measure: Measure,
): Tick[] {
  const perUnit = width / (domain[1] - domain[0])
  const meet = (before: Tick, tick: Tick): boolean =>
    (tick.value - before.value) * perUnit <
    (labelWidth(tick, measure) + labelWidth(before, measure)) / 2 + LABEL_ROOM
  for (let count = Math.max(2, Math.round(width / 80)); count >= 2; count--) {
    const ticks = make(domain, count)
    if (!ticks.some((tick, i) => i > 0 && meet(ticks[i - 1], tick))) return ticks
  }
  // Too narrow for round steps alone: of the coarsest ticks those that have room.
  const apart: Tick[] = []
  for (const tick of make(domain, 2)) {
    const last = apart.at(-1)
    if (!last || !meet(last, tick)) apart.push(tick)
  }
  return apart
}

export const ticksUp = (make: TickMaker, domain: Extent, height: number): Tick[] =>
  make(domain, Math.max(2, Math.round(height / 80)))

/** Room that the axis up takes to the left of the plot. */
export function roomLeft(ticks: readonly Tick[], title: Run[][], measure: Measure): number {
  const labels = Math.max(0, ...ticks.map((tick) => labelWidth(tick, measure)))
  return AXIS_OFFSET + TICK_LENGTH + LABEL_GAP + labels + titleRoom(title)
}

/** Room that the axis across takes below the plot. */
export const roomBelow = (title: Run[][]): number =>
  AXIS_OFFSET + TICK_LENGTH + LABEL_GAP + TICK_SIZE + titleRoom(title)

const titleRoom = (title: Run[][]): number =>
  title.length ? TITLE_GAP + title.length * TITLE_SIZE * LINE_HEIGHT : 0

/** Half of the last label across may reach past the plot. */
export const overhang = (ticks: readonly Tick[], measure: Measure): number =>
  ticks.length ? labelWidth(ticks[ticks.length - 1], measure) / 2 : 0

export const titleLines = (title: string, length: number, measure: Measure): Run[][] =>
  title ? wrap(title, length, TITLE_SIZE, 600, measure) : []

const line = (part: Part, ...points: number[]): Item => ({
  kind: 'path',
  part,
  points: Float64Array.from(points),
  closed: false,
  stroke: INK,
  width: LINE_WIDTH,
})

/** The values that an axis spans on the page: the data's, as far as they are in view. */
function drawnSpan(scale: Scale, data: Extent): Extent {
  const low = Math.max(data[0], scale.domain[0])
  const high = Math.min(data[1], scale.domain[1])
  return low < high ? [low, high] : scale.domain
}

const within = (ticks: readonly Tick[], [low, high]: Extent): Tick[] => {
  const slack = (high - low) * 1e-9
  return ticks.filter(({ value }) => value >= low - slack && value <= high + slack)
}

/** Lengthens a range frame to the ticks just past it, so that none floats beside the line. */
const reaching = ([low, high]: Extent, ticks: readonly Tick[]): Extent => [
  Math.min(low, ticks[0]?.value ?? low),
  Math.max(high, ticks[ticks.length - 1]?.value ?? high),
]

export function axisAcross(
  scale: Scale,
  data: Extent,
  ticks: readonly Tick[],
  title: Run[][],
  plot: Box,
  measure: Measure,
): { items: Item[]; box: Box } {
  const part = 'x-axis'
  const y = plot.y + plot.height + AXIS_OFFSET
  const shown = within(ticks, scale.domain)
  const [low, high] = reaching(drawnSpan(scale, data), shown)
  const items: Item[] = [line(part, scale.toPage(low), y, scale.toPage(high), y)]
  for (const tick of shown) {
    const x = scale.toPage(tick.value)
    items.push(line(part, x, y, x, y + TICK_LENGTH))
    items.push({
      kind: 'text',
      part,
      x,
      y: y + TICK_LENGTH + LABEL_GAP + TICK_SIZE * 0.82,
      runs: parseRuns(tick.label),
      size: TICK_SIZE,
      weight: 400,
      colour: INK,
      anchor: 'middle',
      turn: 0,
    })
  }
  const top = y + TICK_LENGTH + LABEL_GAP + TICK_SIZE + TITLE_GAP
  title.forEach((runs, i) => {
    items.push({
      kind: 'text',
      part,
      x: plot.x + plot.width / 2,
      y: top + TITLE_SIZE * (0.9 + i * LINE_HEIGHT),
      runs,
      size: TITLE_SIZE,
      weight: 600,
      colour: INK,
      anchor: 'middle',
      turn: 0,
    })
  })
  const reach = overhang(shown, measure)
  return {
    items,
    box: {
      x: plot.x - reach,
      y: y - 4,
      width: plot.width + 2 * reach,
      height: roomBelow(title) - AXIS_OFFSET + 8,
    },
  }
}

export function axisUp(
  scale: Scale,
  data: Extent,
  ticks: readonly Tick[],
  title: Run[][],
  plot: Box,
  measure: Measure,
): { items: Item[]; box: Box } {
  const part = 'y-axis'
  const x = plot.x - AXIS_OFFSET
  const shown = within(ticks, scale.domain)
  const [low, high] = reaching(drawnSpan(scale, data), shown)
  const items: Item[] = [line(part, x, scale.toPage(low), x, scale.toPage(high))]
  for (const tick of shown) {
    const y = scale.toPage(tick.value)
    items.push(line(part, x - TICK_LENGTH, y, x, y))
    items.push({
      kind: 'text',
      part,
      x: x - TICK_LENGTH - LABEL_GAP,
      y: y + TICK_SIZE * 0.34,
      runs: parseRuns(tick.label),
      size: TICK_SIZE,
      weight: 400,
      colour: INK,
      anchor: 'end',
      turn: 0,
    })
  }
  const room = roomLeft(ticks, title, measure)
  const left = plot.x - room
  title.forEach((runs, i) => {
    items.push({
      kind: 'text',
      part,
      x: left + TITLE_SIZE * (0.9 + i * LINE_HEIGHT),
      y: plot.y + plot.height / 2,
      runs,
      size: TITLE_SIZE,
      weight: 600,
      colour: INK,
      anchor: 'middle',
      turn: -90,
    })
  })
  return {
    items,
    box: { x: left - 4, y: plot.y - 8, width: room - AXIS_OFFSET + 8, height: plot.height + 16 },
  }
}
