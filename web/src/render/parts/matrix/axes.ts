/** The axes on the outer edge of a matrix. */
import type { MatrixVariable } from '@/api/types'
import { INK } from '@/render/colours'
import { paddedDomain, linearScale, type Scale } from '@/render/geometry/scale'
import { ticksOf, type Tick } from '@/render/geometry/ticks'
import type { Box, Item } from '@/render/scene'
import type { Pen } from '@/render/text/lettering'
import { literal, parseRuns, widthOf, type Measure } from '@/render/text/text'
import { TICK } from './style'

const styleOf = (isDate: boolean) => ({
  isDate,
  isLog: false,
  base: 10,
  step: null,
  positions: [],
  small: 0,
  digits: null,
  prefix: '',
  suffix: '',
})

/** About as many ticks as are wanted; more where there would be one alone. */
function ticksFor(
  { is_date, categories }: MatrixVariable,
  { domain }: Scale,
  wanted: number,
): Tick[] {
  if (categories)
    return categories.map((name, value) => ({ value, label: literal(shortened(name)) }))
  for (let count = wanted; ; count++) {
    const ticks = ticksOf(styleOf(is_date), domain, count).large.filter(
      ({ value }) => value >= domain[0] && value <= domain[1],
    )
    if (ticks.length >= 2 || count >= wanted + 3) return ticks
  }
}

/** Longer names than these would leave no room for what they name. */
const MOST_LETTERS = 12
/** Their letters may shrink to this share so that all can be named. */
const LEAST_LETTERS = 0.6

const shortened = (name: string): string =>
  name.length > MOST_LETTERS ? `${name.slice(0, MOST_LETTERS - 1)}…` : name

export function widestTick(
  variables: readonly MatrixVariable[],
  pen: Pen,
  measure: Measure,
): number {
  return Math.max(
    0,
    ...variables.flatMap((v) =>
      ticksFor(v, linearScale(paddedDomain(v.low ?? 0, v.high ?? 1), [0, 100]), 3).map(
        ({ label }) => widthOf(parseRuns(label), pen, measure),
      ),
    ),
  )
}

/** Where the axes of a variable can stand. */
export interface Edges {
  /** All cells. */
  area: Box
  /** That of the variable on the diagonal. */
  cell: Box
  shown: 'both' | 'below' | 'above'
}

/**
 * The ticks of one variable on the outer edge; sides alternate, so that labels never meet. Where
 * only one half is shown, all stand on the side where its cells are.
 */
export function axisItems(
  variable: MatrixVariable,
  axis: 'x' | 'y',
  place: number,
  scale: Scale,
  { area, cell, shown }: Edges,
  pen: Pen,
  measure: Measure,
): Item[] {
  const far = shown === 'both' ? place % 2 === 1 : shown === 'above'
  const length = Math.abs(scale.range[1] - scale.range[0])
  let ticks = ticksFor(variable, scale, Math.max(2, Math.round(length / 38)))
  let hand = pen
  const width = (label: string): number => widthOf(parseRuns(label), hand, measure)
  if (axis === 'x') {
    const meets = () =>
      ticks.some(
        ({ value, label }, i) =>
          i > 0 &&
          scale.toPage(value) - scale.toPage(ticks[i - 1].value) <
            (width(label) + width(ticks[i - 1].label)) / 2 + 4,
      )
    // Every category is named, if need be in smaller letters.
    while (variable.categories && hand.size > LEAST_LETTERS * pen.size && meets())
      hand = { ...hand, size: hand.size * 0.92 }
    if (meets()) hand = pen
    while (ticks.length > 1 && meets()) ticks = ticks.filter((_, i) => i % 2 === 0)
  } else {
    const step = (): number =>
      ticks.length > 1 ? Math.abs(scale.toPage(ticks[1].value) - scale.toPage(ticks[0].value)) : 0
    while (ticks.length > 1 && step() < hand.size) ticks = ticks.filter((_, i) => i % 2 === 0)
  }
  if (shown !== 'both') {
    // The neighbour's labels stand on the same side: each keeps to its own cell.
    const [from, to] = axis === 'x' ? [cell.x, cell.x + cell.width] : [cell.y, cell.y + cell.height]
    const half = (label: string): number => (axis === 'x' ? width(label) : hand.size) / 2
    const kept = ticks.filter(({ value, label }) => {
      const at = scale.toPage(value)
      return at - half(label) >= from - 1 && at + half(label) <= to + 1
    })
    if (kept.length > 1 && !variable.categories) ticks = kept
  }
  const edge =
    axis === 'x' ? (far ? area.y : area.y + area.height) : far ? area.x + area.width : area.x
  const out = (axis === 'x') === far ? -1 : 1
  return ticks.flatMap(({ value, label }): Item[] => {
    const at = scale.toPage(value)
    const points =
      axis === 'x' ? [at, edge, at, edge + out * TICK] : [edge, at, edge + out * TICK, at]
    const text: Item = {
      kind: 'text',
      part: axis === 'x' ? 'x-axis' : 'y-axis',
      x: axis === 'x' ? at : edge + out * (TICK + 3),
      y:
        axis === 'x' ? edge + out * (TICK + 2) + (far ? 0 : pen.size * 0.85) : at + pen.size * 0.34,
      runs: parseRuns(label),
      ...hand,
      anchor: axis === 'x' ? 'middle' : far ? 'start' : 'end',
      turn: 0,
    }
    return [
      {
        kind: 'path',
        part: axis === 'x' ? 'x-axis' : 'y-axis',
        points: Float64Array.from(points),
        closed: false,
        stroke: INK,
        width: 0.8,
      },
      text,
    ]
  })
}
