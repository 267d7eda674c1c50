/** Linear scales between values and places on the page. */

export type Extent = readonly [low: number, high: number]

export interface Scale {
  domain: Extent
  range: Extent
  toPage: (value: number) => number
  fromPage: (place: number) => number
}

export function linearScale(domain: Extent, range: Extent): Scale {
  const factor = (range[1] - range[0]) / (domain[1] - domain[0])
  return {
    domain,
    range,
    toPage: (value) => range[0] + (value - domain[0]) * factor,
    fromPage: (place) => domain[0] + (place - range[0]) / factor,
  }
}

const MARGIN = 0.03

/**
 * Ends that hug the data with a small margin, and do not pass zero where no value does. Data
 * without spread get some room on both sides.
 */
export function hugging(low: number, high: number): Extent {
  if (low === high) {
    const room = Math.abs(low) * 0.1 || 1
    return [low - room, high + room]
  }
  const room = (high - low) * MARGIN
  const from = low >= 0 ? Math.max(0, low - room) : low - room
  const to = high <= 0 ? Math.min(0, high + room) : high + room
  return [from, to]
}

/** The ends widened or narrowed about a value, which stays where it is. */
export const zoomed = ([low, high]: Extent, about: number, factor: number): Extent => [
  about + (low - about) * factor,
  about + (high - about) * factor,
]

export const moved = ([low, high]: Extent, by: number): Extent => [low + by, high + by]

/** Whether so narrow an extent can still be told apart in floating point. */
export const isUsable = ([low, high]: Extent): boolean =>
  Number.isFinite(low) &&
  Number.isFinite(high) &&
  high - low > 1e-12 * Math.max(Math.abs(low), Math.abs(high), 1e-290)
