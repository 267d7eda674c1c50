/** Where the legend and the readings stand: in a corner, beside the plot, or where they were put. */
import type { FigureDocument } from '@/api/types'
import { boxWithin, meets } from '@/render/geometry/boxes'
import { emptiestCorner, type Placed } from '@/render/geometry/placing'
import type { Block } from '@/render/parts/block'
import type { Legend } from '@/render/parts/legend'
import { drawnTrends, type ReadingsBlock } from '@/render/parts/trends'
import { padOf, type FigureWords } from '@/render/parts/words'
import type { Box } from '@/render/scene'
import type { RenderedFigure } from '@/render/figure'
import type { View } from './extents'
import { scalesOf } from './insets'

/** A box inside the plot may cover this share of the marks before it moves out. */
const MOST_COVERED = 0.002
/** Where boxes find room shows in a few thousand marks as well as in a million. */
const ENOUGH_FOR_ROOM = 5000

const samples = new WeakMap<Float64Array, Float64Array>()

function sampled(values: Float64Array): Float64Array {
  const step = Math.max(1, Math.ceil(values.length / ENOUGH_FOR_ROOM))
  if (step === 1) return values
  let found = samples.get(values)
  if (!found) {
    found = new Float64Array(Math.ceil(values.length / step))
    for (let i = 0; i < found.length; i++) found[i] = values[i * step]
    samples.set(values, found)
  }
  return found
}

/** Finds the emptiest corner, of the figure at rest: nothing jumps about while it is moved. */
export function cornerOf(
  { document, answer, marks }: RenderedFigure,
  home: View,
  block: Block,
  plot: Box,
  taken: readonly Box[],
): Placed {
  const { x, y } = scalesOf(document, home, plot)
  return emptiestCorner(
    block,
    plot,
    sampled(marks.x).map(x.toPage),
    sampled(marks.y).map(y.toPage),
    drawnTrends(document, answer, x, y).map(({ points }) => points),
    taken,
  )
}

/** Where a legend stands inside the page; null where it needs room beside the plot. */
export function legendWithin(
  { page, legend }: FigureDocument,
  block: Legend,
  corner: () => Placed,
): Box | null {
  if (block.isBelow) return null
  if (legend.place === 'free')
    return boxWithin(block, legend.x * page.width, legend.y * page.height, page)
  if (legend.place !== 'auto' && legend.place !== 'inside') return null
  const { box, covered } = corner()
  return legend.place === 'inside' || covered <= MOST_COVERED ? box : null
}

/** Below the plot it begins where the plot does, if it can. */
export const leftOf = (width: number, plot: Box, document: FigureDocument): number => {
  const least = padOf(document) / 2
  return Math.max(least, Math.min(plot.x, document.page.width - least - width))
}

/** Where a legend stands beside the plot. */
export function legendBeside(
  document: FigureDocument,
  { width, height, isBelow }: Legend,
  plot: Box,
  words: FigureWords,
): Box {
  const pad = padOf(document)
  return isBelow
    ? {
        x: leftOf(width, plot, document),
        y: document.page.height - pad - words.below - height,
        width,
        height,
      }
    : { x: document.page.width - pad / 2 - width, y: plot.y - 4, width, height }
}

/** Where readings stand: where they were put, beside the end of their line, or in a corner. */
export function readingsBox(
  { page, readings }: FigureDocument,
  block: ReadingsBlock,
  plot: Box,
  taken: readonly Box[],
  corner: () => Box,
): Box {
  const { place, x, y } = readings
  if (place === 'free') return boxWithin(block, x * page.width, y * page.height, page)
  if (place !== 'lines' || !block.beside) return corner()
  const { points } = block.beside
  // Over the line's last part that is in view, and further up where another box stands.
  let last = points.length - 2
  while (last > 0 && !(points[last] <= plot.x + plot.width && points[last + 1] >= plot.y)) last -= 2
  const at = Math.max(0, last - (last >> 3))
  const left = Math.max(
    plot.x,
    Math.min(points[last] - block.width, plot.x + plot.width - block.width),
  )
  let top = Math.max(plot.y, (points[at + 1] || plot.y) - block.height)
  const size = { width: block.width, height: block.height }
  while (top > plot.y && taken.some((box) => meets({ x: left, y: top, ...size }, box))) top -= 4
  return { x: left, y: Math.max(plot.y, top), ...size }
}
