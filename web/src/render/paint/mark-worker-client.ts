/**
 * Marks that are drawn beside the page, by a worker, where they are so many that the page would
 * stand still. Until a picture is there, the last one stands in for it, moved as the view was.
 */
import { keepGap } from '@/render/geometry/jitter'
import { indexOn, type Grid, type MarkIndex } from '@/render/geometry/pick'
import type { AffineMap } from '@/render/geometry/scale'
import { keepLaid, widestOf } from '@/render/marks/places'
import type { Item, MarkBars, MarkColumns, MarksItem, Scene } from '@/render/scene'
import { clipTo, cornerOf, imageOf, paintMarks, type Context, type MarksPainter } from './canvas'
import type { Pixels } from './rasterise'

/** So many of one plot, or of all plots together, are drawn as soon as they would be sent. */
const FEW = 8_000
const FEW_TOGETHER = 20_000
/** Columns that the worker holds, beyond those that are drawn. */
const MOST_HELD = 7

export type Column = Float64Array | Uint16Array

/** Marks as they are asked for: columns are sent once, and are known by their number. */
export interface Part {
  columns: { u: number; v: number; look: number }
  laying: { across: AffineMap; up: AffineMap }
  how: Pick<MarksItem, 'looks' | 'paper' | 'clip' | 'density'> & {
    cells?: { counts: number; width: number; height: number }
    bars: (Pick<MarkBars, 'side' | 'cap' | 'width'> & { low: number; high: number })[]
  }
}

export type ToWorker =
  | { kind: 'column'; id: number; values: Column }
  | { kind: 'forget'; id: number }
  | { kind: 'draw'; wish: number; parts: Part[]; scale: number }

export type FromWorker =
  | {
      kind: 'pictures'
      wish: number
      pixels: Pixels[]
      places: [Float32Array, Float32Array] | null
    }
  /** Of what is one plot: what can be pointed at, and the smallest gaps of its columns, for jitter. */
  | { kind: 'grid'; wish: number; grid: Grid }
  | { kind: 'gaps'; wish: number; u: number; v: number }

type Large = MarksItem & { columns: MarkColumns }

interface RenderRequest {
  number: number
  items: readonly Large[]
  scale: number
}

/** `true`: what is wanted; `stand-in`: the last picture, moved; `none`: there is none of these marks. */
export type RenderState = 'true' | 'stand-in' | 'none'

export interface MarkWorker {
  /** Asks for what is not there, and says what a painting of the scene would show. */
  ask: (scene: Scene, scale: number) => RenderState
  paint: MarksPainter
  /** The index of marks that are drawn beside; null for those that are not, or until it is there. */
  index: (item: MarksItem, radius: (drawn: number) => number, onTop?: boolean) => MarkIndex | null
  isLarge: (item: MarksItem) => boolean
  close: () => void
}

const hasColumns = (item: Item): item is Large =>
  item.kind === 'marks' && item.columns !== undefined

/** The marks of a scene that are drawn beside the page: all of them, where together they are many. */
function largeOf(scene: Scene): Large[] {
  const items = scene.items.filter(hasColumns)
  const counts = items.map(({ look }) => look.length)
  const together = counts.reduce((sum, count) => sum + count, 0)
  return together > FEW_TOGETHER || counts.some((count) => count > FEW) ? items : []
}

const laidAlike = (a: AffineMap, b: AffineMap): boolean =>
  a.from === b.from && a.factor === b.factor && a.start === b.start

const sameBars = (a: readonly MarkBars[], b: readonly MarkBars[]): boolean =>
  a.length === b.length &&
  a.every(
    ({ side, cap, width, columns }, i) =>
      side === b[i].side &&
      cap === b[i].cap &&
      width === b[i].width &&
      columns.low === b[i].columns.low &&
      columns.high === b[i].columns.high,
  )

const same = (a: Large, b: Large): boolean =>
  a.columns.u === b.columns.u &&
  a.columns.v === b.columns.v &&
  a.look === b.look &&
  a.density === b.density &&
  sameBars(a.bars ?? [], b.bars ?? []) &&
  laidAlike(a.columns.across, b.columns.across) &&
  laidAlike(a.columns.up, b.columns.up) &&
  JSON.stringify([a.clip, a.paper]) === JSON.stringify([b.clip, b.paper]) &&
  (a.looks === b.looks || JSON.stringify(a.looks) === JSON.stringify(b.looks))

/**
 * @param start makes the worker, when first there are so many marks; null where none can be had
 * @param came is called when a picture is there
 */
export function createMarkWorker(start: (() => Worker) | null, came: () => void): MarkWorker {
  let worker: Worker | null = null
  let isBroken = start === null
  /** What the scene that was asked about last has to be drawn here. */
  let wanted: readonly Large[] = []
  let asked: RenderRequest | null = null
  let last: (RenderRequest & { images: OffscreenCanvas[] }) | null = null
  let grid: { item: Large; grid: Grid } | null = null
  let wishes = 0
  const held = new Map<Column, number>()
  let ids = 0

  const send = (message: ToWorker): void => connected().postMessage(message)

  function connected(): Worker {
    if (worker) return worker
    worker = start!()
    worker.onmessage = ({ data }: MessageEvent<FromWorker>) => {
      if (data.wish === asked?.number) hear(data, asked)
    }
    // Without it everything is drawn here: slower, and the same.
    worker.onerror = () => {
      isBroken = true
      came()
    }
    return worker
  }

  function hear(told: FromWorker, wish: RenderRequest): void {
    const [item] = wish.items
    const { u, v, across, up } = item.columns
    if (told.kind === 'grid') grid = { item, grid: told.grid }
    else if (told.kind === 'gaps') {
      keepGap(u, told.u)
      keepGap(v, told.v)
    } else {
      if (told.places) {
        keepLaid(u, across, told.places[0])
        keepLaid(v, up, told.places[1])
      }
      last = { ...wish, images: told.pixels.map(imageOf) }
      came()
    }
  }

  function numberOf(values: Column): number {
    const known = held.get(values)
    if (known !== undefined) {
      // The one that was used longest ago is let go first.
      held.delete(values)
      held.set(values, known)
      return known
    }
    const id = ++ids
    held.set(values, id)
    send({ kind: 'column', id, values })
    return id
  }

  const isDrawn = (wish: RenderRequest | null, scale: number): boolean =>
    wish?.scale === scale &&
    wish.items.length === wanted.length &&
    wish.items.every((item, i) => same(item, wanted[i]))

  function wish(scale: number): void {
    if (isDrawn(asked, scale)) return
    asked = { number: ++wishes, items: wanted, scale }
    const parts = wanted.map(
      ({ columns, look, looks, paper, clip, density, cells, bars }): Part => ({
        columns: { u: numberOf(columns.u), v: numberOf(columns.v), look: numberOf(look) },
        laying: { across: columns.across, up: columns.up },
        how: {
          looks,
          paper,
          clip,
          density,
          cells: cells && { ...cells, counts: numberOf(cells.counts) },
          bars: (bars ?? []).map(({ side, cap, width, columns: { low, high } }) => ({
            side,
            cap,
            width,
            low: numberOf(low),
            high: numberOf(high),
          })),
        },
      }),
    )
    const used = new Set(
      parts.flatMap(({ columns: { u, v, look }, how }) => [
        ...[u, v, look, how.cells?.counts],
        ...how.bars.flatMap(({ low, high }) => [low, high]),
      ]),
    ).size
    for (const [values, id] of held) {
      if (held.size <= Math.max(MOST_HELD, used)) break
      held.delete(values)
      send({ kind: 'forget', id })
    }
    send({ kind: 'draw', wish: wishes, parts, scale })
  }

  const standsIn = (item: Large, place: number): boolean =>
    last?.items.length === wanted.length && last.items[place].columns.of === item.columns.of

  return {
    isLarge: (item) => wanted.includes(item as Large),

    ask(scene, scale) {
      wanted = isBroken ? [] : largeOf(scene)
      if (!wanted.length || isDrawn(last, scale)) return 'true'
      try {
        wish(scale)
      } catch {
        isBroken = true
        wanted = []
        return 'true'
      }
      return wanted.every(standsIn) ? 'stand-in' : 'none'
    },

    paint(item, context, scale) {
      const place = wanted.indexOf(item as Large)
      if (place < 0) paintMarks(item, context, scale)
      else if (last?.scale === scale && same(last.items[place], wanted[place]))
        context.drawImage(last.images[place], ...cornerOf(item, scale))
      else if (last && standsIn(wanted[place], place))
        paintMoved(last.items[place], last.images[place], last.scale, wanted[place], context, scale)
    },

    index(item, radius, onTop) {
      if (!grid || !hasColumns(item) || !same(grid.item, item)) return null
      return indexOn(grid.grid, item.x, item.y, radius, widestOf(item), onTop)
    },

    close: () => worker?.terminate(),
  }
}

/** Paints a picture where its marks would stand in another view. */
function paintMoved(
  was: Large,
  image: OffscreenCanvas,
  before: number,
  item: Large,
  context: Context,
  scale: number,
): void {
  const [left, top] = cornerOf(was, before)
  const side = (from: AffineMap, to: AffineMap, pixel: number): number =>
    (to.start + (from.from + (pixel / before - from.start) / from.factor - to.from) * to.factor) *
    scale
  const { across, up } = was.columns
  const x0 = side(across, item.columns.across, left)
  const x1 = side(across, item.columns.across, left + image.width)
  const y0 = side(up, item.columns.up, top)
  const y1 = side(up, item.columns.up, top + image.height)
  context.save()
  const { clip } = item
  clipTo(context, {
    x: clip.x * scale,
    y: clip.y * scale,
    width: clip.width * scale,
    height: clip.height * scale,
  })
  context.drawImage(image, x0, y0, x1 - x0, y1 - y0)
  context.restore()
}
