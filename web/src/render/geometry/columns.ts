/** Columns made by loops: `from` with a function takes thirty times as long. */

/** What a function makes of each value. */
export function mapped(values: ArrayLike<number>, make: (value: number) => number): Float32Array {
  const made = new Float32Array(values.length)
  for (let i = 0; i < made.length; i++) made[i] = make(values[i])
  return made
}

/** 0, 1, 2, … */
export function inTurn(count: number): Uint32Array {
  const made = new Uint32Array(count)
  for (let i = 0; i < count; i++) made[i] = i
  return made
}

/**
 * Places in the order of small whole numbers, found by counting; equal ones as they come.
 *
 * @param ranks of each place, from 0
 * @param count of ranks
 */
export function inOrder(ranks: ArrayLike<number>, count: number): Uint32Array {
  const next = new Uint32Array(count + 1)
  for (let i = 0, n = ranks.length; i < n; i++) next[ranks[i] + 1]++
  for (let rank = 0; rank < count; rank++) next[rank + 1] += next[rank]
  const order = new Uint32Array(ranks.length)
  for (let i = 0; i < ranks.length; i++) order[next[ranks[i]]++] = i
  return order
}
