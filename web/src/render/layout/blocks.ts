/**
 * Where the legend and the readings stand: where they were put, in free places of the plot, or
 * beside it, which then has room made for them. It is decided for the figure at rest, so that
 * nothing jumps about while it is moved.
 */
import type { Answer, FigureDocument, Marks } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import { boxWithin } from '@/render/geometry/boxes'
import type { Block } from '@/render/parts/block'
import { legendBlock, type Legend } from '@/render/parts/legend'
import { lineLabelsRoom, tellsColours } from '@/render/parts/line-labels'
import { readingsBlocks, type ReadingsBlock } from '@/render/parts/readings'
import { padOf, type FigureWords } from '@/render/parts/words'
import { clearestCorner, freePlace } from '@/render/placement/free-place'
import { Obstacles } from '@/render/placement/obstacles'
import type { Box } from '@/render/scene'
import type { Measure } from '@/render/text/text'
import type { View } from './extents'
import type { Room, Setting } from './insets'
import { plotAt, type Plot } from './plot'
import { preparedFor } from './preparation'

/** A block in its place. */
export interface Placed<Of extends Block = Block> {
  block: Of
  box: Box
  /** Whether a person put it there, so that it may cover something. */
  isPut: boolean
}

export interface Blocks {
  /** What is kept free beside and below the plot. */
  room: Room
  legend: Placed<Legend> | null
  readings: Placed<ReadingsBlock>[]
  /** Readings that have no room on this page. */
  left: number
  /** The plot at rest. */
  plot: Plot
}

/** So much of a block's own margin may be shared with what stands round it, for each kind. */
const SHARED = { legend: -0.4, readings: 0.2 }
/** So much of the page's height stays the plot's when readings stand below it. */
const LEAST_HEIGHT = 0.36
/** So much of the page's width stays the plot's when the legend stands beside it. */
const LEAST_WIDTH = 0.55
/** Readings are broken into lines of these shares of the plot's width, until they have room. */
const WIDTHS = [1, 0.6, 0.42]

interface Kept {
  document: FigureDocument
  answer: Answer
  only: RenderedFigure['only']
  setting: string
  blocks: Blocks
}

const kept = new WeakMap<Marks, Kept>()

export function blocksOf(
  figure: RenderedFigure,
  words: FigureWords,
  setting: Setting,
  measure: Measure,
): Blocks {
  const { document, answer, marks, only } = figure
  const known = kept.get(marks)
  const key = JSON.stringify(setting)
  if (
    known?.document === document &&
    known.answer === answer &&
    known.only === only &&
    known.setting === key
  )
    return known.blocks
  const blocks = arranged(figure, words, setting, measure)
  kept.set(marks, { document, answer, only, setting: key, blocks })
  return blocks
}

function arranged(
  figure: RenderedFigure,
  words: FigureWords,
  setting: Setting,
  measure: Measure,
): Blocks {
  const { document, answer } = figure
  const { page } = document
  const { looks, home } = preparedFor(figure)
  // Names in the colours of their lines say what a legend would.
  const isTold = document.legend.place === 'auto' && !document.size && tellsColours(answer)
  let legend = isTold ? null : legendBlock(document, answer, looks, words, measure)
  const pad = padOf(document)
  // Outside of the plot nothing stands close: a block needs less margin of its own.
  const trim = pad / 2
  const labels = lineLabelsRoom(document, answer, measure)
  let legendIsOut = legend !== null && isBesideByItself(document, legend)
  let outside: ReadingsBlock[] = []
  let wasTried = false
  let where: 'inside' | 'below' | 'nowhere' = 'inside'
  // Each of the two goes out once, the legend perhaps below instead, and room is made for it.
  for (;;) {
    const below = (legendIsOut && legend!.isBelow ? legend!.height : 0) + heightOf(outside, trim)
    const right = legendIsOut && !legend!.isBelow ? legend!.width + 4 : 0
    const room = { right: right + labels, below }
    const plot = plotAt(figure, home, room, words, setting, measure)
    if (right && !wasTried && document.legend.place !== 'right' && isNarrow(plot, document)) {
      // Below it, if that leaves more of the page.
      wasTried = true
      const below = { ...document, legend: { ...document.legend, place: 'below' as const } }
      const other = legendBlock(below, answer, looks, words, measure)!
      const made = plotAt(
        figure,
        home,
        { right: labels, below: other.height },
        words,
        setting,
        measure,
      )
      if (areaOf(made) > areaOf(plot)) {
        legend = other
        continue
      }
    }
    let known: Obstacles | null = null
    const obstacles = (): Obstacles =>
      (known ??= new Obstacles(plot.box).add([...plot.drawn, ...plot.notes], measure))
    const put = (block: Block, x: number, y: number): Placed => {
      const box = boxWithin(block, x * page.width, y * page.height, page)
      obstacles().addBox(box)
      return { block, box, isPut: true }
    }
    const free = (block: Block, kind: keyof typeof SHARED): Placed | null => {
      const box = freePlace(block, plot.box, obstacles(), SHARED[kind] * pad)
      if (box) obstacles().addBox(box)
      return box && { block, box, isPut: false }
    }

    let legendPlaced: Placed<Legend> | null = null
    if (legend && legendIsOut) {
      legendPlaced = {
        block: legend,
        box: legendBeside(document, legend, plot.box, words),
        isPut: false,
      }
    } else if (legend) {
      const { place, x, y } = document.legend
      const found = place === 'free' ? put(legend, x, y) : free(legend, 'legend')
      if (!found && place !== 'inside') {
        legendIsOut = true
        continue
      }
      const box = found?.box ?? clearestCorner(legend, plot.box, obstacles())
      legendPlaced = { block: legend, box, isPut: found?.isPut ?? true }
      if (!found) obstacles().addBox(box)
    }

    const { place, x, y } = document.readings
    const within = (share: number) =>
      readingsBlocks(document, answer, plot.trends, measure, plot.box.width * share)
    // On a page that is too small for them they are read in the table of readings.
    if (where === 'nowhere')
      return {
        room,
        legend: legendPlaced,
        readings: [],
        left: linesOf(document, answer),
        plot,
      }
    if (where === 'below' && plot.box.height < LEAST_HEIGHT * page.height) {
      where = 'nowhere'
      outside = []
      continue
    }
    if (where === 'below') {
      const foot = page.height - pad - words.below - below
      let top = foot - trim / 2
      const readings = outside.map((block) => {
        const size = { width: block.width, height: block.height }
        const box = { x: leftOf(block.width, plot.box, document) - trim, y: top, ...size }
        top += block.height - trim
        return { block, box, isPut: false }
      })
      return { room, legend: legendPlaced, readings, left: 0, plot }
    }
    if (place === 'free') {
      const readings = within(1).map((block) => put(block, x, y) as Placed<ReadingsBlock>)
      return { room, legend: legendPlaced, readings, left: 0, plot }
    }
    let readings: Placed<ReadingsBlock>[] | null = null
    for (const share of WIDTHS) {
      const found = within(share).map(
        (block) =>
          (place === 'lines' ? besideLine(block, obstacles()) : null) ?? free(block, 'readings'),
      )
      if (found.every((one) => one !== null)) {
        readings = found as Placed<ReadingsBlock>[]
        break
      }
      if (place === 'lines') break
    }
    if (readings) return { room, legend: legendPlaced, readings, left: 0, plot }
    where = 'below'
    const all = { ...document, readings: { ...document.readings, place: 'auto' as const } }
    const blocksOver = (share: number): ReadingsBlock[] =>
      readingsBlocks(all, answer, plot.trends, measure, page.width - plot.box.x - pad - share)
    outside = blocksOver(0)
    // A legend beside the plot may reach down to where they stand.
    const left = plot.box.height - heightOf(outside, trim)
    if (legendIsOut && !legend!.isBelow && legend!.height > left) outside = blocksOver(room.right)
  }
}

/** What blocks one below the other take, with so much less margin each. */
const heightOf = (blocks: readonly Block[], trim: number): number =>
  blocks.reduce((sum, { height }) => sum + height - trim, 0)

const isNarrow = ({ box }: Plot, { page }: FigureDocument): boolean =>
  box.width < LEAST_WIDTH * page.width

const areaOf = ({ box }: Plot): number => box.width * box.height

/** How many lines have readings that are to stand on the figure. */
const linesOf = ({ trends }: FigureDocument, answer: Answer): number =>
  answer.trends.filter(({ trend }) => trends[trend]?.on_figure.length).length

const isBesideByItself = ({ legend }: FigureDocument, { isBelow }: Legend): boolean =>
  isBelow || legend.place === 'right'

/** Below the plot it begins where the plot does, if it can. */
export const leftOf = (width: number, plot: Box, document: FigureDocument): number => {
  const least = padOf(document) / 2
  return Math.max(least, Math.min(plot.x, document.page.width - least - width))
}

/** Where a legend stands beside the plot. */
function legendBeside(
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

/** Shares of the way along a line where its readings are tried, its end first. */
const ALONG = [1, 0.94, 0.88, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.2, 0.1]

/** The free place of readings beside their own line that is nearest to its end. */
function besideLine(block: ReadingsBlock, obstacles: Obstacles): Placed | null {
  if (!block.beside) return null
  const { points } = block.beside
  const { width, height } = block
  // The words themselves keep clear; the margin round them may reach over their own line.
  const inset = Math.min(height, width) * 0.2
  for (const share of ALONG) {
    const at = 2 * Math.round(share * (points.length / 2 - 1))
    const [x, y] = [points[at], points[at + 1]]
    if (!Number.isFinite(x) || !Number.isFinite(y)) continue
    for (const left of [x - width, x - width / 2, x])
      for (const top of [y - height, y]) {
        const box = { x: left, y: top, width, height }
        const inner = {
          x: left + inset,
          y: top + inset,
          width: width - 2 * inset,
          height: height - 2 * inset,
        }
        if (!obstacles.isFree(inner)) continue
        obstacles.addBox(inner)
        return { block, box, isPut: false }
      }
  }
  return null
}

export const isAtRest = (figure: RenderedFigure, view: View): boolean => {
  const { home } = preparedFor(figure)
  return (['x', 'y'] as const).every(
    (side) => view[side][0] === home[side][0] && view[side][1] === home[side][1],
  )
}
