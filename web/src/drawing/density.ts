/** Very many marks as shading: how many share each place, told by colour. */
import { RAMP_STEPS, stepsOf, dew } from './colours'
import type { Pixels } from './rasterise'
import type { Colour, MarksItem } from './scene'

/** Above so many marks in view single ones can no longer be told apart. */
export const MANY = 50_000
/** Each mark is spread over the pixels next to it, so that thin regions show as well. */
const LEAST_ALPHA = 96

/**
 * Shades the marks of an item: each pixel by the count of marks on it, on a scale of logarithms.
 *
 * Marks of one colour, or coloured by amount, are shaded from pale to deep; those of several
 * categories in the colour that most of the marks on a pixel have. Parameters as for `rasterise`.
 */
export function shade(
  item: MarksItem,
  width: number,
  height: number,
  scale: number,
  originX = 0,
  originY = 0,
): Pixels {
  const { x, y, look, looks } = item
  const counts = new Uint32Array(width * height)
  const last = new Uint16Array(width * height)
  for (let i = 0; i < x.length; i++) {
    const column = ((x[i] - originX) * scale) | 0
    const row = ((y[i] - originY) * scale) | 0
    if (column < 0 || row < 0 || column >= width || row >= height) continue
    const p = row * width + column
    counts[p]++
    last[p] = look[i]
  }
  let most = 1
  for (const count of counts) if (count > most) most = count
  const several = new Set(looks.map(({ colour }) => colour.join())).size > 1
  const data = new Uint32Array(width * height)
  // One logarithm for each count up to the largest, not one for each pixel.
  const levels = levelTable(most)
  const ramp = stepsOf(dew).map((colour) => packed(colour, 255))
  for (let p = 0; p < counts.length; p++) {
    const count = counts[p]
    if (!count) continue
    const level = levels[Math.min(count, levels.length - 1)]
    data[p] = several
      ? packed(looks[last[p]].colour, LEAST_ALPHA + Math.round((255 - LEAST_ALPHA) * level))
      : ramp[Math.round(level * (RAMP_STEPS - 1))]
  }
  return { width, height, data }
}

const MOST_LEVELS = 1 << 16

function levelTable(most: number): Float32Array {
  const top = Math.log1p(most)
  return Float32Array.from({ length: Math.min(most, MOST_LEVELS) + 1 }, (_, count) =>
    Math.min(1, Math.log1p(count) / top),
  )
}

const packed = ([red, green, blue]: Colour, alpha: number): number =>
  ((alpha << 24) | (blue << 16) | (green << 8) | red) >>> 0
