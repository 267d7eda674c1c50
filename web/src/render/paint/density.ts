/** Very many marks as shading: how many share each place, told by colour. */
import { RAMP_STEPS, stepsOf, dew } from '@/render/colours'
import { atOnce, type Drawable, type Pass, type Pixels } from './rasterise'
import type { Cells, Colour } from '@/render/scene'

/** Each mark is spread over the pixels next to it, so that thin regions show as well. */
const LEAST_ALPHA = 96

/**
 * Shades the marks of an item: each pixel by the count of marks on it, on a scale of logarithms.
 *
 * Marks of one colour, or coloured by amount, are shaded from pale to deep; those of several
 * categories in the colour that most of the marks on a pixel have. Parameters as for `rasterise`.
 */
export const shade = atOnce(shading)

/** Shades marks in stretches. Parameters as for `shade`. */
export function shading(
  item: Drawable,
  width: number,
  height: number,
  scale: number,
  originX: number,
  originY: number,
): Pass {
  const { x, y, look, looks, cells } = item
  if (cells) return shadingCells(item, cells, width, height, scale, originX, originY)
  const several = new Set(looks.map(({ colour }) => colour.join())).size > 1
  // Each pixel's count and its last mark's look side by side in one number, because it is the
  // reaching for pixels here and there that takes the time.
  const held = new Int32Array(width * height)
  const plain = several && looks.length <= LOOK_MASK
  const add = (from: number, to: number): void => {
    for (let i = from; i < to; i++) {
      const column = ((x[i] - originX) * scale) | 0
      const row = ((y[i] - originY) * scale) | 0
      if (column < 0 || row < 0 || column >= width || row >= height) continue
      const p = row * width + column
      const before = held[p]
      if (before < FULL) held[p] = ((before & ~LOOK_MASK) + ONE) | (plain ? look[i] : 0)
    }
  }
  const pixels = (): Pixels => {
    let most = 1
    for (const value of held) if (value >> LOOK_BITS > most) most = value >> LOOK_BITS
    // Worked out once for each count and colour, not once for each pixel.
    const levels = levelTable(most)
    const data = new Uint32Array(width * height)
    if (several) {
      const alphas = Uint32Array.from(
        levels,
        (level) => (LEAST_ALPHA + Math.round((255 - LEAST_ALPHA) * level)) << 24,
      )
      const colours = Uint32Array.from(looks, ({ colour }) => packed(colour, 0))
      for (let p = 0; p < held.length; p++)
        if (held[p]) data[p] = alphas[held[p] >> LOOK_BITS] | colours[held[p] & LOOK_MASK]
    } else {
      const ramp = stepsOf(dew)
      const shades = Uint32Array.from(levels, (level) =>
        packed(ramp[Math.round(level * (RAMP_STEPS - 1))], 255),
      )
      for (let p = 0; p < held.length; p++) if (held[p]) data[p] = shades[held[p] >> LOOK_BITS]
    }
    return { width, height, data }
  }
  return { add, pixels }
}

/** So much of a pixel a cell has to cover to show there; one's own middle shows in any case. */
const LEAST_COVERED = 0.25

/**
 * Shades cells: a pixel by the counts of the cells on it, each as far as it covers the pixel.
 *
 * Where cells of several categories lie on one another, the colour is that of the most rows.
 */
function shadingCells(
  { x, y, look, looks }: Drawable,
  { counts, width: cellWidth, height: cellHeight }: Cells,
  width: number,
  height: number,
  scale: number,
  originX: number,
  originY: number,
): Pass {
  const several = new Set(looks.map(({ colour }) => colour.join())).size > 1
  const [halfX, halfY] = [(cellWidth * scale) / 2, (cellHeight * scale) / 2]
  const least = LEAST_COVERED * Math.min(1, 4 * halfX * halfY)
  const sums = new Float64Array(width * height)
  const shows = new Uint8Array(width * height)
  const most = new Float64Array(several ? width * height : 0)
  const looked = new Uint16Array(several ? width * height : 0)
  const add = (from: number, to: number): void => {
    for (let i = from; i < to; i++) {
      const px = (x[i] - originX) * scale
      const py = (y[i] - originY) * scale
      const [left, right] = [px - halfX, px + halfX]
      const [top, bottom] = [py - halfY, py + halfY]
      const [ownColumn, ownRow] = [Math.floor(px), Math.floor(py)]
      const lastRow = Math.min(height - 1, Math.floor(bottom))
      const lastColumn = Math.min(width - 1, Math.floor(right))
      for (let row = Math.max(0, Math.floor(top)); row <= lastRow; row++) {
        const high = Math.min(bottom, row + 1) - Math.max(top, row)
        for (let column = Math.max(0, Math.floor(left)); column <= lastColumn; column++) {
          const covered = high * (Math.min(right, column + 1) - Math.max(left, column))
          const p = row * width + column
          const count = counts[i] * covered
          sums[p] += count
          if (covered >= least || (row === ownRow && column === ownColumn)) shows[p] = 1
          if (several && count > most[p]) {
            most[p] = count
            looked[p] = look[i]
          }
        }
      }
    }
  }
  const pixels = (): Pixels => {
    const data = new Uint32Array(width * height)
    let top = 0
    for (const sum of sums) if (sum > top) top = sum
    const whole = Math.log1p(top)
    const ramp = stepsOf(dew)
    const shades = Uint32Array.from(ramp, (colour) => packed(colour, 255))
    const colours = Uint32Array.from(looks, ({ colour }) => packed(colour, 0))
    for (let p = 0; p < sums.length; p++) {
      if (!shows[p]) continue
      const level = Math.log1p(sums[p]) / whole
      data[p] = several
        ? ((LEAST_ALPHA + Math.round((255 - LEAST_ALPHA) * level)) << 24) | colours[looked[p]]
        : shades[Math.round(level * (RAMP_STEPS - 1))]
    }
    return { width, height, data }
  }
  return { add, pixels }
}

/** The bits of a pixel's number that hold a look; those above hold the count. */
const LOOK_BITS = 12
const LOOK_MASK = (1 << LOOK_BITS) - 1
const ONE = 1 << LOOK_BITS
/** A pixel on which more marks lie than can be counted; it is as deep as can be long before. */
const FULL = 0x7fffffff & ~LOOK_MASK

function levelTable(most: number): Float32Array {
  const top = Math.log1p(most)
  return Float32Array.from({ length: most + 1 }, (_, count) => Math.log1p(count) / top)
}

const packed = ([red, green, blue]: Colour, alpha: number): number =>
  ((alpha << 24) | (blue << 16) | (green << 8) | red) >>> 0
