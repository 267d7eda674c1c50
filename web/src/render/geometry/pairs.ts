/** Pairs of values by the cells of a grid over all of them: sorted once, however they are laid. */
export interface Sorted {
  u: Span
  v: Span
  /** Where the pairs of each cell begin, and the end of the last. */
  start: Uint32Array
  pairs: Uint32Array
}

/** Where cells begin along a side, and how many there are for each one more. */
interface Span {
  from: number
  each: number
}

/** From the least to the largest value that is meant; either may be first. */
export type Between = readonly [number, number]

const SIDE = 128

export function sorted(u: Float64Array, v: Float64Array): Sorted {
  const [across, up] = [spanOf(u), spanOf(v)]
  const start = new Uint32Array(SIDE * SIDE + 1)
  const cell = (i: number): number =>
    Number.isFinite(u[i]) && Number.isFinite(v[i])
      ? placeIn(up, v[i]) * SIDE + placeIn(across, u[i])
      : -1
  for (let i = 0; i < u.length; i++) {
    const at = cell(i)
    if (at >= 0) start[at + 1]++
  }
  for (let at = 0; at < SIDE * SIDE; at++) start[at + 1] += start[at]
  const next = start.slice(0, -1)
  const pairs = new Uint32Array(start[SIDE * SIDE])
  for (let i = 0; i < u.length; i++) {
    const at = cell(i)
    if (at >= 0) pairs[next[at]++] = i
  }
  return { u: across, v: up, start, pairs }
}

/** The pairs that may lie in any of some boxes of values: all that do, and some beside them. */
export function around({ u, v, start, pairs }: Sorted, boxes: readonly [Between, Between][]) {
  const isMeant = new Uint8Array(SIDE * SIDE)
  for (const [across, up] of boxes) {
    const [left, right] = across.map((value) => placeIn(u, value)).sort((a, b) => a - b)
    const [bottom, top] = up.map((value) => placeIn(v, value)).sort((a, b) => a - b)
    for (let row = bottom; row <= top; row++)
      isMeant.fill(1, row * SIDE + left, row * SIDE + right + 1)
  }
  let count = 0
  for (let at = 0; at < isMeant.length; at++) if (isMeant[at]) count += start[at + 1] - start[at]
  const found = new Uint32Array(count)
  count = 0
  for (let at = 0; at < isMeant.length; at++) {
    if (!isMeant[at]) continue
    found.set(pairs.subarray(start[at], start[at + 1]), count)
    count += start[at + 1] - start[at]
  }
  return found
}

function spanOf(values: Float64Array): Span {
  let [least, most] = [Infinity, -Infinity]
  for (const value of values) {
    if (value < least && value > -Infinity) least = value
    if (value > most && value < Infinity) most = value
  }
  const each = SIDE / (most - least)
  return { from: least, each: Number.isFinite(each) ? each : 0 }
}

/** What lies beyond the first or the last cell is of that. */
const placeIn = ({ from, each }: Span, value: number): number =>
  Math.max(0, Math.min(SIDE - 1, Math.floor((value - from) * each) || 0))
