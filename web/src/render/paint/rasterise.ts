/** Draws marks into a pixel buffer by our own code: back to front, by blending stamps. */
import type { MarksItem } from '@/render/scene'
import { stampsOf, type Stamp } from './stamps'

/** What of marks is drawn. */
export type Drawable = Pick<MarksItem, 'x' | 'y' | 'look' | 'looks' | 'paper' | 'cells' | 'bars'>

export interface Pixels {
  width: number
  height: number
  /** Straight (not premultiplied) colour, red in the lowest byte. */
  data: Uint32Array
}

/** Drawing that can be done in stretches, from the mark that lies lowest to the one on top. */
export interface Pass {
  add: (from: number, to: number) => void
  /** What is drawn besides the marks, piece by piece; where it is left out it is missing. */
  besides?: readonly (() => void)[]
  pixels: () => Pixels
}

export type Begin = (
  item: Drawable,
  width: number,
  height: number,
  scale: number,
  originX: number,
  originY: number,
) => Pass

/** Draws all marks in one stretch. */
export const atOnce =
  (begin: Begin) =>
  (
    item: Drawable,
    width: number,
    height: number,
    scale: number,
    originX = 0,
    originY = 0,
  ): Pixels => {
    const pass = begin(item, width, height, scale, originX, originY)
    pass.add(0, item.look.length)
    for (const draw of pass.besides ?? []) draw()
    return pass.pixels()
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
export const rasterise = atOnce(rasterising)

/** Draws marks in stretches. Parameters as for `rasterise`. */
export function rasterising(
  item: Drawable,
  width: number,
  height: number,
  scale: number,
  originX: number,
  originY: number,
): Pass {
  // Signed, because the engine keeps signed integers in registers and makes unsigned ones floats.
  const data = new Int32Array(width * height)
  const sets = item.looks.map((look) => stampsOf(look, item.paper, scale))
  const made = sets.map(() => [] as (Stamp | undefined)[])
  const { x, y, look } = item
  const add = (from: number, to: number): void => {
    for (let i = from; i < to; i++) {
      const px = (x[i] - originX) * scale
      const py = (y[i] - originY) * scale
      const column = Math.floor(px)
      const row = Math.floor(py)
      const kind = look[i]
      const { phases, at } = sets[kind]
      const phaseX = ((px - column) * phases) | 0
      const phaseY = ((py - row) * phases) | 0
      const stamp = (made[kind][phaseY * phases + phaseX] ??= at(phaseX, phaseY))
      const reach = stamp.reach
      if (column >= reach && row >= reach && column + reach < width && row + reach < height) {
        blend(data, row * width + column, width, stamp)
      } else if (
        column > -reach &&
        row > -reach &&
        column < width + reach &&
        row < height + reach
      ) {
        blendClipped(data, column, row, width, height, stamp)
      }
    }
  }
  return { add, pixels: () => ({ width, height, data: straightened(data) }) }
}

function blend(data: Int32Array, base: number, width: number, stamp: Stamp): void {
  const { runs, colour, keep } = stamp
  let i = 0
  for (let r = 0; r < runs.length; r += 3) {
    let p = base + runs[r] + runs[r + 1] * width
    for (const end = p + runs[r + 2]; p < end; p++, i++) {
      // Source over destination, two channels at a time, premultiplied, rounded.
      const below = data[p]
      const kept = keep[i]
      const even = ((Math.imul(below & 0xff00ff, kept) + 0x800080) >>> 8) & 0xff00ff
      const odd = (Math.imul((below >>> 8) & 0xff00ff, kept) + 0x800080) & 0xff00ff00
      data[p] = (even | odd) + colour[i]
    }
  }
}

function blendClipped(
  data: Int32Array,
  column: number,
  row: number,
  width: number,
  height: number,
  stamp: Stamp,
): void {
  const { runs, colour, keep } = stamp
  let i = 0
  for (let r = 0; r < runs.length; r += 3) {
    const py = row + runs[r + 1]
    for (let k = 0; k < runs[r + 2]; k++, i++) {
      const px = column + runs[r] + k
      if (px < 0 || py < 0 || px >= width || py >= height) continue
      const p = py * width + px
      const below = data[p]
      const even = ((Math.imul(below & 0xff00ff, keep[i]) + 0x800080) >>> 8) & 0xff00ff
      const odd = (Math.imul((below >>> 8) & 0xff00ff, keep[i]) + 0x800080) & 0xff00ff00
      data[p] = (even | odd) + colour[i]
    }
  }
}

/** From premultiplied to straight colour, as canvases and PNG want it. */
function straightened(data: Int32Array): Uint32Array {
  for (let p = 0; p < data.length; p++) {
    const v = data[p]
    const alpha = v >>> 24
    if (alpha === 0 || alpha === 255) continue
    const factor = FACTORS[alpha]
    const red = Math.min(255, ((v & 255) * factor + HALF) >> FACTOR_BITS)
    const green = Math.min(255, (((v >>> 8) & 255) * factor + HALF) >> FACTOR_BITS)
    const blue = Math.min(255, (((v >>> 16) & 255) * factor + HALF) >> FACTOR_BITS)
    data[p] = (alpha << 24) | (blue << 16) | (green << 8) | red
  }
  return new Uint32Array(data.buffer)
}

/** 255 over each alpha, in fixed point. */
const FACTOR_BITS = 14
const HALF = 1 << (FACTOR_BITS - 1)
const FACTORS = Int32Array.from({ length: 256 }, (_, alpha) =>
  Math.round((255 / Math.max(1, alpha)) * (1 << FACTOR_BITS)),
)
