/**
 * Marks that are drawn beside the page, by a worker, where they are so many that the page would
 * stand still. Until a picture is there, the last one stands in for it, moved as the view was.
 */
import { keepGap } from '@/drawing/geometry/jitter'
import { indexOn, type Grid, type MarkIndex } from '@/drawing/geometry/pick'
import type { Laying } from '@/drawing/geometry/scale'
import { keepLaid } from '@/drawing/marks/places'
import type { Item, MarkColumns, MarksItem, Scene } from '@/drawing/scene'
import { clipTo, cornerOf, imageOf, paintMarks, type Context, type MarksPainter } from './canvas'
import type { Pixels } from './rasterise'

/** So many are drawn as soon as they would be sent. */
const FEW = 20_000
/** Columns that the worker holds. */
const MOST_HELD = 7

export type Column = Float64Array | Uint16Array

/** What is asked of the worker. Columns are sent once, and are known by their number. */
export type Asked =
  | { kind: 'column'; id: number; values: Column }
  | { kind: 'forget'; id: number }
  | {
      kind: 'draw'
      wish: number
      columns: { u: number; v: number; look: number }
      laying: { across: Laying; up: Laying }
      how: Pick<MarksItem, 'looks' | 'paper' | 'clip' | 'density'>
      scale: number
    }

export type Told =
  | { kind: 'picture'; wish: number; pixels: Pixels; x: Float32Array; y: Float32Array }
  | { kind: 'grid'; wish: number; grid: Grid }
  /** The smallest gaps of both columns, for jitter. */
  | { kind: 'gaps'; wish: number; u: number; v: number }

type Large = MarksItem & { columns: MarkColumns }

interface Picture {
  item: Large
  scale: number
  image: OffscreenCanvas
}

/** `true`: what is wanted; `stand-in`: the last picture, moved; `none`: there is none of these marks. */
export type Standing = 'true' | 'stand-in' | 'none'

export interface Beside {
  /** Asks for what is not there, and says what a painting of the scene would show. */
  ask: (scene: Scene, scale: number) => Standing
  paint: MarksPainter
  /** The index of marks that are drawn beside; null for those that are not, or until it is there. */
  index: (item: MarksItem, radius: (drawn: number) => number) => MarkIndex | null
  isLarge: (item: MarksItem) => boolean
  close: () => void
}

const isLarge = (item: Item): item is Large =>
  item.kind === 'marks' && item.columns !== undefined && item.look.length > FEW

const laidAlike = (a: Laying, b: Laying): boolean =>
  a.from === b.from && a.factor === b.factor && a.start === b.start

const same = (a: Large, b: Large): boolean =>
  a.columns.u === b.columns.u &&
  a.columns.v === b.columns.v &&
  a.look === b.look &&
  a.density === b.density &&
  laidAlike(a.columns.across, b.columns.across) &&
  laidAlike(a.columns.up, b.columns.up) &&
  JSON.stringify([a.clip, a.paper]) === JSON.stringify([b.clip, b.paper]) &&
  (a.looks === b.looks || JSON.stringify(a.looks) === JSON.stringify(b.looks))

/**
 * @param start makes the worker, when first there are so many marks; null where none can be had
 * @param came is called when a picture is there
 */
export function marksBeside(start: (() => Worker) | null, came: () => void): Beside {
  let worker: Worker | null = null
  let isBroken = start === null
  let last: Picture | null = null
  let asked: (Omit<Picture, 'image'> & { wish: number }) | null = null
  let grid: { item: Large; grid: Grid } | null = null
  let wishes = 0
  const held = new Map<Column, number>()
  let ids = 0

  function connected(): Worker {
    if (worker) return worker
    worker = start!()
    worker.onmessage = ({ data }: MessageEvent<Told>) => {
      if (!asked || data.wish !== asked.wish) return
      const { item, scale } = asked
      if (data.kind === 'grid') {
        grid = { item, grid: data.grid }
        return
      }
      if (data.kind === 'gaps') {
        keepGap(item.columns.u, data.u)
        keepGap(item.columns.v, data.v)
        return
      }
      keepLaid(item.columns.u, item.columns.across, data.x)
      keepLaid(item.columns.v, item.columns.up, data.y)
      last = { item, scale, image: imageOf(data.pixels) }
      came()
    }
    // Without it everything is drawn here: slower, and the same.
    worker.onerror = () => {
      isBroken = true
      came()
    }
    return worker
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
    connected().postMessage({ kind: 'column', id, values } satisfies Asked)
    if (held.size > MOST_HELD) {
      const [oldest, itsId] = held.entries().next().value!
      held.delete(oldest)
      connected().postMessage({ kind: 'forget', id: itsId } satisfies Asked)
    }
    return id
  }

  function wish(item: Large, scale: number): void {
    if (asked?.scale === scale && same(asked.item, item)) return
    const { u, v, across, up } = item.columns
    asked = { wish: ++wishes, item, scale }
    connected().postMessage({
      kind: 'draw',
      wish: wishes,
      columns: { u: numberOf(u), v: numberOf(v), look: numberOf(item.look) },
      laying: { across, up },
      how: { looks: item.looks, paper: item.paper, clip: item.clip, density: item.density },
      scale,
    } satisfies Asked)
  }

  const isTrue = (item: Large, scale: number): boolean =>
    last !== null && last.scale === scale && same(last.item, item)

  const standsIn = (item: Large): boolean => last?.item.columns.of === item.columns.of

  return {
    isLarge: (item) => !isBroken && isLarge(item),

    ask(scene, scale) {
      const large = isBroken ? undefined : scene.items.find(isLarge)
      if (!large || isTrue(large, scale)) return 'true'
      try {
        wish(large, scale)
      } catch {
        isBroken = true
        return 'true'
      }
      return standsIn(large) ? 'stand-in' : 'none'
    },

    paint(item, context, scale) {
      if (isBroken || !isLarge(item)) paintMarks(item, context, scale)
      else if (isTrue(item, scale)) {
        const [left, top] = cornerOf(item, scale)
        context.drawImage(last!.image, left, top)
      } else if (standsIn(item)) paintMoved(last!, item, context, scale)
    },

    index(item, radius) {
      if (!grid || !isLarge(item) || !same(grid.item, item)) return null
      const widest = item.looks.reduce((most, { size }) => Math.max(most, size / 2), 0)
      return indexOn(grid.grid, item.x, item.y, radius, widest)
    },

    close: () => worker?.terminate(),
  }
}

/** Paints a picture where its marks would stand in another view. */
function paintMoved(picture: Picture, item: Large, context: Context, scale: number): void {
  const { item: was, scale: before, image } = picture
  const [left, top] = cornerOf(was, before)
  const side = (from: Laying, to: Laying, pixel: number): number =>
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
