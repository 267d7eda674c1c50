/** Axes: a line, ticks, labels, a title, and gridlines; across and up by one and the same code. */
import type { Axis, FigureDocument } from '@/api/types'
import { fromHex } from '@/render/colours'
import { gaugeOf, penFor, type Pen } from '@/render/text/lettering'
import type { Extent, Scale } from '@/render/geometry/scale'
import type { Box, Colour, Item, Part, TextItem } from '@/render/scene'
import { parseRuns, widthOf, wrap, type Measure, type Run } from '@/render/text/text'
import { ticksOf, type Tick, type Ticks, type TickStyle } from '@/render/geometry/ticks'

const TICK_LENGTH = 5
const SMALL_TICK_LENGTH = 3
const LABEL_GAP = 4
/** Least room between the labels of two ticks across. */
const LABEL_ROOM = 10
const TITLE_GAP = 9
/** Between the plot and its axes, so that marks at the ends stand clear. */
export const AXIS_OFFSET = 7
const LINE_HEIGHT = 1.25
const GRID: Colour = fromHex('#dfe5e1')
const FINE_GRID: Colour = fromHex('#edf1ee')
/** Sine and cosine of slanted labels, which run 45 degrees upwards. */
const SLANT = Math.SQRT1_2

export type Side = 'x' | 'y'

/** What an axis is written with. */
export interface Pens {
  /** How large ticks and gaps are beside those of the screen. */
  gauge: number
  tick: Pen
  title: Pen
}

export const pensOf = (document: FigureDocument): Pens => ({
  gauge: gaugeOf(document),
  tick: penFor(document, 'tick_labels'),
  title: penFor(document, 'axis_titles'),
})

type Turn = TextItem['turn']

/** An axis that has its ticks, and knows how much room it takes. */
export interface Fitted {
  axis: Axis
  ticks: Ticks
  title: Run[][]
  turn: Turn
  /** Room that it takes beside the plot. */
  room: number
  /** How far its labels reach past the plot's far end. */
  overhang: number
  pens: Pens
}

export function styleOf(axis: Axis, isDate: boolean, isWhole = false): TickStyle {
  return {
    isDate,
    isWhole,
    isLog: axis.scale === 'log',
    base: axis.base === 'e' ? Math.E : axis.base,
    step: axis.step,
    positions: axis.positions,
    small: axis.small_ticks,
    digits: axis.digits,
    prefix: axis.prefix,
    suffix: axis.suffix,
  }
}

const labelWidth = (tick: Tick, { tick: pen }: Pens, measure: Measure): number =>
  widthOf(parseRuns(tick.label), pen, measure)

export interface Wanted {
  axis: Axis
  isDate: boolean
  isWhole?: boolean
  title: string
  pens: Pens
}

/**
 * Chooses ticks so that their labels stand apart, and works out the room that the axis takes.
 *
 * @param toShare where a value lies along the axis, from 0 to 1
 * @param length of the axis on the page
 */
export function fitAxis(
  side: Side,
  { axis, isDate, isWhole, title, pens }: Wanted,
  toShare: (value: number) => number,
  domain: Extent,
  length: number,
  measure: Measure,
): Fitted {
  const lines = title ? wrap(title, length, pens.title, measure) : []
  const style = styleOf(axis, isDate, isWhole)
  const width = (tick: Tick): number => labelWidth(tick, pens, measure)
  const titleRoom = lines.length
    ? TITLE_GAP * pens.gauge + lines.length * pens.title.size * LINE_HEIGHT
    : 0
  const common = { axis, title: lines, pens }
  if (side === 'y') {
    const ticks = ticksUp(style, domain, length / (80 * (pens.tick.size / 12)))
    const widest = Math.max(0, ...ticks.large.map(width))
    const turn: Turn = axis.labels === 'upright' ? -90 : 0
    const labels = turn ? pens.tick.size : widest
    return {
      ...common,
      ticks,
      turn,
      room: (AXIS_OFFSET + tickRoom(axis) + LABEL_GAP) * pens.gauge + labels + titleRoom,
      overhang: pens.tick.size / 2,
    }
  }
  const found = ticksAcross(style, domain, toShare, length, width, LABEL_ROOM * pens.gauge)
  const turn = turnOf(axis, found.meet)
  const widest = Math.max(0, ...found.ticks.large.map(width))
  const labels =
    turn === 0 ? pens.tick.size : turn === -90 ? widest : widest * SLANT + pens.tick.size * SLANT
  const last = found.ticks.large.at(-1)
  return {
    ...common,
    ticks: found.ticks,
    turn,
    room: (AXIS_OFFSET + tickRoom(axis) + LABEL_GAP) * pens.gauge + labels + titleRoom,
    overhang: last && turn === 0 ? width(last) / 2 : pens.tick.size / 2,
  }
}

/** An axis whose ticks stand alone, because another figure labels them. */
export const withoutWords = (fitted: Fitted): Fitted => ({
  ...fitted,
  ticks: { ...fitted.ticks, large: fitted.ticks.large.map((tick) => ({ ...tick, label: '' })) },
  title: [],
  room: (AXIS_OFFSET + tickRoom(fitted.axis)) * fitted.pens.gauge,
  overhang: 0,
})

const tickRoom = ({ ticks }: Axis): number =>
  ticks === 'out' || ticks === 'across' ? TICK_LENGTH : 0

/** Labels lie level unless they would meet though there are as few as can be. */
function turnOf({ labels }: Axis, meet: boolean): Turn {
  if (labels === 'slanted') return -45
  if (labels === 'upright') return -90
  return labels === 'auto' && meet ? -45 : 0
}

/** About as many ticks up as are wanted; more where a low axis would be left with one. */
function ticksUp(style: TickStyle, domain: Extent, wanted: number): Ticks {
  const least = Math.max(2, Math.round(wanted))
  for (let count = least; ; count++) {
    const ticks = ticksOf(style, domain, count)
    if (count >= least + 3 || within(ticks.large, domain).length >= 2) return ticks
  }
}

/** As many ticks across as stand apart from one another. */
function ticksAcross(
  style: TickStyle,
  domain: Extent,
  toShare: (value: number) => number,
  length: number,
  width: (tick: Tick) => number,
  apart: number,
): { ticks: Ticks; meet: boolean } {
  const meet = (before: Tick, tick: Tick): boolean =>
    Math.abs(toShare(tick.value) - toShare(before.value)) * length <
    (width(tick) + width(before)) / 2 + apart
  const some = (ticks: Tick[]): boolean =>
    ticks.some((tick, i) => i > 0 && meet(ticks[i - 1], tick))
  const own = style.step !== null || style.positions.length > 0
  for (
    let count = Math.max(2, Math.round(length / (80 * (apart / LABEL_ROOM))));
    count >= 2;
    count--
  ) {
    const ticks = ticksOf(style, domain, count)
    // One label alone says nothing of the scale.
    if (!some(ticks.large))
      return within(ticks.large, domain).length > 1 || own
        ? { ticks, meet: false }
        : thinned(style, domain, meet)
    if (own) return { ticks, meet: true }
  }
  return thinned(style, domain, meet)
}

/** Too narrow for round steps alone: of the coarsest ticks those that have room. */
function thinned(
  style: TickStyle,
  domain: Extent,
  meet: (before: Tick, tick: Tick) => boolean,
): { ticks: Ticks; meet: boolean } {
  let best: { ticks: Ticks; count: number } | null = null
  for (let count = 2; count <= 5; count++) {
    const ticks = ticksOf(style, domain, count)
    const inside = within(ticks.large, domain)
    // Every second or third of them, so that the steps stay even.
    let stride = 1
    const every = (): Tick[] => inside.filter((_, i) => i % stride === 0)
    while (
      stride < inside.length &&
      every().some((tick, i, all) => i > 0 && meet(all[i - 1], tick))
    )
      stride++
    const apart = every()
    if (!best || apart.length > best.count)
      best = { ticks: { ...ticks, large: apart }, count: apart.length }
    if (best.count > 1) break
  }
  return { ticks: best!.ticks, meet: false }
}

/** The values that a range frame spans: the data's, as far as they are in view. */
function drawnSpan({ domain }: Scale, data: Extent): Extent {
  const low = Math.max(data[0], domain[0])
  const high = Math.min(data[1], domain[1])
  return low < high ? [low, high] : domain
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

/** Turns places along and off an axis into places on the page. */
type Nib = (along: number, off: number) => [number, number]

/**
 * Draws an axis.
 *
 * @param other the other axis's scale, on which this one may stand at a value
 */
export function drawAxis(
  side: Side,
  fitted: Fitted,
  scale: Scale,
  data: Extent,
  plot: Box,
  { frame, crossing }: { frame: FigureDocument['axes']['frame']; crossing: number | null },
): { items: Item[]; box: Box } {
  const part: Part = `${side}-axis`
  const { axis, ticks, pens, turn } = fitted
  const edge = side === 'x' ? plot.y + plot.height : plot.x
  const outwards = side === 'x' ? 1 : -1
  const { gauge } = pens
  const offset = frame === 'range' ? AXIS_OFFSET * gauge : 0
  const base = crossing ?? edge + outwards * offset
  const colour = fromHex(axis.colour)
  const pen: Nib = (along, off) =>
    side === 'x' ? [along, base + outwards * off] : [base + outwards * off, along]
  const shown = within(ticks.large, scale.domain)
  const [low, high] =
    frame === 'range' && crossing === null ? reaching(drawnSpan(scale, data), shown) : scale.domain
  const line = (...places: [number, number][]): Item => ({
    kind: 'path',
    part,
    points: Float64Array.from(places.flat()),
    closed: false,
    stroke: colour,
    width: axis.width,
  })
  const items: Item[] = []
  if (axis.width > 0 && frame !== 'box')
    items.push(line(pen(scale.toPage(low), 0), pen(scale.toPage(high), 0)))
  const tick = (value: number, length: number): void => {
    if (axis.ticks === 'none' || !axis.width) return
    const along = scale.toPage(value)
    const from = axis.ticks === 'out' ? 0 : -length
    const to = axis.ticks === 'in' ? 0 : length
    items.push(line(pen(along, from), pen(along, to)))
  }
  for (const value of ticks.small)
    if (value >= scale.domain[0] && value <= scale.domain[1]) tick(value, SMALL_TICK_LENGTH * gauge)
  const gap = (tickRoom(axis) + LABEL_GAP) * gauge
  for (const one of shown) {
    tick(one.value, TICK_LENGTH * gauge)
    items.push(labelItem(side, part, one, scale.toPage(one.value), pen, gap, turn, pens.tick))
  }
  items.push(...titleItems(side, part, fitted, plot, edge))
  const room = fitted.room - AXIS_OFFSET * gauge + 8
  const box =
    side === 'x'
      ? {
          x: plot.x - fitted.overhang,
          y: edge + AXIS_OFFSET * gauge - 4,
          width: plot.width + 2 * fitted.overhang,
          height: room,
        }
      : { x: edge - fitted.room - 4, y: plot.y - 8, width: room, height: plot.height + 16 }
  return { items, box }
}

function labelItem(
  side: Side,
  part: Part,
  tick: Tick,
  along: number,
  pen: Nib,
  gap: number,
  turn: Turn,
  written: Pen,
): TextItem {
  const { size } = written
  const common = {
    kind: 'text' as const,
    part,
    runs: parseRuns(tick.label),
    ...written,
    turn,
  }
  if (side === 'y') {
    const [x, y] = pen(along, gap)
    return turn
      ? { ...common, x, y, anchor: 'middle' }
      : { ...common, x, y: y + size * 0.34, anchor: 'end' }
  }
  const [x, y] = pen(along, gap)
  if (turn === 0) return { ...common, x, y: y + size * 0.82, anchor: 'middle' }
  return { ...common, x: x + size * (turn === -90 ? 0.34 : 0.3), y: y + size * 0.3, anchor: 'end' }
}

function titleItems(side: Side, part: Part, fitted: Fitted, plot: Box, edge: number): Item[] {
  const { title, pens, room } = fitted
  const across = side === 'x'
  // The title stands at the far side of the axis's room.
  const start = across ? edge + room - title.length * pens.title.size * LINE_HEIGHT : edge - room
  return title.map((runs, i): Item => {
    const place = start + pens.title.size * (0.9 + i * LINE_HEIGHT)
    return {
      kind: 'text',
      part,
      x: across ? plot.x + plot.width / 2 : place,
      y: across ? place : plot.y + plot.height / 2,
      runs,
      ...pens.title,
      anchor: 'middle',
      turn: across ? 0 : -90,
    }
  })
}

/** Gridlines at large ticks, and finer ones at small ticks. */
export function gridItems(side: Side, { axis, ticks }: Fitted, scale: Scale, plot: Box): Item[] {
  if (axis.grid === 'none') return []
  const line = (value: number, stroke: Colour): Item => {
    const at = scale.toPage(value)
    const points =
      side === 'x' ? [at, plot.y, at, plot.y + plot.height] : [plot.x, at, plot.x + plot.width, at]
    return {
      kind: 'path',
      part: 'ground',
      points: Float64Array.from(points),
      closed: false,
      stroke,
      width: 1,
    }
  }
  const inside = (value: number): boolean => value >= scale.domain[0] && value <= scale.domain[1]
  const fine = axis.grid === 'all' ? ticks.small.filter(inside) : []
  return [
    ...fine.map((value) => line(value, FINE_GRID)),
    ...within(ticks.large, scale.domain).map(({ value }) => line(value, GRID)),
  ]
}
