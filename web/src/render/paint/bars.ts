/**
 * Very many error bars, drawn with their marks and under them: whatever they cover is covered once,
 * in whole pixels, so that hundreds of thousands take no longer than their marks.
 */
import { BAR_OPACITY } from '@/render/marks/bars'
import type { Colour, MarkBars } from '@/render/scene'
import type { Begin, Drawable } from './rasterise'

/** The same drawing, over the bars of its marks. */
export const overBars =
  (begin: Begin): Begin =>
  (item, width, height, scale, originX, originY) => {
    const pass = begin(item, width, height, scale, originX, originY)
    if (!item.bars?.length) return pass
    const under = barsOf(item, item.bars, width, height, scale, originX, originY)
    return {
      add: pass.add,
      besides: under.besides,
      pixels: () => {
        layOver(under.data, pass.pixels().data)
        return { width, height, data: under.data }
      },
    }
  }

/** The bars' pixels, and what is left to do until they stand there: the bars of one colour at a time. */
function barsOf(
  { x, y, look, looks }: Drawable,
  bars: readonly MarkBars[],
  width: number,
  height: number,
  scale: number,
  originX: number,
  originY: number,
): { data: Uint32Array; besides: (() => void)[] } {
  const data = new Uint32Array(width * height)
  // Where lines begin is counted up, where they end down: along a column, and along a row.
  const upright = new Int32Array(width * (height + 1))
  const level = new Int32Array((width + 1) * height)
  const known = new Map<string, number>()
  const colours: Colour[] = []
  const colourOf = Int32Array.from(looks, ({ colour }) => {
    const place = known.get(colour.join()) ?? colours.push(colour) - 1
    known.set(colour.join(), place)
    return place
  })
  const down = (column: number, from: number, to: number): void => {
    const top = from > 0 ? from : 0
    const end = to < height ? to : height
    if (!(column >= 0 && column < width && end > top)) return
    upright[top * width + column]++
    upright[end * width + column]--
  }
  const along = (row: number, from: number, to: number): void => {
    const left = from > 0 ? from : 0
    const end = to < width ? to : width
    if (!(row >= 0 && row < height && end > left)) return
    level[row * (width + 1) + left]++
    level[row * (width + 1) + end]--
  }
  const besides = colours.map((colour, place) => () => {
    let isAny = false
    for (const { side, low, high, cap, width: thick } of bars) {
      const across = side === 'x' ? y : x
      const acrossOrigin = side === 'x' ? originY : originX
      const origin = side === 'x' ? originX : originY
      const line = side === 'x' ? along : down
      const cross = side === 'x' ? down : along
      const pens = Math.max(1, Math.round(thick * scale))
      const half = (cap / 2) * scale
      for (let i = 0, count = look.length; i < count; i++) {
        if (colourOf[look[i]] !== place) continue
        const one = (low[i] - origin) * scale
        const other = (high[i] - origin) * scale
        if (Number.isNaN(one) || Number.isNaN(other)) continue
        isAny = true
        const at = (across[i] - acrossOrigin) * scale
        const first = Math.round(at - pens / 2)
        const from = Math.round(one < other ? one : other)
        const to = Math.round(one < other ? other : one)
        for (let k = 0; k < pens; k++) line(first + k, from, to)
        if (half <= 0) continue
        const left = Math.round(at - half)
        const right = Math.round(at + half)
        for (let k = 0; k < pens; k++) {
          cross(from - (pens >> 1) + k, left, right)
          cross(to - (pens >> 1) + k, left, right)
        }
      }
    }
    if (isAny) ink(data, upright, level, width, height, colour)
  })
  return { data, besides }
}

/** Inks what is covered, and forgets it. */
function ink(
  data: Uint32Array,
  upright: Int32Array,
  level: Int32Array,
  width: number,
  height: number,
  [red, green, blue]: Colour,
): void {
  const own = new Uint32Array(1)
  own[0] = (Math.round(255 * BAR_OPACITY) << 24) | (blue << 16) | (green << 8) | red
  const counts = new Int32Array(width)
  // Many a pixel is as the last that was covered.
  let last = 0
  let made = own[0]
  for (let row = 0, p = 0, at = 0; row < height; row++, at++)
    for (let column = 0, count = 0; column < width; column++, p++, at++) {
      count += level[at]
      counts[column] += upright[p]
      if (!count && !counts[column]) continue
      if (data[p] !== last) {
        last = data[p]
        made = last ? blended(last, own[0]) : own[0]
      }
      data[p] = made
    }
  upright.fill(0)
  level.fill(0)
}

/** Lays pixels over others; both straight, red in the lowest byte. */
function layOver(under: Uint32Array, over: Uint32Array): void {
  for (let p = 0; p < under.length; p++) {
    const alpha = over[p] >>> 24
    if (alpha === 255 || !under[p]) under[p] = over[p] || under[p]
    else if (alpha) under[p] = blended(under[p], over[p])
  }
}

function blended(under: number, over: number): number {
  const a = (over >>> 24) / 255
  const b = ((under >>> 24) / 255) * (1 - a)
  const alpha = a + b
  let made = Math.round(255 * alpha) << 24
  for (const bits of [0, 8, 16]) {
    const value = (((over >>> bits) & 255) * a + ((under >>> bits) & 255) * b) / alpha
    made |= Math.round(value) << bits
  }
  return made >>> 0
}
