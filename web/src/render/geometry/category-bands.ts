/** Lanes beside one another: where each begins, and what stands where in it. */
import type { Extent } from './scale'

/** The part of a lane that something takes, in shares of its width from its foot. */
export type Zone = readonly [from: number, to: number]

export interface Zones {
  /** Of bars and densities, whose foot is the lane's. */
  shape: Zone | null
  /** Of boxes, points and middles. */
  strip: Zone | null
}

/**
 * What stands in a lane has its own part of it.
 *
 * @param strip boxes and points, which take room; or a middle alone, which takes little
 */
export function zonesOf(hasShape: boolean, strip: 'wide' | 'narrow' | 'none'): Zones {
  const hasStrip = strip !== 'none'
  if (hasShape && hasStrip)
    return strip === 'wide'
      ? { shape: [0.36, 0.97], strip: [0.03, 0.31] }
      : { shape: [0.2, 0.97], strip: [0.03, 0.15] }
  return { shape: hasShape ? [0.04, 0.96] : null, strip: hasStrip ? [0.14, 0.86] : null }
}

/** Boxes leave so much of their strip, at its foot, to a middle with its interval. */
const OF_A_MIDDLE = 0.2

/** A strip as a box and a middle beside it share it. */
export function besideBox([from, to]: Zone): { box: Zone; middle: Zone } {
  const edge = from + OF_A_MIDDLE * (to - from)
  return { box: [edge, to], middle: [from, edge] }
}

/** Places across a lane: `at(share)` of the lane at a place of the row. */
export interface Lane {
  from: number
  to: number
  at: (share: number) => number
}

/**
 * Lanes of one width, side by side.
 *
 * @param ends of the row of them on the page; from its end to its start where the second is less
 */
export function lanesOf(count: number, [from, to]: Extent): Lane[] {
  const width = (to - from) / Math.max(1, count)
  return Array.from({ length: count }, (_, i) => {
    const start = from + i * width
    return { from: start, to: start + width, at: (share) => start + share * width }
  })
}

/**
 * Offsets by which marks of a lane are stacked where they would share a place: about the middle,
 * from −½ to ½, as near to it as there is room.
 *
 * @param places along the lane, in points
 * @param size of a mark, in points
 * @param room across the lane, in points
 */
export function stacked(places: ArrayLike<number>, size: number, room: number): Float64Array {
  const cells = new Map<number, number[]>()
  for (let i = 0; i < places.length; i++) {
    const cell = Math.round(places[i] / size)
    const held = cells.get(cell)
    if (held) held.push(i)
    else cells.set(cell, [i])
  }
  const out = new Float64Array(places.length)
  for (const held of cells.values()) {
    const step = Math.min(size / room, 1 / Math.max(1, held.length - 1))
    held.forEach((i, k) => (out[i] = (k - (held.length - 1) / 2) * step))
  }
  return out
}

/** A height of a curve between its places; 0 beyond them. */
export function heightAt(at: readonly number[], height: readonly number[], place: number): number {
  const last = at.length - 1
  if (last < 1 || place <= at[0] || place >= at[last]) return 0
  const share = ((place - at[0]) / (at[last] - at[0])) * last
  const below = Math.min(last - 1, Math.floor(share))
  return height[below] + (share - below) * (height[below + 1] - height[below])
}
