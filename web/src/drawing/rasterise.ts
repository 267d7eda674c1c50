/** Draws marks into a pixel buffer by our own code: back to front, by blending stamps. */
import type { MarksItem } from './scene'
import { stampsOf, type Stamp, type Stamps } from './stamps'

export interface Pixels {
  width: number
  height: number
  /** Straight (not premultiplied) colour, red in the lowest byte. */
  data: Uint32Array
}

interface Placed {
  stamp: Stamp
  /** Where each of its pixels lies in the buffer, from the mark's own. */
  offsets: Int32Array
}

/**
 * Draws the marks of an item.
 *
 * @param width pixels across
 * @param height pixels down
 * @param scale pixels per point
 * @param originX place on the page of the buffer's left edge, in points
 * @param originY place on the page of its upper edge
 */
export function rasterise(
  item: MarksItem,
  width: number,
  height: number,
  scale: number,
  originX = 0,
  originY = 0,
): Pixels {
  const data = new Uint32Array(width * height)
  const stamps = item.looks.map((look) => stampsOf(look, item.paper, scale))
  const placed = stamps.map(() => [] as (Placed | undefined)[])
  const { x, y, look } = item
  for (let i = 0; i < x.length; i++) {
    const px = (x[i] - originX) * scale
    const py = (y[i] - originY) * scale
    const column = Math.floor(px)
    const row = Math.floor(py)
    const kind = look[i]
    const set = stamps[kind]
    const phaseX = ((px - column) * set.phases) | 0
    const phaseY = ((py - row) * set.phases) | 0
    const phase = phaseY * set.phases + phaseX
    const { stamp, offsets } = (placed[kind][phase] ??= place(set, phaseX, phaseY, width))
    const reach = stamp.reach
    if (column >= reach && row >= reach && column + reach < width && row + reach < height) {
      blend(data, row * width + column, stamp, offsets)
    } else if (column > -reach && row > -reach && column < width + reach && row < height + reach) {
      blendClipped(data, column, row, width, height, stamp)
    }
  }
  straighten(data)
  return { width, height, data }
}

function place(set: Stamps, phaseX: number, phaseY: number, width: number): Placed {
  const stamp = set.at(phaseX, phaseY)
  const offsets = Int32Array.from(stamp.dx, (dx, i) => stamp.dy[i] * width + dx)
  return { stamp, offsets }
}

function blend(data: Uint32Array, base: number, stamp: Stamp, offsets: Int32Array): void {
  const { colour, keep } = stamp
  for (let i = 0; i < offsets.length; i++) {
    const p = base + offsets[i]
    const below = data[p]
    data[p] = below === 0 ? colour[i] : over(below, colour[i], keep[i])
  }
}

function blendClipped(
  data: Uint32Array,
  column: number,
  row: number,
  width: number,
  height: number,
  stamp: Stamp,
): void {
  for (let i = 0; i < stamp.dx.length; i++) {
    const px = column + stamp.dx[i]
    const py = row + stamp.dy[i]
    if (px < 0 || py < 0 || px >= width || py >= height) continue
    const p = py * width + px
    data[p] = over(data[p], stamp.colour[i], stamp.keep[i])
  }
}

/** Source over destination on two channels at a time, premultiplied, rounded. */
function over(below: number, colour: number, keep: number): number {
  const even = ((Math.imul(below & 0xff00ff, keep) + 0x800080) >>> 8) & 0xff00ff
  const odd = (Math.imul((below >>> 8) & 0xff00ff, keep) + 0x800080) & 0xff00ff00
  return ((even | odd) + colour) >>> 0
}

/** From premultiplied to straight colour, as canvases and PNG want it. */
function straighten(data: Uint32Array): void {
  for (let p = 0; p < data.length; p++) {
    const v = data[p]
    const alpha = v >>> 24
    if (alpha === 0 || alpha === 255) continue
    const factor = 255 / alpha
    const red = Math.min(255, (v & 255) * factor + 0.5)
    const green = Math.min(255, ((v >>> 8) & 255) * factor + 0.5)
    const blue = Math.min(255, ((v >>> 16) & 255) * factor + 0.5)
    data[p] = ((alpha << 24) | (blue << 16) | (green << 8) | red) >>> 0
  }
}
