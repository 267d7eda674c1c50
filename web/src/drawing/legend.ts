/** The legend: what colours stand for, where there is something to tell apart. */
import type { Answer, FigureDocument } from '@/api/types'
import { INK, PAPER } from './colours'
import { RAMP, type Looks } from './looks'
import { linearScale } from './scale'
import type { Box, Item, MarkLook } from './scene'
import { parseRuns, widthOf, type Measure } from './text'
import { tickMaker } from './axes'

const SIZE = 12
const LINE = 17
const PAD = 8
const SWATCH = 18
const BAR_WIDTH = 12
const BAR_HEIGHT = 110

export interface Block {
  width: number
  height: number
  place: (x: number, y: number) => Item[]
}

interface Entry {
  label: string
  look: MarkLook
}

const text = (label: string, x: number, y: number, weight: 400 | 600 = 400): Item => ({
  kind: 'text',
  part: 'legend',
  x,
  y,
  runs: parseRuns(label),
  size: SIZE,
  weight,
  colour: INK,
  anchor: 'start',
  turn: 0,
})

/** Lays the legend out; null where everything drawn looks alike. */
export function legendBlock(
  document: FigureDocument,
  answer: Answer,
  looks: Looks,
  measure: Measure,
): Block | null {
  const { colour, counts } = answer
  const asides: Entry[] = counts.set_aside ? [{ label: 'set aside', look: looks.aside }] : []
  if (document.legend.place === 'none') return null
  if (colour === null) return asides.length ? entriesBlock('', asides, measure) : null
  const without: Entry[] = colour.missing
    ? [{ label: `no ${colour.variable.in_sentence}`, look: looks.missing }]
    : []
  const title = document.legend.title ?? titleOf(answer)
  if (colour.scale === 'amount') {
    if (colour.low === null || colour.high === null) return null
    return amountBlock(title, answer, [...without, ...asides], measure)
  }
  const entries = colour.categories
    .map((label, code) => ({ label, look: looks.category(code), code }))
    .filter(({ code }) => colour.shown[code])
  return entriesBlock(title, [...entries, ...without, ...asides], measure)
}

function titleOf(answer: Answer): string {
  const { label, unit } = answer.colour!.variable
  return unit ? `${label} (${unit})` : label
}

const widest = (title: string, labels: string[], measure: Measure): number =>
  Math.max(
    title ? widthOf(parseRuns(title), SIZE, 600, measure) : 0,
    ...labels.map((label) => SWATCH + widthOf(parseRuns(label), SIZE, 400, measure)),
  )

function entryItems(entries: readonly Entry[], x: number, top: number): Item[] {
  return entries.flatMap(({ label, look }, i) => {
    const middle = top + i * LINE + LINE / 2
    return [swatch(look, x + 5, middle), text(label, x + SWATCH, middle + SIZE * 0.34)]
  })
}

/** A legend's mark is as large as on the figure, within reason, and shows its colour in full. */
function swatch(look: MarkLook, x: number, y: number): Item {
  const size = Math.min(11, Math.max(6.5, look.size))
  return {
    kind: 'marks',
    part: 'legend',
    x: Float32Array.of(x),
    y: Float32Array.of(y),
    look: Uint16Array.of(0),
    looks: [{ ...look, size, opacity: 1, halo: 0 }],
    paper: PAPER,
    clip: { x: x - 9, y: y - 9, width: 18, height: 18 },
  }
}

function entriesBlock(title: string, entries: readonly Entry[], measure: Measure): Block {
  const head = title ? LINE : 0
  const labels = entries.map((entry) => entry.label)
  return {
    width: widest(title, labels, measure) + 2 * PAD,
    height: head + entries.length * LINE + 2 * PAD,
    place: (x, y) => [
      ...(title ? [text(title, x + PAD, y + PAD + SIZE, 600)] : []),
      ...entryItems(entries, x + PAD, y + PAD + head),
    ],
  }
}

function amountBlock(
  title: string,
  answer: Answer,
  entries: readonly Entry[],
  measure: Measure,
): Block {
  const { low, high, variable } = answer.colour!
  const span = [low!, high! > low! ? high! : low! + 1] as const
  const ticks = tickMaker(variable.kind === 'date')(span, 4).filter(
    ({ value }) => value >= span[0] && value <= span[1],
  )
  const head = title ? LINE + 5 : 0
  const labels = [...ticks.map((tick) => tick.label), ...entries.map((entry) => entry.label)]
  return {
    width: widest(title, labels, measure) + 2 * PAD + 4,
    height: head + BAR_HEIGHT + (entries.length ? 8 : 0) + entries.length * LINE + 2 * PAD,
    place: (x, y) => {
      const top = y + PAD + head
      const scale = linearScale(span, [top + BAR_HEIGHT, top])
      return [
        ...(title ? [text(title, x + PAD, y + PAD + SIZE, 600)] : []),
        ...bar(x + PAD, top),
        ...ticks.flatMap(({ value, label }) => [
          rule(x + PAD + BAR_WIDTH, scale.toPage(value)),
          text(label, x + PAD + BAR_WIDTH + 7, scale.toPage(value) + SIZE * 0.34),
        ]),
        ...entryItems(entries, x + PAD, top + BAR_HEIGHT + 8),
      ]
    },
  }
}

/** The ramp as thin slices from top to bottom; each reaches under the next, so that none gapes. */
function bar(x: number, top: number): Item[] {
  const slice = BAR_HEIGHT / RAMP.length
  return RAMP.map((colour, i) => {
    const y = top + BAR_HEIGHT - (i + 1) * slice
    const box: Box = { x, y, width: BAR_WIDTH, height: i === 0 ? slice : slice * 1.5 }
    return {
      kind: 'path',
      part: 'legend',
      points: corners(box),
      closed: true,
      fill: colour,
      fillOpacity: 1,
    }
  })
}

const rule = (x: number, y: number): Item => ({
  kind: 'path',
  part: 'legend',
  points: Float64Array.of(x, y, x + 4, y),
  closed: false,
  stroke: INK,
  width: 1,
})

export const corners = ({ x, y, width, height }: Box): Float64Array =>
  Float64Array.of(x, y, x + width, y, x + width, y + height, x, y + height)
