/** Scales between values and places on the page: linear, logarithmic, or by the square root. */

export type Extent = readonly [low: number, high: number]

/** How values are bent before they are laid out in even steps. */
export interface Transform {
  forward: (value: number) => number
  back: (warped: number) => number
  /** Values below have no place. */
  least: number
}

export type ScaleName = 'linear' | 'log' | 'sqrt'

const LINEAR: Transform = { forward: (value) => value, back: (value) => value, least: -Infinity }
/** The natural logarithm does for every base: they differ in their ticks only. */
const LOG: Transform = { forward: Math.log, back: Math.exp, least: Number.MIN_VALUE }
const SQRT: Transform = { forward: Math.sqrt, back: (value) => value * value, least: 0 }

const TRANSFORMS: Record<ScaleName, Transform> = { linear: LINEAR, log: LOG, sqrt: SQRT }

export const transformOf = (name: ScaleName): Transform => TRANSFORMS[name]

/** How warped values are put on the page: at `start + (warped − from) · factor`. */
export interface AffineMap {
  from: number
  factor: number
  start: number
}

export interface Scale extends AffineMap {
  domain: Extent
  range: Extent
  warp: Transform
  /** NaN where a value has no place. */
  toPage: (value: number) => number
  fromPage: (place: number) => number
}

export function makeScale(warp: Transform, domain: Extent, range: Extent): Scale {
  const [from, to] = domain.map(warp.forward)
  const factor = (range[1] - range[0]) / (to - from)
  const { forward, back, least } = warp
  return {
    domain,
    range,
    warp,
    from,
    factor,
    start: range[0],
    toPage:
      warp === LINEAR
        ? (value) => range[0] + (value - from) * factor
        : (value) => (value < least ? NaN : range[0] + (forward(value) - from) * factor),
    fromPage: (place) => back(from + (place - range[0]) / factor),
  }
}

export const linearScale = (domain: Extent, range: Extent): Scale =>
  makeScale(LINEAR, domain, range)

const MARGIN = 0.03

/**
 * Ends that hug the data with a small margin, and do not pass zero where no value does. Data
 * without spread get some room on both sides.
 */
export function paddedDomain(low: number, high: number, warp: Transform = LINEAR): Extent {
  if (warp !== LINEAR) return huggingWarped(low, high, warp)
  if (low === high) {
    const room = Math.abs(low) * 0.1 || 1
    return [low - room, high + room]
  }
  const room = (high - low) * MARGIN
  const from = low >= 0 ? Math.max(0, low - room) : low - room
  const to = high <= 0 ? Math.min(0, high + room) : high + room
  return [from, to]
}

function huggingWarped(low: number, high: number, warp: Transform): Extent {
  const [from, to] = [warp.forward(low), warp.forward(high)]
  const room = (to - from) * MARGIN || 0.5
  // The square root has no place for what lies below zero.
  const start = warp === SQRT ? Math.max(0, from - room) : from - room
  return [warp.back(start), warp.back(to + room)]
}

/** The ends widened or narrowed about a value, which stays where it is. */
export function zoomed(
  [low, high]: Extent,
  about: number,
  factor: number,
  warp: Transform = LINEAR,
): Extent {
  const middle = warp.forward(about)
  const end = (value: number): number => middle + (warp.forward(value) - middle) * factor
  const lowest = warp === SQRT ? 0 : -Infinity
  return [warp.back(Math.max(lowest, end(low))), warp.back(end(high))]
}

/** The ends moved by a share of what lies between them. */
export function moved([low, high]: Extent, share: number, warp: Transform = LINEAR): Extent {
  const [from, to] = [warp.forward(low), warp.forward(high)]
  const by = (to - from) * share
  if (warp === SQRT && from + by < 0) return [0, warp.back(to - from)]
  return [warp.back(from + by), warp.back(to + by)]
}

/** Whether so narrow an extent can still be told apart in floating point. */
export const isUsable = ([low, high]: Extent): boolean =>
  Number.isFinite(low) &&
  Number.isFinite(high) &&
  high - low > 1e-12 * Math.max(Math.abs(low), Math.abs(high), 1e-290)
