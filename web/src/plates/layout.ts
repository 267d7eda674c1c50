/** Several figures on one page: plots in line, axes and legend shared, each with its letter. */
import type { FigureDocument, PlateDocument } from '@/api/types'
import { fromHex, SOFT_INK } from '@/render/colours'
import type { RenderedFigure } from '@/render/figure'
import type { View } from '@/render/layout/extents'
import type { Layout } from '@/render/layout/figure'
import type { Insets } from '@/render/layout/insets'
import { moved } from '@/render/layout/moving'
import { pageFrame } from '@/render/parts/frame'
import { figureWords } from '@/render/parts/words'
import type { Box, Item, Scene } from '@/render/scene'
import { penFor } from '@/render/text/lettering'
import { parseRuns, wrap, type Measure } from '@/render/text/text'
import { drawnKind, sceneOf } from '@/kinds/renderers'
import { sharedLegends } from './legends'
import { panelFigure, type Panel } from './panel'

export interface PlateLayout {
  scene: Scene
  /** Where each panel stands. */
  cells: Box[]
  /** Between columns and between rows: where an edge can be dragged. */
  columns: number[]
  rows: number[]
}

/** Between a page's edge and the cells; each figure keeps a margin of its own. */
const EDGE = 4
const PAD = 16

export const rowsOf = (plate: PlateDocument): number =>
  Math.ceil(plate.cells.length / Math.min(plate.columns, plate.cells.length))

export const columnsOf = (plate: PlateDocument): number =>
  Math.min(plate.columns, plate.cells.length)

/** The letter of a place; further than z it counts on with two. */
export function letterOf(place: number, letters: PlateDocument['letters']): string {
  if (letters === 'none') return ''
  const letter = String.fromCharCode('a'.charCodeAt(0) + (place % 26))
  return letters === 'A' ? letter.toUpperCase() : letter
}

/** Cells with the sum of `total`, in proportion to weights after what is fixed in each is taken. */
function shared(total: number, fixed: number[], weights: number[]): number[] {
  const free = Math.max(0, total - fixed.reduce((a, b) => a + b, 0))
  const sum = weights.reduce((a, b) => a + b, 0)
  return fixed.map((own, i) => own + (free * weights[i]) / sum)
}

const edges = (from: number, sizes: number[], gap: number): number[] => {
  let at = from
  return sizes.map((size) => {
    const start = at
    at += size + gap
    return start
  })
}

export function layoutPlate(
  plate: PlateDocument,
  panels: readonly Panel[],
  measure: Measure,
): PlateLayout {
  const { page } = plate
  const pad = PAD * plate.text
  const [columns, rows] = [columnsOf(plate), rowsOf(plate)]
  const paper = fromHex(page.background)
  const ground = panels.find(({ figure }) => figure)?.figure?.document
  const words = ground ? wordsOf(plate, ground, measure) : null
  const legends = plate.legend === 'shared' ? sharedLegends(plate, panels, measure) : []
  const legendWidth = legends.length ? Math.max(...legends.map(({ width }) => width)) + EDGE : 0
  const area: Box = {
    x: EDGE,
    y: words && plate.title ? words.top - pad / 2 : EDGE,
    width: page.width - 2 * EDGE - legendWidth,
    height: 0,
  }
  area.height = page.height - area.y - EDGE - (words && plate.caption ? words.below + pad / 2 : 0)

  const letterSize = 14 * plate.text
  const strips = Array.from({ length: rows }, (_, r) =>
    panels.some(
      ({ heading }, i) => Math.floor(i / columns) === r && (heading || letterOf(i, plate.letters)),
    )
      ? letterSize * 1.5
      : 0,
  )
  const weights = {
    x: plate.widths.length === columns ? plate.widths : Array<number>(columns).fill(1),
    y: plate.heights.length === rows ? plate.heights : Array<number>(rows).fill(1),
  }
  const across = area.width - plate.gap * (columns - 1)
  const down = area.height - plate.gap * (rows - 1)
  const views = sharedViews(plate, panels)
  const ends = sharedEnds(plate, panels)

  const settled = (place: number) => ({
    x: hasLike(plate, panels, place, 'x', columns),
    y: hasLike(plate, panels, place, 'y', columns),
  })
  const drawn = (place: number, width: number, height: number, least?: Insets): Layout | null => {
    const { figure } = panels[place]
    const axes = axesOf(figure)
    if (!figure || !axes) return null
    const small = withEnds(panelFigure(plate, figure, width, height), ends[place])
    return axes.layout(small, measure, views[place] ?? axes.home(small), {
      least,
      unlabelled: settled(place),
    })
  }

  // First each by itself, to see how much room its axes take; then all with their plots in line.
  const guess = {
    x: shared(across, Array<number>(columns).fill(0), weights.x),
    y: shared(down, strips, weights.y),
  }
  const left = Array<number>(columns).fill(0)
  const right = Array<number>(columns).fill(0)
  const top = Array<number>(rows).fill(0)
  const bottom = Array<number>(rows).fill(0)
  panels.forEach((_, i) => {
    const [c, r] = [i % columns, Math.floor(i / columns)]
    const size = { width: guess.x[c], height: guess.y[r] - strips[r] }
    const made = drawn(i, size.width, size.height)
    if (!made) return
    const { plot } = made
    left[c] = Math.max(left[c], plot.x)
    right[c] = Math.max(right[c], size.width - plot.x - plot.width)
    top[r] = Math.max(top[r], plot.y)
    bottom[r] = Math.max(bottom[r], size.height - plot.y - plot.height)
  })
  const widths = shared(
    across,
    left.map((l, c) => l + right[c]),
    weights.x,
  )
  const heights = shared(
    down,
    top.map((t, r) => t + bottom[r] + strips[r]),
    weights.y,
  )
  const xs = edges(area.x, widths, plate.gap)
  const ys = edges(area.y, heights, plate.gap)

  const items: Item[] = []
  const cells = panels.map((panel, i): Box => {
    const [c, r] = [i % columns, Math.floor(i / columns)]
    const box = { x: xs[c], y: ys[r], width: widths[c], height: heights[r] }
    const strip = strips[r]
    const size = { width: box.width, height: box.height - strip }
    const made = drawn(i, size.width, size.height, {
      left: left[c],
      right: right[c],
      top: top[r],
      bottom: bottom[r],
    })
    if (made) items.push(...moved(made.scene.items, box.x, box.y + strip))
    else if (panel.figure)
      items.push(
        ...moved(
          sceneOf(panelFigure(plate, panel.figure, size.width, size.height), measure).items,
          box.x,
          box.y + strip,
        ),
      )
    else items.push(...emptyItems(panel, box, plate, measure))
    const indent = made ? Math.min(made.plot.x, pad) : pad
    items.push(...headingItems(panel, letterOf(i, plate.letters), box, indent, letterSize))
    return box
  })
  let legendTop = area.y + Math.max(...strips.slice(0, 1)) + (top[0] ?? pad) - pad / 2
  for (const block of legends) {
    items.push(...block.place(page.width - EDGE - legendWidth, legendTop))
    legendTop += block.height
  }
  items.push(...(words?.items ?? []))
  items.push(...pageFrame(page))
  return {
    scene: { width: page.width, height: page.height, paper, items, regions: [] },
    cells,
    columns: xs.slice(1).map((x) => x - plate.gap / 2),
    rows: ys.slice(1).map((y) => y - plate.gap / 2),
  }
}

function wordsOf(plate: PlateDocument, ground: FigureDocument, measure: Measure) {
  return figureWords(
    {
      ...ground,
      title: plate.title,
      subtitle: null,
      caption: plate.caption,
      caption_below: true,
      page: plate.page,
      type: { scale: plate.text, parts: {} },
    },
    measure,
  )
}

type Ends = 'x' | 'y'

const shares = (plate: PlateDocument, side: Ends): boolean =>
  plate.shared === 'both' || plate.shared === side

const axesOf = (figure: RenderedFigure | null) => figure && drawnKind(figure.document).axes

/** Whether two figures may have the same ends: the same kind of values on the same scale. */
function alike(a: RenderedFigure, b: RenderedFigure, side: Ends): boolean {
  const scale = ({ document }: RenderedFigure) => document.axes[side].scale
  const date = ({ answer }: RenderedFigure) => answer[side].variable.kind === 'date'
  return scale(a) === scale(b) && date(a) === date(b)
}

/** The ends of each figure's axes, where some are shared; null where it keeps its own. */
function sharedViews(plate: PlateDocument, panels: readonly Panel[]): (View | null)[] {
  const homes = panels.map(({ figure }) => figure && (axesOf(figure)?.home(figure) ?? null))
  return panels.map(({ figure }, i) => {
    const own = homes[i]
    if (!own || !figure) return null
    const ends = (side: Ends): View[Ends] => {
      if (!shares(plate, side)) return own[side]
      const others = panels.flatMap(({ figure: other }, k) =>
        other && homes[k] && alike(figure, other, side) ? [homes[k][side]] : [],
      )
      return [Math.min(...others.map(([low]) => low)), Math.max(...others.map(([, high]) => high))]
    }
    return { x: ends('x'), y: ends('y') }
  })
}

type EndsOfData = Partial<Record<Ends, [number, number]>>

/** The ends of all data along the axes that figures share: their axis lines reach as far in each. */
function sharedEnds(plate: PlateDocument, panels: readonly Panel[]): EndsOfData[] {
  return panels.map(({ figure }) => {
    const of = (side: Ends): [number, number] | undefined => {
      if (!figure || !axesOf(figure) || !shares(plate, side)) return undefined
      const like = panels.flatMap(({ figure: other }) =>
        other && axesOf(other) && alike(figure, other, side) ? [other.answer[side]] : [],
      )
      const [low, high] = [like.map((one) => one.low), like.map((one) => one.high)]
      const known = (value: number | null): value is number => value !== null
      return low.some(known) && high.some(known)
        ? [Math.min(...low.filter(known)), Math.max(...high.filter(known))]
        : undefined
    }
    return { x: of('x'), y: of('y') }
  })
}

const withEnds = (figure: RenderedFigure, { x, y }: EndsOfData): RenderedFigure => ({
  ...figure,
  answer: {
    ...figure.answer,
    ...(x && { x: { ...figure.answer.x, low: x[0], high: x[1] } }),
    ...(y && { y: { ...figure.answer.y, low: y[0], high: y[1] } }),
  },
})

/** Whether the outermost figure of its row or column labels this axis for it. */
function hasLike(
  plate: PlateDocument,
  panels: readonly Panel[],
  place: number,
  side: Ends,
  columns: number,
): boolean {
  if (!shares(plate, side)) return false
  const outer = side === 'y' ? place - (place % columns) : lowest(panels.length, place, columns)
  const [one, other] = [panels[place].figure, panels[outer].figure]
  if (outer === place || !one || !other || !axesOf(one) || !axesOf(other)) return false
  const title = ({ document, answer }: RenderedFigure): string =>
    `${document.axes[side].title ?? ''} ${answer[side].variable.label} ${answer[side].variable.unit}`
  return alike(one, other, side) && title(one) === title(other)
}

/** The place at the foot of a column. */
function lowest(count: number, place: number, columns: number): number {
  let at = place
  while (at + columns < count) at += columns
  return at
}

function headingItems(
  { heading, figure }: Panel,
  letter: string,
  box: Box,
  indent: number,
  size: number,
): Item[] {
  const document = figure?.document
  const face = document ? penFor(document, 'title').face : 'sans'
  const colour = document ? penFor(document, 'title').colour : SOFT_INK
  const common = {
    kind: 'text' as const,
    part: 'title' as const,
    y: box.y + size * 1.15,
    size,
    face,
    colour,
    anchor: 'start' as const,
    turn: 0 as const,
  }
  const wide = letter ? size * 1.1 : 0
  return [
    ...(letter
      ? [{ ...common, x: box.x + indent, runs: parseRuns(letter), weight: 600 as const }]
      : []),
    ...(heading
      ? [{ ...common, x: box.x + indent + wide, runs: parseRuns(heading), weight: 400 as const }]
      : []),
  ]
}

function emptyItems(panel: Panel, box: Box, plate: PlateDocument, measure: Measure): Item[] {
  const pad = PAD * plate.text
  const hand = { size: 13 * plate.text, weight: 400 as const, face: 'sans' as const }
  const lines = wrap(panel.problem, box.width - 2 * pad, hand, measure)
  return lines.map((runs, i): Item => ({
    kind: 'text',
    part: 'ground',
    x: box.x + box.width / 2,
    y: box.y + box.height / 2 + i * hand.size * 1.3,
    runs,
    ...hand,
    colour: SOFT_INK,
    anchor: 'middle',
    turn: 0,
  }))
}
