/** The legend: what colours and sizes stand for, where there is something to tell apart. */
import type { Answer, FigureDocument } from '@/api/types'
import { entriesOf, isNameOf, ofEntry, type CategoryEntry } from '@/render/entries'
import { styleOf } from './axes'
import { diameterOf, roundValues } from '@/render/marks/bubbles'
import { fromHex, INK, PAPER, SOFT_INK } from '@/render/colours'
import { bold, gaugeOf, penFor, type Pen } from '@/render/text/lettering'
import { rampOf, type Looks } from '@/render/marks/looks'
import { circle } from '@/render/marks/shapes'
import { linearScale } from '@/render/geometry/scale'
import type { Box, Item, MarkLook } from '@/render/scene'
import { literal, parseRuns, widthOf, withoutMiddle, type Measure } from '@/render/text/text'
import { ticksOf, valueMarkup } from '@/render/geometry/ticks'
import type { Block } from './block'
import { padOf, type FigureWords } from './words'
import { dashOf, trendColour } from './trend-style'
import { corners } from '@/render/geometry/boxes'

const PAD = 8
const SWATCH = 18
const BAR_WIDTH = 12
const BAR_HEIGHT = 110
const BETWEEN = 10

interface Entry {
  label: string
  look: MarkLook
  /** Of its category; none where it stands for something else. */
  code?: number
}

/** What a legend is written with. */
interface Writing extends Pen {
  line: number
  /** Size beside that of the screen. */
  gauge: number
  measure: Measure
  /** Room for entries side by side; 0 where they stand one below the other. */
  across: number
  /** Room for what colours stand for, from top to bottom: entries that have none are counted. */
  down: number
}

const text = ({ size, weight, face, colour }: Pen, label: string, x: number, y: number): Item => ({
  kind: 'text',
  part: 'legend',
  x,
  y,
  runs: parseRuns(label),
  size,
  weight,
  face,
  colour,
  anchor: 'start',
  turn: 0,
})

export interface Legend extends Block {
  /** Whether it stands below the plot, with its entries side by side. */
  isBelow: boolean
}

/** A legend that would take more of the page's width than this goes below the plot. */
const MOST_OF_WIDTH = 0.3
/** Below the plot it takes at most this share of the height that words leave. */
const MOST_OF_HEIGHT = 0.26

/** Lays the legend out; null where everything drawn looks alike. */
export function legendBlock(
  document: FigureDocument,
  answer: Answer,
  looks: Looks,
  words: Pick<FigureWords, 'top' | 'below'>,
  measure: Measure,
): Legend | null {
  const { legend, page } = document
  if (legend.place === 'none') return null
  const written = penFor(document, 'legend')
  const gauge = gaugeOf(document)
  const pen = { ...written, line: written.size * 1.42, gauge, measure, across: 0, down: Infinity }
  const lengthwise = legendOf(document, answer, looks, pen)
  if (!lengthwise) return null
  const room = page.height - words.top - words.below - padOf(document)
  const isPut = legend.place === 'free' || legend.place === 'inside'
  const fits = lengthwise.width <= page.width * MOST_OF_WIDTH
  const isBelow = legend.place === 'below' || (!isPut && legend.place !== 'right' && !fits)
  const across = isBelow ? page.width - 2 * padOf(document) - 2 * PAD * gauge : 0
  const whole = isBelow ? legendOf(document, answer, looks, { ...pen, across })! : lengthwise
  const most = isBelow ? MOST_OF_HEIGHT * room : room
  if (whole.height <= most) return { ...whole, isBelow }
  const colours = colourSection(document, answer, looks, { ...pen, across })
  const down = (colours?.height ?? 0) - (whole.height - most)
  return { ...legendOf(document, answer, looks, { ...pen, across, down })!, isBelow }
}

function legendOf(
  document: FigureDocument,
  answer: Answer,
  looks: Looks,
  pen: Writing,
): Block | null {
  const { gauge } = pen
  const pad = PAD * gauge
  const sections = [
    colourSection(document, answer, looks, pen),
    sizeSection(document, answer, pen),
    otherSection(document, answer, looks, { ...pen, down: Infinity }),
    trendSection(document, answer, pen),
  ].filter((section) => section !== null)
  if (!sections.length) return null
  const between = BETWEEN * gauge
  // One below the other; side by side where there is room across.
  let [left, top, line] = [0, 0, 0]
  const places = sections.map(({ width, height }): [number, number] => {
    if (top + line > 0 && (left + width > pen.across || !pen.across)) {
      ;[left, top] = [0, top + line + between]
      line = 0
    }
    const at: [number, number] = [left, top]
    left += width + 2 * between
    line = Math.max(line, height)
    return at
  })
  const ends = sections.map(({ width }, i) => places[i][0] + width)
  return {
    width: Math.max(...ends) + 2 * pad,
    height: top + line + 2 * pad,
    place: (x, y) =>
      sections.flatMap((section, i) =>
        section.place(x + pad + places[i][0], y + pad + places[i][1]),
      ),
    // Those of the colours stand first.
    entries: (x, y) => sections[0].entries?.(x + pad, y + pad) ?? [],
  }
}

/** Entries as the legend has them: those of its own order first, the others as they stand. */
export const inLegendOrder = (
  entries: readonly CategoryEntry[],
  order: readonly string[],
): CategoryEntry[] => [
  ...order.flatMap((name) => entries.find((entry) => isNameOf(name, entry)) ?? []),
  ...entries.filter((entry) => !order.some((name) => isNameOf(name, entry))),
]

function colourSection(
  document: FigureDocument,
  answer: Answer,
  looks: Looks,
  pen: Writing,
): Block | null {
  const { colour } = answer
  if (colour === null) return null
  const { label, unit } = colour.variable
  const title = document.legend.title ?? (unit ? `${label} (${unit})` : label)
  if (colour.scale === 'amount')
    return colour.low === null || colour.high === null
      ? null
      : amountSection(title, document, answer, pen)
  const { renamed, hidden, order } = document.legend
  const entries = inLegendOrder(entriesOf(colour), order)
    .filter((entry) => colour.shown[entry.code] && !hidden.some((name) => isNameOf(name, entry)))
    .map((entry) => ({
      label: ofEntry(renamed, entry) ?? literal(withoutMiddle(entry.label)),
      look: looks.category(entry.code),
      code: entry.code,
    }))
  return entries.length ? entriesSection(title, entries, pen) : null
}

/** Marks without a value, set aside, or singled out under a name. */
function otherSection(
  document: FigureDocument,
  answer: Answer,
  looks: Looks,
  pen: Writing,
): Block | null {
  const { colour, counts, size } = answer
  const entries: Entry[] = []
  if (colour?.missing)
    entries.push({ label: `no ${colour.variable.in_sentence}`, look: looks.missing })
  if (size?.non_positive)
    entries.push({
      label: `${size.variable.in_sentence} not above 0`,
      look: { ...looks.looks[0], hollow: true, halo: 0 },
    })
  if (counts.set_aside) entries.push({ label: 'set aside', look: looks.aside })
  for (const { name, colour: own, shape } of document.singled_out)
    if (name)
      entries.push({
        label: name,
        look: {
          ...looks.looks[0],
          colour: own ? fromHex(own) : looks.looks[0].colour,
          shape: shape ?? looks.looks[0].shape,
        },
      })
  return entries.length ? entriesSection('', entries, pen) : null
}

/** Lines of several forms, each as it is drawn; those of one form are told apart by colour. */
function trendSection(document: FigureDocument, answer: Answer, pen: Writing): Block | null {
  const { trends } = document
  if (trends.length < 2) return null
  const entries = trends.flatMap((trend, place) => {
    const of = answer.trends.filter((one) => one.trend === place && one.curve)
    if (!of.length) return []
    const colour = of.length === 1 ? trendColour(document, answer, of[0]) : INK
    const whom = of.length > 1 ? ', each' : ''
    return [{ label: of[0].family_label + whom, colour, trend }]
  })
  if (entries.length < 2) return null
  return {
    width: widest(
      '',
      entries.map(({ label }) => label),
      pen,
    ),
    height: entries.length * pen.line,
    place: (x, y) =>
      entries.flatMap(({ label, colour, trend }, i): Item[] => {
        const middle = y + (i + 0.5) * pen.line
        return [
          {
            kind: 'path',
            part: 'legend',
            points: Float64Array.of(x - 2, middle, x + 13 * pen.gauge, middle),
            closed: false,
            stroke: colour,
            width: Math.min(trend.width, 4),
            dash: dashOf(trend.dash, Math.min(trend.width, 4)),
          },
          text(pen, label, x + SWATCH * pen.gauge, middle + pen.size * 0.34),
        ]
      }),
  }
}

const widest = (title: string, labels: string[], pen: Writing): number =>
  Math.max(
    title ? widthOf(parseRuns(title), bold(pen), pen.measure) : 0,
    ...labels.map((label) => SWATCH * pen.gauge + widthOf(parseRuns(label), pen, pen.measure)),
  )

/** A legend's mark is as large as on the figure, within reason, and shows its colour in full. */
function swatch(look: MarkLook, x: number, y: number, gauge: number): Item {
  const size = Math.min(11 * gauge, Math.max(6.5 * gauge, look.size))
  return {
    kind: 'marks',
    part: 'legend',
    x: Float32Array.of(x),
    y: Float32Array.of(y),
    look: Uint16Array.of(0),
    looks: [{ ...look, size, opacity: 1, halo: look.edge ? look.halo : 0 }],
    paper: PAPER,
    clip: { x: x - 9 * gauge, y: y - 9 * gauge, width: 18 * gauge, height: 18 * gauge },
    density: false,
  }
}

function entriesSection(title: string, all: readonly Entry[], pen: Writing): Block {
  const head = title ? pen.line : 0
  const wide = widest(
    title,
    // What stands for those that have no room is as wide as any.
    [...all.map(({ label }) => label), ...(pen.down < Infinity ? [unlistedText(all.length)] : [])],
    pen,
  )
  const step = wide + BETWEEN * pen.gauge
  const columns = Math.max(1, Math.min(all.length, Math.floor(pen.across / step)))
  const most = columns * Math.max(1, Math.floor((pen.down - head) / pen.line))
  const isWhole = all.length <= most
  const entries = isWhole ? all : all.slice(0, most - 1)
  const cells = entries.length + (isWhole ? 0 : 1)
  const at = (x: number, y: number, i: number): [number, number] => [
    x + (i % columns) * step,
    y + head + Math.floor(i / columns) * pen.line,
  ]
  return {
    width: columns * step - BETWEEN * pen.gauge,
    height: head + Math.ceil(cells / columns) * pen.line,
    place: (x, y) => [
      ...(title ? [text(bold(pen), title, x, y + pen.size)] : []),
      ...entries.flatMap(({ label, look }, i) => {
        const [left, top] = at(x, y, i)
        const middle = top + pen.line / 2
        return [
          swatch(look, left + 5 * pen.gauge, middle, pen.gauge),
          text(pen, label, left + SWATCH * pen.gauge, middle + pen.size * 0.34),
        ]
      }),
      ...(isWhole ? [] : [unlisted(all.length - entries.length, ...at(x, y, entries.length), pen)]),
    ],
    entries: (x, y) =>
      entries.flatMap(({ code }, i) => {
        if (code === undefined) return []
        const [left, top] = at(x, y, i)
        return [{ code, box: { x: left, y: top, width: wide, height: pen.line } }]
      }),
  }
}

const unlistedText = (count: number): string => `and ${count} more`

/** How many entries have no room. */
const unlisted = (count: number, x: number, y: number, pen: Writing): Item =>
  text(pen, unlistedText(count), x + SWATCH * pen.gauge, y + pen.line / 2 + pen.size * 0.34)

function amountSection(
  title: string,
  document: FigureDocument,
  answer: Answer,
  pen: Writing,
): Block {
  const colour = answer.colour!
  const ramp = rampOf(document, colour)
  const span = [ramp.low, ramp.high > ramp.low ? ramp.high : ramp.low + 1] as const
  const style = { ...styleOf(document.axes.x, colour.variable.kind === 'date'), ...PLAIN }
  const ticks = ticksOf(style, span, 4).large.filter(
    ({ value }) => value >= span[0] && value <= span[1],
  )
  const head = title ? pen.line + 5 : 0
  const barHeight = BAR_HEIGHT * pen.gauge
  const barWidth = BAR_WIDTH * pen.gauge
  return {
    width:
      widest(
        title,
        ticks.map((tick) => tick.label),
        pen,
      ) + 4,
    height: head + barHeight,
    place: (x, y) => {
      const top = y + head
      const scale = linearScale([0, 1], [top + barHeight, top])
      return [
        ...(title ? [text(bold(pen), title, x, y + pen.size)] : []),
        ...bar({ x, y: top, width: barWidth, height: barHeight }, ramp.steps),
        ...ticks.flatMap(({ value, label }) => {
          const at = scale.toPage(ramp.share(value))
          return [rule(x + barWidth, at), text(pen, label, x + barWidth + 7, at + pen.size * 0.34)]
        }),
      ]
    },
  }
}

/** A legend's ticks follow their own span, whatever the axes do. */
const PLAIN = {
  isLog: false,
  step: null,
  positions: [],
  small: 0,
  digits: null,
  prefix: '',
  suffix: '',
}

/** The ramp as thin slices from top to bottom; each reaches under the next, so that none gapes. */
function bar(
  { x, y: top, width, height }: Box,
  steps: readonly (readonly [number, number, number])[],
): Item[] {
  const slice = height / steps.length
  return steps.map((colour, i) => {
    const y = top + height - (i + 1) * slice
    const box: Box = { x, y, width, height: i === 0 ? slice : slice * 1.5 }
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

/** Nested circles at round values, standing on one ground line. */
function sizeSection(document: FigureDocument, answer: Answer, pen: Writing): Block | null {
  const { size } = document
  if (!size || !answer.size) return null
  const values = roundValues(answer.size)
  if (!values.length) return null
  const { label, unit } = answer.size.variable
  const title = unit ? `${label} (${unit})` : label
  const diameter = diameterOf(size, answer.size)
  const largest = diameter(values[0])
  const labels = values.map((value) => valueMarkup(value))
  const note = size.start === 'smallest' ? 'smallest value' : ''
  const head = pen.line + 3
  const rows = Math.max(largest + 2, values.length * pen.line)
  const wide = Math.max(0, ...labels.map((l) => widthOf(parseRuns(l), pen, pen.measure)))
  return {
    width: Math.max(
      widthOf(parseRuns(title), bold(pen), pen.measure),
      note ? widthOf(parseRuns(note), pen, pen.measure) : 0,
      largest + 14 + wide,
    ),
    height: head + rows + (note ? pen.line : 0),
    place: (x, y) => {
      const ground = y + head + rows
      const middle = x + largest / 2 + 1
      return [
        text(bold(pen), title, x, y + pen.size),
        ...values.flatMap((value, i): Item[] => {
          const d = diameter(value)
          const top = ground - d
          const at = ground - rows + (i + 0.5) * (rows / values.length)
          return [
            ring(middle, ground - d / 2, d / 2),
            {
              kind: 'path',
              part: 'sizes',
              points: Float64Array.of(middle, top, x + largest + 8, at),
              closed: false,
              stroke: SOFT_INK,
              width: 0.6,
            },
            text(pen, labels[i], x + largest + 11, at + pen.size * 0.34),
          ]
        }),
        ...(note ? [text(pen, note, x, ground + pen.size * 1.2)] : []),
      ]
    },
  }
}

const ring = (x: number, y: number, radius: number): Item => ({
  kind: 'path',
  part: 'sizes',
  points: Float64Array.from(circle(radius, x, y)),
  closed: true,
  stroke: INK,
  width: 0.9,
})

const rule = (x: number, y: number): Item => ({
  kind: 'path',
  part: 'legend',
  points: Float64Array.of(x, y, x + 4, y),
  closed: false,
  stroke: INK,
  width: 1,
})
